/** Angles over time: steps that are none, filters over them, other orders of rotation. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { eulerFromQuat, quatFromEuler } from '../../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../../math/euler.ts';
import { angleBetween } from '../../math/quaternion.ts';
import { curveOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const turn = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
const AXES = ['rx', 'ry', 'rz'] as const;
const arm = choose({ nodes: ['arm_l'] });

/** Three channels of one joint, a key on every frame. */
const joint = (rows: readonly Triple[], node = 'arm_l'): Shot =>
  puppet(
    Object.fromEntries(
      AXES.map((axis, k) => [
        `${node}.${axis}`,
        curve(
          rows.flatMap((row, frame) => [frame, row[k]!]),
          'linear',
        ),
      ]),
    ),
  );
const turnOf = (angles: Triple, order: EulerOrder): Quaternion => {
  const turn: Quaternion = [0, 0, 0, 1];
  quatFromEuler(turn, 0, ...angles, order);
  return turn;
};
const anglesAt = (shot: Shot, row: number, node = 'arm_l') =>
  AXES.map((axis) => curveOf(shot, null, `${node}.${axis}`).values[row]!) as Triple;
const steepest = (of: Curve) =>
  Math.max(...[...of.values.subarray(1)].map((value, row) => Math.abs(value - of.values[row]!)));

describe('unwrap', () => {
  test('half a turn from key to key stays: it is motion', () => {
    for (const step of [180, -180, 179.5]) {
      const shot = puppet({ 'arm_l.rz': curve([0, 0, 8, step, 16, 2 * step], 'linear') });
      expect(runEdit('clean.unwrap', shot, arm, {}).report.status).toBe('unchanged');
    }
  });

  test('a flip of all three angles of a hardly turning joint goes, to the nearest equal angles; the list says where', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -60, max: 60, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.integer({ min: 2, max: 8 }),
        fc.integer({ min: 2, max: 10 }),
        (start, slope, at, length) => {
          // The arm's order is zyx: its middle angle is y. From `at` on, for `length` frames, the other way of writing is captured.
          const smooth = Array.from({ length: 20 }, (_, i): Triple => [
            start + slope * i,
            60 + 2 * i,
            -start + i,
          ]);
          const captured = smooth.map(([x, y, z], i): Triple =>
            i >= at && i < at + length ? [x + 180, 180 - y, z - 180] : [x, y, z],
          );
          const { shot, report } = runEdit('clean.unwrap', joint(captured), arm, {});
          smooth.forEach((angles, row) =>
            anglesAt(shot, row).forEach((angle, k) => expect(angle).toBeCloseTo(angles[k]!, 9)),
          );
          const steps = report.measures.filter(({ name }) => name === 'step');
          const frames =
            length + at < 20 ? [at, at, at, at + length, at + length, at + length] : [at, at, at];
          expect(steps.map(({ where }) => where!.frame)).toEqual(frames);
          expect(new Set(steps.map(({ where }) => where!.channel)).size).toBe(3);
          const first = steps.find(({ where }) => where!.channel === 'arm_l.rx')!;
          expect(first.value).toBeCloseTo(180 + slope, 9);
        },
      ),
    );
  });

  test('seeded walks of orientations written in (−180, 180]: no joint step is larger than the nearest writing needs', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(turn(25), turn(25), turn(25)), { minLength: 5, maxLength: 30 }),
        (moves: Triple[]) => {
          const path: Triple[] = [[10, 70, 20]];
          for (const move of moves)
            path.push(path[path.length - 1]!.map((angle, k) => angle + move[k]!) as Triple);
          // As a capture writes them: each frame for itself, nearest to nothing.
          const written = path.map((angles) => eulerFromQuat(turnOf(angles, 'zyx'), 'zyx'));
          const before = joint(written);
          const { shot } = runEdit('clean.unwrap', before, arm, {});
          written.forEach((angles, row) => {
            expect(angleBetween(turnOf(angles, 'zyx'), turnOf(anglesAt(shot, row), 'zyx'))).toBeLessThan(
              1e-5,
            );
            if (row === 0) return;
            const near = anglesAt(shot, row - 1);
            const best = eulerFromQuat(turnOf(angles, 'zyx'), 'zyx', near);
            const length = (of: Triple) => of.reduce((sum, angle, k) => sum + Math.abs(angle - near[k]!), 0);
            expect(length(anglesAt(shot, row))).toBeLessThanOrEqual(length(best) + 90 + 1e-6);
          });
        },
      ),
    );
  });

  test('poses far apart keep their angles, and so does a key of which one angle is locked', () => {
    const poses: Triple[] = [
      [10, 80, 0],
      [190, 100, -180],
    ];
    const sparse = puppet(
      Object.fromEntries(
        AXES.map((axis, k) => [
          `arm_l.${axis}`,
          curve(
            poses.flatMap((row, i) => [12 * i, row[k]!]),
            'linear',
          ),
        ]),
      ),
    );
    expect(runEdit('clean.unwrap', sparse, arm, {}).report.status).toBe('unchanged');
    const dense = joint(poses);
    const held = rebuild(
      curveOf(dense, null, 'arm_l.ry'),
      null,
      (columns) => (columns.flags[1] = FLAG.locked),
    );
    const locked = withCurves(dense, null, new Map([['arm_l.ry', held]]));
    const { shot, report } = runEdit('clean.unwrap', locked, arm, {});
    expect(shot).toBe(locked);
    expect(report.findings.map(({ code }) => code)).toEqual(['lockedKeys']);
  });

  test('a step that is moved to the end of the chosen keys is said', () => {
    const shot = puppet({ 'arm_l.rz': curve([0, 170, 1, -175, 2, -170, 3, -165], 'linear') });
    const part = choose({ channels: ['arm_l.rz'], range: { start: 0, end: 2 } });
    const { shot: after, report } = runEdit('clean.unwrap', shot, part, {});
    expect([...curveOf(after, null, 'arm_l.rz').values]).toEqual([170, 185, 190, -165]);
    expect(report.findings.map(({ code }) => code)).toEqual(['stepRemains']);
  });

  test('a free slope of the middle angle turns with it', () => {
    const rows: Triple[] = [
      [0, 80, 0],
      [0, 81, 0],
      [180, 98, 180],
      [180, 97, 180],
    ];
    const shot = joint(rows);
    const free = rebuild(curveOf(shot, null, 'arm_l.ry'), null, (columns) => {
      columns.tangentsIn.fill(TANGENT.free);
      columns.tangentsOut.fill(TANGENT.free);
      columns.slopesIn.set([1, 1, -1, -1]);
      columns.slopesOut.set([1, 1, -1, -1]);
    });
    const { shot: after } = runEdit(
      'clean.unwrap',
      withCurves(shot, null, new Map([['arm_l.ry', free]])),
      arm,
      {},
    );
    const mended = curveOf(after, null, 'arm_l.ry');
    expect([...mended.values]).toEqual([80, 81, 82, 83]);
    expect([...mended.slopesIn]).toEqual([1, 1, 1, 1]);
  });
});

describe('smooth', () => {
  const noisy = Array.from({ length: 40 }, (_, i) => 150 + 3 * i + (i % 2 ? 0.4 : -0.4));
  const wrapped = curve(noisy.flatMap((value, i) => [i, value > 180 ? value - 360 : value]));

  test.each(['quadratic', 'lowPass', 'spikes'] as const)(
    '%s over a wrapped angle: unwrapped first and said, or refused',
    (method) => {
      const shot = puppet({ 'arm_l.rx': wrapped });
      const { shot: after, report } = runEdit('clean.smooth', shot, arm, { method, cutoff: 4 });
      expect(report.findings.map(({ code }) => code)).toEqual(['wrapsUnwrapped']);
      expect(steepest(curveOf(after, null, 'arm_l.rx'))).toBeLessThan(5);
      const refusal = runEdit('clean.smooth', shot, arm, { method, wraps: 'refuse' });
      expect(refusal.report.findings.map(({ code }) => code)).toEqual(['wrapsInTheWay']);
      expect(refusal.shot).toBe(shot);
    },
  );

  test('stepped blocking and keys that stand apart are poses: left, and said', () => {
    const values = [0, 40, -10, 30, 5, 60, 20];
    const blocking = rebuild(curve(values.flatMap((value, i) => [i, value])), null, (columns) =>
      columns.segments.fill(SEGMENT.stepped),
    );
    const apart = curve(values.flatMap((value, i) => [4 * i, value]));
    const shot = puppet({ 'hips.tx': blocking, 'hips.ty': apart });
    const { shot: after, report } = runEdit('clean.smooth', shot, choose({ nodes: ['hips'] }), {});
    expect(after).toBe(shot);
    expect(
      report.findings.map(({ code, sentence }) => [code, sentence.includes('hips.tx, hips.ty')]),
    ).toEqual([['unevenKeys', true]]);
  });

  test('the filter knows how dense the keys are: keys two frames apart hold half as much', () => {
    const fine = puppet({ 'hips.tx': curve(noisy.flatMap((value, i) => [i, value])) });
    const coarse = puppet({ 'hips.tx': curve(noisy.flatMap((value, i) => [2 * i, value])) });
    const given = { method: 'lowPass', cutoff: 6.5 };
    const hips = choose({ nodes: ['hips'] });
    expect(runEdit('clean.smooth', fine, hips, given).report.findings).toEqual([]);
    const { report, shot } = runEdit('clean.smooth', coarse, hips, given);
    expect([shot === coarse, report.findings[0]!.code]).toEqual([true, 'cutoffTooHigh']);
    expect(report.findings[0]!.sentence).toContain('no more than 6 Hz');
  });

  test('jitter goes out of set slopes too; an accent of three keys is motion and stays, one key that stands out goes', () => {
    const set = rebuild(curve(noisy.flatMap((value, i) => [i, value])), null, (columns) => {
      columns.tangentsIn.fill(TANGENT.free);
      columns.tangentsOut.fill(TANGENT.free);
      columns.slopesIn.forEach(
        (slope, i) => (columns.slopesOut[i] = columns.slopesIn[i] = slope + (i % 2 ? 2 : -2)),
      );
    });
    const { shot } = runEdit('clean.smooth', puppet({ 'hips.tx': set }), choose({ nodes: ['hips'] }), {
      window: 9,
    });
    const calm = curveOf(shot, null, 'hips.tx');
    for (let i = 8; i < 32; i += 1)
      for (const at of [i, i + 0.3, i + 0.7])
        expect(Math.abs(evaluate(calm, at) - (150 + 3 * at))).toBeLessThan(0.2);
    const accent = Array.from(
      { length: 21 },
      (_, i) => 0.01 * (i % 2) + ({ 9: 0.5, 10: 1, 11: 0.5 }[i] ?? 0),
    );
    const spike = accent.map((value, i) => (i === 9 || i === 11 ? 0 : value));
    for (const [values, top] of [
      [accent, 1],
      [spike, 0],
    ] as const) {
      const one = puppet({ 'hips.tx': curve(values.flatMap((value, i) => [i, value])) });
      const after = runEdit('clean.smooth', one, choose({ nodes: ['hips'] }), {
        method: 'spikes',
        window: 9,
      }).shot;
      expect(Math.round(curveOf(after, null, 'hips.tx').values[10]!)).toBe(top);
    }
  });
});

describe('rotation order', () => {
  const swing = { rx: [0, 10, 6, 40, 12, 10], ry: [0, -30, 4, 60, 12, -30], rz: [0, 0, 12, 0] } as const;
  const repeated = (lead: Curve['leadOut'], other = lead) =>
    puppet(
      Object.fromEntries(
        AXES.map((axis) => [
          `hand_l.${axis}`,
          { ...curve([...swing[axis]]), leadIn: 'hold' as const, leadOut: axis === 'rx' ? other : lead },
        ]),
      ),
    );
  const hand = choose({ nodes: ['hand_l'] });
  const sameTurns = (before: Shot, after: Shot, order: EulerOrder, step = 1) => {
    const at = (shot: Shot, frame: number) =>
      AXES.map((axis) => evaluate(curveOf(shot, null, `hand_l.${axis}`), frame)) as Triple;
    for (let frame = 0; frame <= 24; frame += step)
      expect(angleBetween(turnOf(at(before, frame), 'xyz'), turnOf(at(after, frame), order))).toBeLessThan(
        1e-5,
      );
  };

  test.each(['loop', 'swing'] as const)('three that %s together still do, in any order', (lead) => {
    const before = repeated(lead);
    const { shot, report } = runEdit('clean.rotationOrder', before, hand, { order: 'yxz' });
    expect(curveOf(shot, null, 'hand_l.ry').leadOut).toBe(lead);
    // Between frames other angles run another way: what that comes to is said.
    expect(report.findings.filter(({ code }) => code !== 'notKept')).toEqual([]);
    sameTurns(before, shot, 'yxz');
  });

  test.each([
    ['loop', 'hold'],
    ['loop', 'loopCarry'],
    ['slope', 'slope'],
    ['loopCarry', 'loopCarry'],
  ] as const)('%s beside %s: the repeats become keys over the shot, and that is said', (lead, other) => {
    const before = repeated(lead, other);
    const { shot, report } = runEdit('clean.rotationOrder', before, hand, { order: 'zxy' });
    expect(report.findings.map(({ code }) => code).filter((code) => code !== 'notKept')).toEqual([
      'orderBakesRepeats',
    ]);
    sameTurns(before, shot, 'zxy');
  });

  test('poses that step, step on: on keys and between them', () => {
    const shot = puppet(
      Object.fromEntries(
        AXES.map((axis) => [
          `hand_l.${axis}`,
          rebuild(curve([...swing[axis]]), null, (columns) => columns.segments.fill(SEGMENT.stepped)),
        ]),
      ),
    );
    const after = runEdit('clean.rotationOrder', shot, hand, { order: 'zyx' }).shot;
    expect([...curveOf(after, null, 'hand_l.rx').times]).toEqual([0, 4, 6, 12]);
    sameTurns(shot, after, 'zyx', 0.25);
  });
});
