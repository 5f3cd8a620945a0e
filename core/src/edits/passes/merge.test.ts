/** Merging, replacing and baking out, held against an independent resampling of what showed. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { shotFromJson } from '../../interchange/shot-file/read-shot.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, filter, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const base = puppet({
  'hips.ty': curve([0, 1, 9, 5, 24, 2]),
  'arm_l.rz': curve([0, 10, 13, -30, 24, 25]),
  'arm_l.ry': curve([2, 5, 20, 60]),
});
const lift = pass('lift', {
  members: ['hips', 'arm_l'],
  weight: curve([0, 0.7]),
  range: { start: 3, end: 20, rampIn: 4, rampOut: 5 },
  curves: [{ ty: curve([4, 2, 9, 7]) }, { rz: curve([6, 0, 12, 20]) }],
});
const turn = pass('turn', {
  members: ['arm_l'],
  rotations: 'orientations',
  curves: [undefined, { rx: curve([3, 10, 15, -25]), ry: curve([0, 5, 20, 15]) }],
});
const cover = pass('cover', {
  kind: 'replace',
  members: ['hips'],
  weight: curve([0, 0, 12, 1]),
  curves: [{ ty: curve([0, 3, 24, 9]) }],
});
const stacked: Shot = { ...base, layers: [lift, turn, cover] };
const fifths = Array.from({ length: 24 * 5 + 1 }, (_, i) => i / 5);
const at = (shot: Shot, frame: number, id: string) => valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;

/** The greatest distance of any joint between two shots, mm, looked at on these frames. */
function apart(a: Shot, b: Shot, frames: readonly number[] = fifths): number {
  let most = 0;
  for (const frame of frames) {
    const [p, q] = [worldAt(a, frame), worldAt(b, frame)];
    for (let node = 0; node < a.nodes.length; node += 1) {
      const [from, to] = [placeIn(p, node), placeIn(q, node)];
      most = Math.max(most, 10 * Math.hypot(...from.map((value, axis) => value - to[axis]!)));
    }
  }
  return most;
}
const merge = (shot: Shot, options: object) => runEdit('passes.merge', shot, choose({}), options);
const sentences = (result: ReturnType<typeof merge>) =>
  result.report.findings.map(({ sentence }) => sentence).join(' ');

describe('merge', () => {
  test.each([2, 0.5])('as few keys as %d mm need: held between frames too, and no layer is left', (space) => {
    const { shot, report } = merge(stacked, { which: 'all', space });
    expect(report.status).toBe('changed');
    expect(shot.layers).toEqual([]);
    expect(apart(stacked, shot)).toBeLessThanOrEqual(space);
    const said = report.measures.find(({ name }) => /between frames/.test(name))!.value;
    expect(said).toBeGreaterThan(apart(stacked, shot) * 0.9);
  });

  test('on every frame what shows there is what showed, to a hair', () => {
    const { shot } = merge(stacked, { which: 'all', keys: 'every' });
    expect(apart(stacked, shot, fifths.filter(Number.isInteger))).toBeLessThan(1e-6);
  });

  test('down: two become one that adds what both added; the rest of the stack stays as it was', () => {
    const { shot, selection } = merge(stacked, { pass: 'turn', space: 1 });
    expect(shot.layers.map(({ id, kind }) => [id, kind])).toEqual([
      ['lift', 'offset'],
      ['cover', 'replace'],
    ]);
    expect(shot.layers[1]).toBe(cover);
    expect(shot.curves).toBe(stacked.curves);
    expect(selection.layer).toBe('lift');
    expect(apart(stacked, shot)).toBeLessThanOrEqual(1);
  });

  test('passes that are solo go on being it as one, and show what they showed', () => {
    const solo = { ...stacked, layers: [lift, { ...turn, solo: true }, cover] };
    const { shot } = merge(solo, { pass: 'turn', space: 1 });
    expect(shot.layers.map(({ id, solo: alone }) => [id, alone])).toEqual([
      ['lift', true],
      ['cover', false],
    ]);
    expect(apart(solo, shot)).toBeLessThanOrEqual(1);
  });

  test('a weight that is keyed far from any key of a value goes along with it, and that it is gone is said', () => {
    const swell = pass('swell', {
      members: ['hips'],
      weight: curve([0, 0, 7, 1, 11, 0.2, 20, 0.9]),
      curves: [{ ty: curve([0, 30]) }],
    });
    const shot: Shot = { ...base, layers: [swell] };
    const { shot: after, report } = merge(shot, { which: 'all', space: 1 });
    expect(apart(shot, after)).toBeLessThanOrEqual(1);
    const times = [...curveOf(after, null, 'hips.ty').times];
    expect([7, 11, 20].map((frame) => times.includes(frame))).toEqual([true, true, true]);
    expect(report.findings.map(({ code }) => code)).toContain('weighedIn');
    const still = { ...shot, layers: [{ ...swell, weight: curve([0, 0.5]) }] };
    expect(merge(still, { which: 'all' }).report.findings.map(({ code }) => code)).not.toContain('weighedIn');
  });

  test('what lies under one that covers in part is not called lost', () => {
    const part = { ...cover, weight: curve([0, 1, 12, 0.4]) };
    const shot: Shot = { ...base, layers: [lift, part] };
    const codes = (of: Shot) => merge(of, { which: 'all' }).report.findings.map(({ code }) => code);
    expect(codes(shot)).not.toContain('hiddenLost');
    expect(codes({ ...base, layers: [lift, { ...part, weight: curve([0, 1]) }] })).toContain('hiddenLost');
  });

  test('the lowest goes onto the base', () => {
    const { shot } = merge(stacked, { pass: 'lift', space: 1 });
    expect(shot.layers).toEqual([turn, cover]);
    expect(apart(stacked, shot)).toBeLessThanOrEqual(1);
  });

  test('offsets over dense keys: those keys need not be touched when offsets are merged', () => {
    fc.assert(
      fc.property(anyCurve({}), anyCurve({}), (a, b) => {
        const two = {
          ...base,
          layers: [
            pass('a', { members: ['hips'], curves: [{ ty: a }] }),
            pass('b', { members: ['hips'], curves: [{ ty: b }] }),
          ],
        };
        const { shot, report } = runEdit('passes.merge', two, choose({}), { pass: 'b', keys: 'every' });
        if (report.status === 'refused') return;
        expect(shot.curves).toBe(two.curves);
        const size = Math.max(...a.values.map(Math.abs), ...b.values.map(Math.abs), 1);
        for (const frame of [0, 7, 15, 24])
          expect(Math.abs(at(shot, frame, 'hips.ty') - at(two, frame, 'hips.ty')) / size).toBeLessThan(1e-9);
      }),
      { numRuns: 25 },
    );
  });

  test('what would be lost is said: muted passes, and keys under one that replaces', () => {
    const muted = { ...lift, muted: true };
    expect(sentences(merge({ ...base, layers: [muted, turn] }, { which: 'all' }))).toMatch(
      /Muted, or not solo, so lost.*lift/,
    );
    const hides = { ...base, layers: [lift, { ...cover, weight: curve([0, 1]) }] };
    expect(sentences(merge(hides, { which: 'all' }))).toMatch(
      /Hidden under a pass that replaces, and lost.*hips\.ty/,
    );
    expect(sentences(merge(stacked, { which: 'all' }))).not.toMatch(/lost/);
  });

  test.each<[string, Shot, object, RegExp]>([
    [
      'passes with another between them',
      stacked,
      { which: 'chosen', passes: ['lift', 'cover'] },
      /between them.*turn/,
    ],
    [
      'onto a base under a filter',
      { ...base, layers: [filter('smooth', ['hips']), lift] },
      { which: 'all' },
      /between them.*smooth/,
    ],
    ['a locked pass', { ...stacked, layers: [{ ...lift, locked: true }, turn] }, { pass: 'turn' }, /lift/],
    ['onto a locked channel', { ...stacked, locked: ['arm_l.rz'] }, { which: 'all' }, /arm_l\.rz/],
    ['no pass', base, { which: 'all' }, /no pass/],
    ['one pass that is named', stacked, { which: 'chosen', passes: ['lift'] }, /two/],
  ])('%s is refused, and nothing is lost', (_, shot, options, words) => {
    const result = merge(shot, options);
    expect([result.report.status, result.shot === shot]).toEqual(['refused', true]);
    expect(sentences(result)).toMatch(words);
  });
});

describe('a replace pass', () => {
  const arm = choose({ nodes: ['arm_l'] });

  test('from a frame it holds what shows there, on top of what lies below', () => {
    const { shot, selection } = runEdit('passes.addReplace', stacked, arm, { frame: 11 });
    for (const id of ['arm_l.rx', 'arm_l.ry', 'arm_l.rz'])
      for (const frame of [0, 11, 20]) expect(at(shot, frame, id)).toBeCloseTo(at(stacked, 11, id), 9);
    expect(at(shot, 20, 'hips.ty')).toBe(at(stacked, 20, 'hips.ty'));
    expect(shot.layers.at(-1)!.id).toBe(selection.layer);
    expect(curveOf(shot, selection.layer, 'arm_l.tx').times).toHaveLength(0);
  });

  test('with keys on the pose columns it shows the same poses on them, so that the timing stays', () => {
    const tray = DEMO_SHOTS.find(({ id }) => id === 'first-tray')!.make();
    const head = tray.nodes.filter(({ id }) => ['head', 'neck'].includes(id)).map(({ id }) => id);
    const { shot, selection } = runEdit('passes.addReplace', tray, choose({ nodes: head }), {
      frame: 0,
      from: 'columns',
    });
    const columns = poseColumns(tray).frames;
    expect(columns.length).toBeGreaterThan(5);
    for (const frame of columns) expect(apart(tray, shot, [frame])).toBeLessThan(1e-6);
    expect([...curveOf(shot, selection.layer, `${head[0]}.rx`).times]).toEqual([...columns]);
  });

  test('under filters that are there: it starts from what they work on, and they work on it', () => {
    const filtered = { ...base, layers: [filter('shift', ['arm_l'], { frames: 3 })] };
    const { shot } = runEdit('passes.addReplace', filtered, arm, { frame: 9 });
    expect(shot.layers.map(({ kind }) => kind)).toEqual(['replace', 'shift']);
    expect(at(shot, 12, 'arm_l.rz')).toBeCloseTo(at(base, 9, 'arm_l.rz'), 9);
  });
});

describe('bake out', () => {
  test('what shows becomes a shot without layers, and this one stays', () => {
    const shot = { ...stacked, layers: [...stacked.layers, filter('spring', ['arm_l'], { frequency: 3 })] };
    const result = runEdit('passes.bakeOut', shot, choose({}), { name: 'Flat', space: 1 });
    expect([result.shot, result.report.status]).toEqual([shot, 'unchanged']);
    const made = shotFromJson(result.made);
    expect([made.name, made.layers]).toEqual(['Flat', []]);
    expect(apart(shot, made)).toBeLessThanOrEqual(1);
    // A channel that no layer changes keeps its own keys.
    expect([...curveOf(made, null, 'hips.ty').times]).not.toEqual([]);
    const plain = shotFromJson(runEdit('passes.bakeOut', base, choose({}), {}).made);
    expect([...curveOf(plain, null, 'arm_l.rz').times]).toEqual([0, 13, 24]);
  });
});
