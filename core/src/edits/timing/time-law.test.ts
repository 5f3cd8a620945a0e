/**
 * Root: time is a list of pieces. For every edit of time and every stack, what shows at a new frame is what showed at the old frame of its piece, within 1e-6 and at fifths
 * of frames; what a filter reads beside a cut is excepted, and said.
 */
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../../base/random.ts';
import { factorOf, oldFrame, pieceAt } from '../../base/time-pieces.ts';
import type { TimePieces } from '../../base/time-pieces.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { SEGMENT } from '../../curve/curve.ts';
import { ACTION_VERSION, curvesToJson } from '../../document/action.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, filter, pass, puppet } from '../../testing/shot-literals.ts';
import { shotFromJson } from '../../interchange/shot-file/read-shot.ts';
import { shotToJson } from '../../document/parts/shot-json.ts';
import { runEdit } from '../run-edit.ts';

const stepped = (keys: readonly number[]) =>
  rebuild(curve(keys), null, (columns) => columns.segments.fill(SEGMENT.stepped));

/** A shot of 40 frames in which layers of all sorts lie over moving curves. */
function crowded(
  seed: number,
  kinds: readonly ('pass' | 'ramps' | 'weight' | 'step' | 'block' | 'twice')[],
): Shot {
  const { next: random } = seededRandom(seed);
  const value = () => Math.round((random() - 0.5) * 120);
  const keys = (...frames: number[]) => curve(frames.flatMap((frame) => [frame, value()]));
  const start = 3 + Math.floor(random() * 8);
  const end = start + 9 + Math.floor(random() * 14);
  const bare: Shot = {
    ...puppet({
      'hips.tx': keys(0, 7, 19, 31, 40),
      'hips.ry': keys(0, 12, 40),
      'arm_l.rz': keys(0, 5, 16, 28, 40),
      'hand_r.rx': keys(0, 11, 23, 40),
      // Curves that begin, end and hold within a range.
      'hand_l.rx': rebuild(curve([0, 0, 20, 80]), null, (columns) => columns.segments.fill(SEGMENT.linear)),
      'hand_l.ry': keys(14, 19, 25),
      'hand_l.tx': curve([30, 10, 50, 80]),
      'hand_l.tz': stepped([7, 3, 50, 20]),
    }),
    range: { start: 0, end: 40 },
  };
  const has = (kind: (typeof kinds)[number]) => kinds.includes(kind);
  let shot: Shot = {
    ...bare,
    layers: [
      ...(has('pass')
        ? [pass('p', { members: ['hips'], range: { start, end }, curves: [{ tx: keys(0, 10, 26, 40) }] })]
        : []),
      ...(has('ramps')
        ? [
            pass('r', {
              members: ['hips'],
              range: { start, end, rampIn: 3, rampOut: 4 },
              curves: [{ ry: keys(0, 13, 29) }],
            }),
          ]
        : []),
      ...(has('weight')
        ? [
            pass('w', {
              kind: 'replace',
              members: ['arm_l'],
              range: { start, end, rampIn: 2, rampOut: 0 },
              weight: curve([0, 0.2, 14, 1, 33, 0.5]),
              curves: [undefined, { rz: keys(2, 17, 36) }],
            }),
          ]
        : []),
      ...(has('step') ? [filter('step', ['hand_r'], { pattern: [2, 3], first: 1 })] : []),
    ],
    variants: [
      {
        id: 'v',
        name: 'V',
        states: has('weight')
          ? [{ layer: 'w', muted: false, solo: false, weight: curve([0, 1, 20, 0.1]) }]
          : [],
      },
    ],
  };
  const action = {
    ...{
      format: 'kneader-action',
      version: ACTION_VERSION,
      name: 'One',
      tags: [],
      notes: '',
      source: 'a test',
    },
    ...{ rate: { numerator: 24, denominator: 1 }, length: 12, roots: [] },
    curves: curvesToJson(
      new Map([
        ['arm_r.rz', keys(0, 5, 12)],
        ['hips.tz', stepped([0, 3, 4, 9, 9, -6, 12, 1])],
      ]),
    ),
  };
  if (has('block'))
    shot = runEdit('actions.place', shot, choose({}), { action, frame: start, rampIn: 0, rampOut: 0 }).shot;
  if (has('twice'))
    shot = runEdit('actions.place', shot, choose({}), {
      action,
      frame: 4,
      repeats: 2,
      adds: true,
      rampIn: 2,
      rampOut: 3,
    }).shot;
  return shot;
}

/** New frames at which the law is not asked: beside a cut that does not continue, and beyond the shot. */
function excepted(pieces: TimePieces, frame: number): boolean {
  return pieces.some((piece, i) => {
    const next = pieces[i + 1];
    if (!next) return false;
    const jumps = Math.abs(piece.old.to - next.old.from) > 1e-6;
    // The curve runs over in the frame beside it; layers are cut on it.
    return jumps && Math.abs(frame - piece.to) < 1.001;
  });
}

function farthest(before: Shot, after: Shot, pieces: TimePieces, whole = false) {
  const rig = rigOf(before);
  const [was, is] = [stackOf(before).top, stackOf(after).top];
  let worst = { off: 0, channel: '', frame: NaN, old: NaN };
  for (let i = 0; i <= (after.range.end - after.range.start) * 5; i += 1) {
    const frame = after.range.start + i / 5;
    if (whole && i % 5 !== 0) continue;
    if (excepted(pieces, frame)) continue;
    const old = oldFrame(pieces, frame);
    // Between frames of what runs backward a hold lies on the other side.
    if (factorOf(pieceAt(pieces, frame)) < 0 && i % 5 !== 0 && whole) continue;
    rig.channels.forEach(({ id }, c) => {
      const off = Math.abs(was[c]!.at(old) - is[c]!.at(frame));
      if (off > worst.off) worst = { off, channel: id, frame, old };
    });
  }
  return worst;
}

const EDITS: readonly (readonly [string, object, ReturnType<typeof choose>])[] = [
  ['timing.addHold', { frame: 13, frames: 6 }, choose({})],
  ['timing.removeTime', {}, choose({ range: { start: 9, end: 15 } })],
  ['timing.stretch', { factor: 1.5, wholeFrames: false }, choose({ range: { start: 8, end: 20 } })],
  ['timing.stretch', { factor: 0.5, wholeFrames: false }, choose({ range: { start: 10, end: 30 } })],
  ['timing.stretch', { factor: 2, wholeFrames: false }, choose({})],
  ['timing.reverse', {}, choose({})],
  ['timing.reverse', {}, choose({ range: { start: 10, end: 30 } })],
  ['timing.reverse', { append: true }, choose({ range: { start: 2, end: 18 } })],
  ['timing.reverse', { append: true }, choose({ range: { start: 6, end: 40 } })],
  ['timing.setShot', { rate: 48, wholeFrames: false }, choose({})],
];

type Kind = Parameters<typeof crowded>[1][number];
const STACKS: readonly (readonly Kind[])[] = [
  ['pass'],
  ['ramps'],
  ['weight'],
  ['block'],
  ['twice'],
  ['pass', 'ramps', 'weight', 'block', 'twice'],
] as const;

describe.each(EDITS)('%s %j', (edit, options, selection) => {
  test.each(STACKS.map((kinds) => [kinds.join(', '), kinds] as const))('over %s', (_, kinds) => {
    for (const seed of [1, 2, 3, 4]) {
      const before = crowded(seed, kinds);
      const made = runEdit(edit, before, selection, options);
      expect(made.report.status).toBe('changed');
      // A pass that stands twice is nothing in between: its weight holds for the frame beside an end.
      const whole = kinds.includes('block') || kinds.includes('twice') || 'append' in options;
      const found = farthest(before, made.shot, made.time!, whole);
      expect([seed, found]).toEqual([seed, { ...found, off: expect.closeTo(0, 5) }]);
      // What came out can be stored and opened again.
      expect(shotFromJson(JSON.parse(JSON.stringify(shotToJson(made.shot)))).layers).toHaveLength(
        made.shot.layers.length,
      );
    }
  });
});

describe('steps go through time: each drawing lasts as long, on whole frames', () => {
  test.each(
    EDITS.filter(([, options]) => !('factor' in options && (options as { factor: number }).factor % 1 !== 0)),
  )('%s %j', (edit, options, selection) => {
    for (const seed of [1, 2, 3]) {
      const before = crowded(seed, ['step']);
      const made = runEdit(edit, before, selection, options);
      const found = farthest(before, made.shot, made.time!, true);
      expect([seed, found]).toEqual([seed, { ...found, off: expect.closeTo(0, 5) }]);
    }
  });

  test('drawings that would not last whole frames are named', () => {
    const made = runEdit('timing.stretch', crowded(1, ['step']), choose({}), {
      factor: 1.3,
      wholeFrames: false,
    });
    expect(made.report.findings.map(({ code }) => code)).toContain('staysInTime');
  });
});

test('a range in an appended reverse stands twice, mirrored, and the half that was there is what it was', () => {
  const shot = {
    ...crowded(1, []),
    layers: [
      filter('smooth', ['hips'], { width: 2 }, { range: { start: 4, end: 10, rampIn: 1, rampOut: 2 } }),
    ],
  };
  const { shot: after } = runEdit('timing.reverse', shot, choose({ range: { start: 2, end: 20 } }), {
    append: true,
  });
  expect(after.layers.map(({ range }) => range)).toEqual([
    { start: 4, end: 10, rampIn: 1, rampOut: 2 },
    { start: 30, end: 36, rampIn: 2, rampOut: 1 },
  ]);
});

test('a hold at the end of a ramp does not make it longer; a filter that looks at other times is named', () => {
  const shot = {
    ...crowded(1, []),
    layers: [filter('spring', ['hips'], {}, { range: { start: 4, end: 30, rampIn: 6, rampOut: 0 } })],
  };
  const { shot: after, report } = runEdit('timing.addHold', shot, choose({}), { frame: 10, frames: 8 });
  expect(after.layers[0]!.range).toEqual({ start: 4, end: 38, rampIn: 6, rampOut: 0 });
  expect(report.findings.map(({ code }) => code)).toContain('looksAcross');
});

test('another rate: shifts, widths and drawings last as many seconds', () => {
  const shot = {
    ...crowded(1, []),
    layers: [
      filter('shift', ['hips'], { frames: 3, step: 1 }),
      filter('smooth', ['arm_l'], { width: 2 }),
      filter('step', ['hand_r'], { pattern: [2], first: 0 }),
    ],
  };
  const { shot: after } = runEdit('timing.setShot', shot, choose({}), { rate: 48 });
  expect(after.layers.map(({ settings }) => settings)).toMatchObject([
    { frames: 6, step: 2 },
    { width: 4 },
    { pattern: [4] },
  ]);
});

test('weights that variants keep are turned and repeated too; a locked filter that stays behind is named', () => {
  const shot = crowded(2, ['weight']);
  const turned = runEdit('timing.reverse', shot, choose({}), {}).shot;
  expect([...turned.variants![0]!.states[0]!.weight.times]).toEqual([20, 40]);
  const locked = { ...crowded(2, []), layers: [{ ...filter('shift', ['hips'], {}), locked: true }] };
  for (const [edit, options] of [
    ['timing.reverse', {}],
    ['timing.setShot', { rate: 48 }],
  ] as const)
    expect(runEdit(edit, locked, choose({}), options).report.findings.map(({ code }) => code)).toContain(
      'lockedPass',
    );
});
