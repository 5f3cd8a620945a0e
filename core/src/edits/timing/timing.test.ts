/** What the edits of time do, on the demo shots that were made for them. */
import { describe, expect, test } from '@jest/globals';
import { COLUMN_NAMES, rowAtTime, SEGMENT } from '../../curve/curve.ts';
import { evaluate, slopeAt } from '../../curve/evaluate.ts';
import { firstTray } from '../../demo/first-tray.ts';
import { kneadingLoop } from '../../demo/kneading-loop.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { NOTHING } from '../../document/selection.ts';
import { curveOf, curvesIn, splitChannel } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, keysOf, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';
import { weightsOf, wholeGaps } from './pattern.ts';

const run = (shot: Shot, edit: string, options: object = {}, selection = NOTHING) => {
  const outcome = runEdit(edit, shot, selection, options);
  expect(outcome.report.status).toBe('changed');
  return outcome;
};
const timesOf = (shot: Shot, channel: string) => [...curveOf(shot, null, channel).times];
const columnsOf = (shot: Shot) =>
  [...curvesIn(shot.curves, shot.nodes)].map(([id, one]) => [
    id,
    ...COLUMN_NAMES.map((name) => [...one[name]]),
  ]);

describe('First tray: stepped blocking, completed, splined, retimed', () => {
  const blocked = firstTray();
  const before = poseColumns(blocked).frames;

  test('14 even columns, two controls not keyed at three of them', () => {
    expect(before).toEqual(Array.from({ length: 14 }, (_, i) => i * 8));
    const { report } = run(blocked, 'timing.completeColumns');
    const missing = report.measures.filter(({ name }) => name.startsWith('missing on'));
    expect(missing.map(({ name, value }) => [name, value])).toEqual([
      ['missing on tassel_2', 3],
      ['missing on brow_r', 3],
    ]);
  });

  test('completed, to spline, with a pattern: every pose at an old column stands at its new frame, to 1e-6', () => {
    const complete = run(blocked, 'timing.completeColumns').shot;
    const splined = run(complete, 'timing.toSpline').shot;
    for (const frame of before)
      valuesAt(splined, frame).forEach((value, c) =>
        expect(value).toBeCloseTo(valuesAt(blocked, frame)[c]!, 9),
      );
    const range = { start: 0, end: 104 };
    const retimed = run(splined, 'timing.pattern', { shape: 'both', amount: 1 }, choose({ range })).shot;
    const after = poseColumns(retimed).frames;
    expect(after).toHaveLength(14);
    expect([after[0], after[13]]).toEqual([0, 104]);
    const gaps = after.slice(1).map((frame, k) => frame - after[k]!);
    expect(gaps[0]).toBeGreaterThan(gaps[6]!);
    expect(gaps.every((gap) => Number.isInteger(gap) && gap >= 1)).toBe(true);
    before.forEach((frame, k) => {
      const [was, now] = [valuesAt(blocked, frame), valuesAt(retimed, after[k]!)];
      was.forEach((value, c) => expect(Math.abs(now[c]! - value)).toBeLessThanOrEqual(1e-6));
    });
  });

  test('left incomplete, splining says what will drift', () => {
    const { report } = run(blocked, 'timing.toSpline', { complete: false });
    expect(report.findings.map(({ code }) => code)).toContain('willDrift');
  });

  test('to spline and back to stepped holds every pose as it did', () => {
    const back = run(run(blocked, 'timing.toSpline').shot, 'timing.toStepped').shot;
    for (let frame = 0; frame <= 112; frame += 1)
      valuesAt(back, frame).forEach((value, c) => expect(value).toBeCloseTo(valuesAt(blocked, frame)[c]!, 9));
  });

  test('reversing twice gives identical columns; the poses come in the other order', () => {
    const once = run(blocked, 'timing.reverse').shot;
    for (const frame of [0, 30, 77, 112])
      valuesAt(once, 112 - frame).forEach((value, c) =>
        expect(value).toBeCloseTo(valuesAt(blocked, frame)[c]!, 9),
      );
    expect(columnsOf(run(once, 'timing.reverse').shot)).toEqual(columnsOf(blocked));
    const splined = run(blocked, 'timing.toSpline').shot;
    const twice = run(run(splined, 'timing.reverse').shot, 'timing.reverse').shot;
    expect(columnsOf(twice)).toEqual(columnsOf(splined));
  });
});

describe('gaps', () => {
  const swing = curve([0, 0, 4, 10, 8, 0, 12, 10]);
  const shot = puppet({ 'hips.ty': swing, 'arm_l.rz': swing, 'arm_r.rz': curve([0, 1, 5, 3, 8, 2, 12, 4]) });

  test('a longer gap moves every later key, weights, bookends and columns set by hand, and the end of the shot', () => {
    const weight = curve([0, 0, 6, 1, 12, 0]);
    const layered = {
      ...shot,
      layers: [pass('lift', { weight, range: { start: 2, end: 10 } })],
      poseColumns: { share: 0.5, added: [10], removed: [] },
    };
    const { shot: after } = run(layered, 'timing.setGap', { frame: 4, gap: 7 });
    expect(timesOf(after, 'hips.ty')).toEqual([0, 4, 11, 15]);
    // Keyed where the gap begins, so that nothing ahead of it bends; inside it goes with the gap.
    expect(timesOf(after, 'arm_r.rz')).toEqual([0, 4, 6, 11, 15]);
    expect([...after.layers[0]!.weight.times]).toEqual([0, 4, 8, 11, 15]);
    expect(after.layers[0]!.range).toMatchObject({ start: 2, end: 13 });
    expect(after.poseColumns!.added).toEqual([13]);
    expect(after.range).toEqual({ start: 0, end: 27 });
  });

  test('a shorter gap keeps keys in their order and none is lost; below one frame is refused', () => {
    const { shot: after } = run(shot, 'timing.setGap', { frame: 4, by: -2 });
    expect(timesOf(after, 'hips.ty')).toEqual([0, 4, 6, 10]);
    expect(timesOf(after, 'arm_r.rz')).toEqual([0, 4, 5, 6, 10]);
    expect(runEdit('timing.setGap', shot, NOTHING, { frame: 4, gap: 0 }).report.findings[0]!.sentence).toBe(
      'A gap of 0 frames is too short: it must be 1 or more.',
    );
  });

  test('on chosen controls the others stay', () => {
    const { shot: after } = run(
      shot,
      'timing.setGap',
      { frame: 4, by: 2, scope: 'selected' },
      choose({ nodes: ['hips'] }),
    );
    expect(timesOf(after, 'hips.ty')).toEqual([0, 4, 10, 14]);
    expect(timesOf(after, 'arm_l.rz')).toEqual([0, 4, 8, 12]);
  });

  test.each([
    ['easeOut', (gaps: number[]) => gaps[0]! > gaps[gaps.length - 1]!],
    ['easeIn', (gaps: number[]) => gaps[0]! < gaps[gaps.length - 1]!],
    ['both', (gaps: number[]) => gaps[0]! > gaps[3]! && gaps[6]! > gaps[3]!],
    ['even', (gaps: number[]) => Math.max(...gaps) - Math.min(...gaps) <= 1],
  ] as const)('the pattern %s has its rhythm, whole gaps and the total', (shape, holds) => {
    for (const total of [7, 28, 61]) {
      const gaps = wholeGaps(weightsOf(7, shape, 1), total);
      expect(gaps.reduce((a, b) => a + b)).toBe(total);
      expect(gaps.every((gap) => Number.isInteger(gap) && gap >= 1)).toBe(true);
      if (total > 7) expect(holds(gaps)).toBe(true);
    }
  });

  test('a hold: the pose stays and what follows is pushed; on the last key it is appended', () => {
    const { shot: after } = run(shot, 'timing.addHold', { frame: 4, frames: 3 });
    expect(keysOf(curveOf(after, null, 'hips.ty'))).toBe('0:0 4:10 7:10 11:0 15:10');
    for (const frame of [4, 5, 5.5, 7])
      expect(evaluate(curveOf(after, null, 'hips.ty'), frame)).toBeCloseTo(10, 9);
    const end = run(shot, 'timing.addHold', { frame: 12, frames: 14 }).shot;
    expect(end.range.end).toBe(38);
    const drifting = run(shot, 'timing.movingHold', { frame: 4, frames: 3, drift: 0.1 }).shot;
    expect(evaluate(curveOf(drifting, null, 'hips.ty'), 7)).toBeCloseTo(11, 9);
    expect(runEdit('timing.addHold', shot, NOTHING, { frame: 99 }).report.findings[0]!.code).toBe(
      'frameOutsideShot',
    );
  });

  test('removing time closes up; stretching scales about its pivot; a warp that folds back is refused', () => {
    const cut = run(shot, 'timing.removeTime', {}, choose({ range: { start: 4, end: 8 } })).shot;
    // The poses on both sides of the cut are not the same: over the frame ahead of it the curve runs straight.
    expect(timesOf(cut, 'hips.ty')).toEqual([0, 3, 4, 8]);
    expect(cut.range.end).toBe(20);
    const long = run(shot, 'timing.stretch', { factor: 2 }, choose({ range: { start: 4, end: 8 } })).shot;
    expect(timesOf(long, 'hips.ty')).toEqual([0, 4, 12, 16]);
    const bent = run(shot, 'timing.warp', {
      points: [
        [0, 0],
        [8, 12],
        [24, 24],
      ],
    }).shot;
    expect(timesOf(bent, 'hips.ty')[2]).toBe(12);
    const sampled = run(shot, 'timing.warp', {
      points: [
        [0, 0],
        [8, 12],
        [24, 24],
      ],
      mode: 'resample',
    }).shot;
    expect(evaluate(curveOf(sampled, null, 'hips.ty'), 12)).toBeCloseTo(evaluate(swing, 8), 6);
    const folds = runEdit('timing.warp', shot, NOTHING, {
      points: [
        [0, 0],
        [8, 12],
        [24, 6],
      ],
    });
    expect(folds.report.findings[0]!.code).toBe('warpFolds');
  });

  test('offset: each control a step later than the one above; by chance the same seed gives the same', () => {
    const chain = puppet({ 'hips.ty': swing, 'arm_l.rz': swing, 'hand_l.rx': swing });
    const all = choose({ nodes: ['hips', 'arm_l', 'hand_l'] });
    const { shot: after } = run(chain, 'timing.offset', { step: 2 }, all);
    expect(['hips.ty', 'arm_l.rz', 'hand_l.rx'].map((id) => timesOf(after, id)[1])).toEqual([4, 6, 8]);
    const seeded = () =>
      columnsOf(run(chain, 'timing.offset', { order: 'random', step: 5, seed: 3 }, all).shot);
    expect(seeded()).toEqual(seeded());
  });

  test('offset: where nobody lags it says why, and only those that move are listed', () => {
    const chain = puppet({ 'hips.ty': swing, 'arm_l.rz': swing, 'arm_r.rz': swing });
    const said = (nodes: string[]) => runEdit('timing.offset', chain, choose({ nodes }), { step: 2 }).report;
    expect(said(['hips'])).toMatchObject({ status: 'unchanged', findings: [{ code: 'nobodyLags' }] });
    expect(said(['arm_l', 'arm_r']).findings[0]?.sentence).toMatch(/as selected/);
    expect(said(['hips', 'arm_l']).measures.map(({ name }) => name)).toEqual(['arm_l']);
    // What has no key did not move.
    expect(said(['hips', 'arm_l', 'hand_l']).measures.map(({ name }) => name)).toEqual(['arm_l']);
  });
});

describe('there and back', () => {
  test('appended, the second half is the first mirrored in time, stepped and flowing alike', () => {
    for (const shot of [firstTray(), kneadingLoop()]) {
      const end = shot.range.end;
      const { shot: after } = run(shot, 'timing.reverse', { append: true });
      expect(after.range.end).toBe(2 * end);
      for (let frame = 0; frame < end; frame += 1)
        valuesAt(after, 2 * end - frame).forEach((value, c) =>
          expect(value).toBeCloseTo(valuesAt(shot, frame)[c]!, 9),
        );
    }
  });
});

describe('Kneading loop: the seam is mended', () => {
  const shot = kneadingLoop();

  test.each(['first', 'last', 'middle'] as const)(
    '%s wins: value and slope agree, no frame is doubled',
    (winner) => {
      const { shot: after } = run(shot, 'timing.loop', { times: 3, winner, blend: 8 });
      // 24 frames a turn: 0 … 71 play, and frame 72 would be frame 0 again.
      expect(after.range).toEqual({ start: 0, end: 71 });
      for (const [id, one] of curvesIn(after.curves, after.nodes)) {
        if (rowAtTime(one, 24) < 0) continue;
        expect(evaluate(one, 24)).toBeCloseTo(evaluate(one, 0), 9);
        expect(slopeAt(one, 24)).toBeCloseTo(slopeAt(one, 24 - 1e-7), 3);
        for (let frame = 0; frame < 24; frame += 1)
          expect([id, evaluate(one, frame + 24)]).toEqual([id, expect.closeTo(evaluate(one, frame), 9)]);
      }
      const gives = winner === 'first' ? 0 : winner === 'last' ? 1 : 0.5;
      const [was, now] = [curveOf(shot, null, 'hips.ry'), curveOf(after, null, 'hips.ry')];
      expect(evaluate(now, 0)).toBeCloseTo(
        evaluate(was, 0) + gives * (evaluate(was, 24) - evaluate(was, 0)),
        9,
      );
    },
  );

  test('at the seam no joint moves farther between two frames than inside the cycle', () => {
    const { shot: after } = run(shot, 'timing.loop', { times: 2 });
    const step = (frame: number) => {
      const [a, b] = [worldAt(after, frame), worldAt(after, frame + 1)];
      return Math.max(
        ...after.nodes.map((_, i) => Math.hypot(...placeIn(a, i).map((v, k) => v - placeIn(b, i)[k]!))),
      );
    };
    const inside = Math.max(...Array.from({ length: 22 }, (_, i) => step(i + 1)));
    expect(Math.max(step(23), step(24))).toBeLessThanOrEqual(inside + 1e-6);
  });

  test('as lead-out the repeats follow the source; the shot has the same keys', () => {
    const { shot: after } = run(shot, 'timing.loop', { times: 4, as: 'leadOut' });
    expect(curveOf(after, null, 'hips.ty').leadOut).toBe('loop');
    expect(curveOf(after, null, 'hips.ty').times).toHaveLength(curveOf(shot, null, 'hips.ty').times.length);
    expect(after.range.end).toBe(95);
  });
});

test('stepped demo: every channel of First tray is stepped', () => {
  for (const [id, one] of curvesIn(firstTray().curves, firstTray().nodes))
    expect([splitChannel(id).node, one.segments.every((segment) => segment === SEGMENT.stepped)]).toEqual([
      splitChannel(id).node,
      true,
    ]);
});
