/** Actions: what is saved is what shows, and what is laid is no longer than the action. */
import { describe, expect, test } from '@jest/globals';
import { SEGMENT } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { firstTray } from '../../demo/first-tray.ts';
import { doughToss } from '../../demo/dough-toss.ts';
import { ovenDoor } from '../../demo/oven-door.ts';
import { angleBetween } from '../../math/quaternion.ts';
import { readAction } from '../../document/action.ts';
import type { ActionJson } from '../../document/action.ts';
import { stackOf, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf, withCurves, splitChannel } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, denseCurve, keysOf, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const saved = (shot: Shot, selection: ReturnType<typeof choose>, options: object = {}): ActionJson =>
  runEdit('actions.save', shot, selection, { name: 'One', ...options }).made as ActionJson;
const range = { start: 4, end: 16 };
const arm = choose({ nodes: ['arm_l'], range });

const layered = (): Shot => {
  const base = puppet({
    'arm_l.rz': curve([0, 10, 7, 50, 20, -30]),
    'arm_l.rx': { ...curve([0, 0, 5, 9, 8, 0]), leadOut: 'loop' },
  });
  const over = { ...base, layers: [pass('p', { weight: curve([0, 0, 20, 1]), rotations: 'channels' })] };
  return withCurves(over, 'p', new Map([['arm_l.rz', curve([3, 0, 11, 25, 18, 0])]]));
};

describe('saving', () => {
  test('what shows, passes and repeats in it, and channels without keys as they stand', () => {
    const shot = layered();
    const { curves } = readAction(saved(shot, arm));
    expect([...curves.keys()]).toEqual(
      ['arm_l.tx', 'arm_l.ty', 'arm_l.tz', 'arm_l.rx', 'arm_l.ry', 'arm_l.rz'].filter((id) => curves.has(id)),
    );
    expect(curves.size).toBe(6);
    const rig = rigOf(shot);
    for (const [id, one] of curves)
      for (let frame = 4; frame <= 16; frame += 1)
        expect([id, evaluate(one, frame - 4)]).toEqual([
          id,
          expect.closeTo(valuesAt(shot, frame)[rig.channelIndex(id)]!, 9),
        ]);
  });

  test('jumps stay jumps: loops whose ends differ, steps, and both under a pass over a part; exact on frames, and between them within 1e-3', () => {
    const loop = { ...curve([0, 0, 8, 40, 9, 5]), leadIn: 'loop' as const, leadOut: 'loop' as const };
    const stepped = rebuild(curve([0, 3, 5, 60, 11.5, -20, 16, 8]), null, ({ segments }) =>
      segments.fill(SEGMENT.stepped),
    );
    const base = puppet({ 'arm_l.rz': loop, 'arm_l.ry': stepped });
    const over = {
      ...base,
      layers: [pass('p', { rotations: 'channels', range: { start: 3, end: 13, rampIn: 2.5, rampOut: 0 } })],
    };
    const lifted = withCurves(
      over,
      'p',
      new Map([
        ['arm_l.rz', curve([0, 7])],
        ['arm_l.ry', curve([0, 9, 20, 1])],
      ]),
    );
    for (const shot of [base, lifted])
      for (const span of [
        { start: -7, end: 43 },
        { start: 1.5, end: 21.25 },
      ]) {
        const { curves } = readAction(saved(shot, choose({ nodes: ['arm_l'], range: span })));
        for (const id of ['arm_l.rz', 'arm_l.ry']) {
          const signal = stackOf(shot).top[rigOf(shot).channelIndex(id)]!;
          const jumps = signal.jumps(span);
          for (let frame = Math.ceil(span.start); frame <= span.end; frame += 1)
            expect([id, frame, evaluate(curves.get(id)!, frame - span.start)]).toEqual([
              id,
              frame,
              expect.closeTo(signal.at(frame), 9),
            ]);
          for (let frame = span.start; frame < span.end; frame += 0.2)
            if (jumps.every((jump) => Math.abs(jump - frame) > 1))
              expect(Math.abs(evaluate(curves.get(id)!, frame - span.start) - signal.at(frame))).toBeLessThan(
                1e-3,
              );
        }
      }
  });

  test('the base alone by choice: its own keys, with ends, and nothing for what has none', () => {
    const { curves } = readAction(saved(layered(), arm, { what: 'layer' }));
    expect([...curves.keys()].sort()).toEqual(['arm_l.rx', 'arm_l.rz']);
    expect([...curves.get('arm_l.rz')!.times]).toEqual([0, 3, 12]);
    const ofPass = readAction(
      saved(layered(), choose({ nodes: ['arm_l'], range, layer: 'p' }), { what: 'layer' }),
    );
    expect([...ofPass.curves.get('arm_l.rz')!.times]).toEqual([0, 7, 12]);
  });

  test('orientations on a pass are saved whole', () => {
    const shot = layered();
    const composed = { ...shot, layers: [{ ...shot.layers[0]!, rotations: 'orientations' as const }] };
    const { curves } = readAction(saved(composed, arm));
    for (const axis of ['rx', 'ry', 'rz'])
      expect(evaluate(curves.get(`arm_l.${axis}`)!, 8)).toBeCloseTo(
        valuesAt(composed, 12)[rigOf(shot).channelIndex(`arm_l.${axis}`)]!,
        9,
      );
  });

  test('at a lower rate keys fall together on whole frames, and that is said with their number', () => {
    const fast = puppet({ 'arm_l.rz': denseCurve(Array.from({ length: 241 }, (_, i) => Math.sin(i / 30))) });
    const action = {
      ...saved(fast, choose({ channels: ['arm_l.rz'], range: { start: 0, end: 240 } })),
      rate: { numerator: 240, denominator: 1 },
    };
    const slow = { ...puppet(), rate: { numerator: 1, denominator: 1 } };
    const { report, shot } = runEdit('actions.apply', slow, choose({}), { action, frame: 3 });
    expect(curveOf(shot, null, 'arm_l.rz').times.filter((time) => time >= 3 && time <= 4)).toHaveLength(2);
    expect(report.findings.map(({ sentence }) => sentence).join(' ')).toContain('239 keys fell');
  });

  test('taken away, locked channels stay and are said', () => {
    const shot = { ...layered(), locked: ['arm_l.rx'] };
    const { shot: after, report } = runEdit('actions.save', shot, arm, { name: 'One', takeAway: true });
    expect(curveOf(after, null, 'arm_l.rx')).toBe(curveOf(shot, null, 'arm_l.rx'));
    expect(keysOf(curveOf(after, null, 'arm_l.rz'))).toBe('0:10 20:-30');
    expect(report.findings.map(({ code }) => code)).toContain('lockedChannels');
  });
});

describe('applying', () => {
  const action = (more: Partial<ActionJson> = {}): ActionJson => ({
    ...saved(puppet({ 'hips.ty': curve([0, 1, 5, 9, 12, 3]) }), choose({ channels: ['hips.ty'] })),
    ...more,
  });
  const laid = (json: ActionJson, options: object = {}) =>
    runEdit('actions.apply', puppet({ 'hips.ty': curve([0, 0, 24, 0]) }), choose({}), {
      action: json,
      frame: 2,
      ...options,
    });

  test('never past its length, whatever the file says', () => {
    const { shot } = laid(action({ length: 7 }));
    const after = curveOf(shot, null, 'hips.ty');
    expect([...after.times]).toEqual([0, 1, 2, 7, 9, 10, 24]);
    expect(evaluate(after, 9)).toBeCloseTo(evaluate(curve([0, 1, 5, 9, 12, 3]), 7), 9);
  });

  test('of another rate on whole frames, or to the very second', () => {
    const faster = action({ rate: { numerator: 30, denominator: 1 } });
    expect([...curveOf(laid(faster).shot, null, 'hips.ty').times]).toEqual([0, 1, 2, 6, 12, 13, 24]);
    expect(curveOf(laid(faster, { wholeFrames: false }).shot, null, 'hips.ty').times[4]).toBeCloseTo(
      2 + (12 * 24) / 30,
      12,
    );
  });

  test('of a rate that is none it is refused', () => {
    for (const rate of [
      { numerator: 1e9, denominator: 1 },
      { numerator: 1, denominator: 1e6 },
    ])
      expect(laid(action({ rate })).report.findings[0]!.code).toBe('impossibleRate');
  });

  test('written to a file and read again it is the same', () => {
    const json = action();
    const again = readAction(JSON.parse(JSON.stringify(json)));
    expect(keysOf(again.curves.get('hips.ty')!)).toBe('0:1 5:9 12:3');
    expect(again.json).toEqual(json);
  });
});

describe('laying on a part of the body', () => {
  const action = saved(layered(), choose({ nodes: ['arm_l', 'hips'], range }));
  const lay = (selection: Parameters<typeof choose>[0], options: object = {}) =>
    runEdit('actions.apply', puppet(), choose(selection), { action, frame: 2, ...options });

  test('only what is selected gets keys; without the choice all of it does', () => {
    const one = lay({ nodes: ['arm_l'] }, { onlySelected: true });
    expect(one.report.touched.every((id) => id.startsWith('arm_l.'))).toBe(true);
    expect(one.report.touched).toHaveLength(6);
    expect(lay({ nodes: ['arm_l'] }).report.touched).toHaveLength(12);
    expect(lay({ channels: ['arm_l.rz'] }, { onlySelected: true }).report.touched).toEqual(['arm_l.rz']);
  });

  test('with nothing selected, or nothing of it in the action, it is refused', () => {
    expect(lay({}, { onlySelected: true }).report.findings[0]?.code).toBe('nothingSelected');
    expect(lay({ nodes: ['hand_r'] }, { onlySelected: true }).report.status).toBe('refused');
  });
});

describe('a pose out of it', () => {
  const action = saved(
    puppet({
      'arm_l.rz': curve([0, 0, 10, 80]),
      'arm_l.rx': curve([0, 0, 10, 10]),
      'hips.ty': curve([0, 2, 10, 6]),
    }),
    choose({ nodes: ['arm_l', 'hips'], range: { start: 0, end: 10 } }),
  );
  const shot = puppet({ 'arm_l.rz': curve([0, -20, 24, -20]), 'hips.ty': curve([0, 0, 24, 0]) });
  const blend = (options: object, nodes: string[] = []) =>
    runEdit('actions.blendPose', shot, choose({ nodes }), { action, frame: 12, ...options });
  const shown = (of: Shot, id: string, frame = 12) => valuesAt(of, frame)[rigOf(of).channelIndex(id)]!;

  test('set, the shot shows what the action shows there; part of the way, that part; beyond the end, the last pose', () => {
    expect(shown(blend({ at: 10 }).shot, 'arm_l.rz')).toBeCloseTo(80, 9);
    expect(shown(blend({ at: 99 }).shot, 'hips.ty')).toBeCloseTo(6, 9);
    expect(shown(blend({ at: 99, action: { ...action, length: 5 } }).shot, 'arm_l.rz')).toBeCloseTo(
      shown(blend({ at: 5 }).shot, 'arm_l.rz'),
      9,
    );
    expect(shown(blend({ at: 10, amount: 0.6 }).shot, 'hips.ty')).toBeCloseTo(3.6, 9);
    const { shot: after } = blend({ at: 10, amount: 0.6 });
    const turn = (of: Shot) =>
      worldAt(of, 12).turns.slice(4 * rigOf(of).indexOf('arm_l'), 4 * rigOf(of).indexOf('arm_l') + 4);
    // As an orientation it goes six tenths of the way.
    expect(
      angleBetween(turn(shot), turn(after)) / angleBetween(turn(shot), turn(blend({ at: 10 }).shot)),
    ).toBeCloseTo(0.6, 6);
  });

  test('only what is selected, and only that frame’s keys', () => {
    const { shot: after, report } = blend({ at: 10 }, ['arm_l']);
    expect(shown(after, 'hips.ty')).toBe(0);
    expect(report.touched.every((id) => id.startsWith('arm_l.'))).toBe(true);
    expect([...curveOf(after, null, 'arm_l.rz').times]).toEqual([0, 12, 24]);
    expect(blend({ at: 10 }, ['hand_r']).report.findings[0]!.code).toBe('nothingOfAction');
  });
});

describe('onto another character', () => {
  const shot = ovenDoor();
  const of = (character: string) =>
    choose({
      nodes: shot.nodes.filter((node) => node.character === character).map(({ id }) => id),
      range: { start: 0, end: 40 },
    });
  const action = saved(shot, of('bram'));
  const bare = { ...shot, curves: shot.curves.map(() => undefined) };

  test('by name nothing of Bram is Nib’s; by structure his body moves as Bram’s does, places by his height', () => {
    const onto = (match: string, options: object = {}) =>
      runEdit('actions.apply', bare, choose({}), { action, frame: 0, character: 'nib', match, ...options });
    expect(onto('names').report.status).toBe('refused');
    const { shot: after, report } = onto('both');
    expect(report.findings.map(({ code }) => code)).toEqual(
      expect.arrayContaining(['foundByStructure', 'otherLength', 'unmatchedNodes']),
    );
    const [was, is] = [worldAt(shot, 30), worldAt(after, 30)];
    const row = (id: string) => rigOf(shot).indexOf(id);
    const turned = (pose: typeof was, id: string) =>
      angleBetween(pose.turns.subarray(row(id) * 4, row(id) * 4 + 4), rigOf(shot).restTurns[row(id)]!);
    expect(turned(is, 'ribs')).toBeCloseTo(turned(was, 'spine_high'), 4);
    const height = (of: Shot, id: string) => evaluate(curveOf(of, null, id), 30);
    const size = height(after, 'pelvis.ty') / height(shot, 'hips.ty');
    expect([size > 0.5, size < 0.9]).toEqual([true, true]);
    expect(height(onto('both', { heights: false }).shot, 'pelvis.ty')).toBe(height(shot, 'hips.ty'));
  });

  test('what is of no figure stays as it is, which is said; onto its own figure it comes along', () => {
    const all = saved(
      shot,
      choose({
        nodes: shot.nodes.filter((node) => node.character !== 'nib').map(({ id }) => id),
        range: { start: 0, end: 40 },
      }),
    );
    const onto = (character: string | null) =>
      runEdit('actions.apply', bare, choose({}), { action: all, frame: 0, match: 'both', character });
    const owners = (touched: readonly string[]) =>
      new Set(
        touched.map((channel) => {
          const node = shot.nodes.find(({ id }) => id === splitChannel(channel).node)!;
          return node.character ?? node.id;
        }),
      );
    const nib = onto('nib');
    expect([...owners(nib.report.touched)]).toEqual(['nib']);
    expect(nib.report.findings.find(({ code }) => code === 'leftToTheirs')!.sentence).toMatch(
      /tray.*camera.*|camera.*tray.*/,
    );
    for (const own of [onto('bram'), onto(null)])
      expect([...owners(own.report.touched)].sort()).toEqual(['bram', 'camera', 'tray']);
  });

  test('by hand one goes elsewhere, another nowhere', () => {
    const { shot: after } = runEdit('actions.apply', bare, choose({}), {
      ...{ action, frame: 0, character: 'nib', match: 'both' },
      pairs: { head: 'mouth', jaw: null },
    });
    expect(curveOf(after, null, 'mouth.rx').times.length).toBeGreaterThan(2);
    expect(curveOf(after, null, 'skull.rx').times).toHaveLength(0);
    expect(
      runEdit('actions.apply', bare, choose({}), { action, frame: 0, character: 'nobody' }).report
        .findings[0]!.code,
    ).toBe('unknownCharacter');
  });

  test('onto its own character it is what it was, and an action without a skeleton goes by name', () => {
    const { skeleton: _, ...older } = action;
    for (const one of [action, older]) {
      const { shot: after, report } = runEdit('actions.apply', bare, choose({}), { action: one, frame: 0 });
      expect(report.findings.map(({ code }) => code)).toEqual(['coveredRange']);
      for (const id of ['hips.ty', 'head.ry', 'hand_goal_l.tx'])
        expect(evaluate(curveOf(after, null, id), 17.3)).toBe(evaluate(curveOf(shot, null, id), 17.3));
    }
  });

  test('a skeleton that is none is refused with a sentence', () => {
    const { bones } = action.skeleton!;
    const [first, second, ...rest] = bones;
    const wrong: [object, string][] = [
      [[{ ...first, parent: second!.id }, second, ...rest], 'circle'],
      [[{ ...first, rest: { ...first!.rest, rotation: [0, 0, 0, 0] } }, second, ...rest], 'badOption'],
      [[{ ...first, order: 'abc' }, second, ...rest], 'badOption'],
      [
        Array.from({ length: 1001 }, (_, i) => ({
          ...first,
          id: `joint ${i}`,
          parent: i > 0 ? 'joint 0' : null,
        })),
        'tooManyJoints',
      ],
    ];
    for (const [joints, code] of wrong) {
      const broken = { ...action, skeleton: { facing: 0, bones: joints } };
      const { shot: after, report } = runEdit('actions.apply', bare, choose({}), {
        action: broken,
        frame: 0,
        match: 'both',
      });
      expect([after === bare, report.findings[0]?.code]).toEqual([true, code]);
    }
  });
});

describe('a thing that belongs to nobody', () => {
  const shot = firstTray();
  const tray = choose({ nodes: ['tray'], range: { start: 0, end: 40 } });
  const moved = withCurves(shot, null, new Map([['tray.tx', curve([0, 1, 20, 30, 40, 7])]]));
  const action = saved(moved, tray);
  const showsAt = (of: Shot, frame: number) => valuesAt(of, frame)[rigOf(of).channelIndex('tray.tx')]!;

  test.each(['names', 'both', 'structure'])('saved and applied to the same shot is itself, %s', (match) => {
    const { shot: after, report } = runEdit('actions.apply', shot, choose({}), { action, frame: 0, match });
    expect([report.status, report.touched.every((id) => id.startsWith('tray.'))]).toEqual(['changed', true]);
    for (const frame of [0, 9.5, 20, 40]) expect(showsAt(after, frame)).toBeCloseTo(showsAt(moved, frame), 9);
  });

  test('where there is none of that name it goes to nobody, and to no figure’s root', () => {
    const other = doughToss();
    const { shot: after, report } = runEdit('actions.apply', other, choose({}), {
      action,
      frame: 0,
      match: 'both',
    });
    expect([after === other, report.status, report.findings.map(({ code }) => code)]).toEqual([
      true,
      'refused',
      ['unmatchedNodes'],
    ]);
  });
});

test('names in pairs that are not there are said', () => {
  const shot = layered();
  const action = saved(shot, arm);
  const { report } = runEdit('actions.apply', shot, choose({}), {
    action,
    frame: 0,
    pairs: { arm_l: 'arm_q', leg_q: null },
  });
  expect(report.findings.find(({ code }) => code === 'unknownInPairs')?.sentence).toBe(
    '2 names in the pairs are not there: arm_q, leg_q.',
  );
});

test('a feed that wraps its angles at half a turn is recorded as it turned', () => {
  const values = { 'hips.ry': [150, 170, -170, -150, -130], 'hips.tx': [0, 400, 0, 400, 0] };
  const { shot: after } = runEdit('actions.record', puppet(), choose({}), { start: 0, values });
  const { ry, tx } = after.layers[0]!.curves[0]!;
  expect([...ry!.values]).toEqual([150, 170, 190, 210, 230]);
  expect([...tx!.values]).toEqual(values['hips.tx']);
});
