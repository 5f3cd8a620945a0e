/** Flipping in the character’s own plane, held against reflections in space that share no code with it. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { curve as made, choose, curve, pass, puppet, puppetNodes } from '../../testing/shot-literals.ts';
import { AT_REST } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { angleBetween, multiply } from '../../math/quaternion.ts';
import { quatFromEuler } from '../../math/euler.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { flipTest } from '../../mirror/flip-test.ts';
import { facingOf } from '../../mirror/mirror-plane.ts';
import { curveOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { runEdit } from '../run-edit.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const run = (shot: Shot, id: string, options: object, selection = choose({})) => {
  const result = runEdit(id, shot, selection, options);
  expect(result.report.status).toBe('changed');
  return result.shot;
};
const places = (shot: Shot, frame: number) => {
  const pose = worldAt(shot, frame);
  return new Map(shot.nodes.map((node, i) => [node.id, placeIn(pose, i)]));
};
const heading = (shot: Shot, frame: number): number => {
  const m = worldAt(shot, frame).matrices;
  return Math.atan2(m[8]!, m[10]!);
};
/** The mirror image of a place in the upright plane through `at` that looks along `angle`. */
const image = ([x, y, z]: Triple, at: Triple, angle: number): Triple => {
  const [nx, nz] = [Math.cos(angle), -Math.sin(angle)];
  const away = (x - at[0]) * nx + (z - at[2]) * nz;
  return [x - 2 * away * nx, y, z - 2 * away * nz];
};
const other = (id: string) => (/_l$/.test(id) ? id.replace(/_l$/, '_r') : id.replace(/_r$/, '_l'));

/** All nodes about to stand elsewhere and look another way at rest. */
function restsAt(shot: Shot, angle: number, place: Triple): Shot {
  const turn: Quaternion = [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)];
  const nodes = shot.nodes.map((node): Node =>
    node.parent === null ? { ...node, rest: { ...node.rest, rotation: turn, translation: place } } : node,
  );
  return { ...shot, nodes };
}

describe('a pose', () => {
  const angles = fc.record({
    x: number(-80, 80),
    z: number(-80, 80),
    turn: number(-180, 180),
    lean: number(-20, 20),
    left: number(5, 70),
    right: number(-70, 70),
  });

  test.each([
    ['stands at the origin and looks along +z', 0, [0, 90, 0]],
    ['stands elsewhere', 0, [70, 90, -20]],
    ['looks along +x at rest', Math.PI / 2, [0, 90, 0]],
    ['looks aslant at rest', 0.7, [12, 90, 33]],
  ] as const)('who %s is flipped where he stands, and goes on looking where he looks', (_, rest, place) => {
    fc.assert(
      fc.property(angles, ({ x, z, turn, lean, left, right }) => {
        const shot = restsAt(
          puppet({
            'hips.tx': curve([0, x]),
            'hips.tz': curve([0, z]),
            'hips.ry': curve([0, turn]),
            'arm_l.rz': curve([0, left]),
            'arm_l.rx': curve([0, lean]),
            'arm_r.ry': curve([0, right]),
            'hand_r.rz': curve([0, -left]),
          }),
          rest,
          [...place],
        );
        const after = run(shot, 'poses.flip', { frame: 0 });
        const [was, now] = [places(shot, 0), places(after, 0)];
        const at = was.get('hips')!;
        for (const [id, from] of was) {
          const expected = image(from, at, heading(shot, 0));
          now
            .get(id === 'hips' ? id : other(id))!
            .forEach((value, k) => expect(value).toBeCloseTo(expected[k]!, 6));
        }
        expect(Math.cos(heading(after, 0) - heading(shot, 0))).toBeCloseTo(1, 9);
        const twice = run(after, 'poses.flip', { frame: 0 });
        valuesAt(twice, 0).forEach((value, c) => {
          const before = valuesAt(shot, 0)[c]!;
          expect(Math.abs(value - before) % 360 < 1e-6 || 360 - (Math.abs(value - before) % 360) < 1e-6).toBe(
            true,
          );
        });
      }),
      { numRuns: 40 },
    );
  });

  test('by choice it is flipped about the middle of the world, or along a control', () => {
    const shot = puppet({
      'hips.tx': curve([0, 50]),
      'hips.ry': curve([0, 90]),
      'arm_l.rz': curve([0, 40]),
      'hand_l.ry': curve([0, 9]),
    });
    const world = run(shot, 'poses.flip', { frame: 0, plane: 'world' });
    for (const [id, [x, y, z]] of places(shot, 0))
      places(world, 0)
        .get(id === 'hips' ? id : other(id))!
        .forEach((value, k) => expect(value).toBeCloseTo([-x, y, z][k]!, 6));
    const about = run(shot, 'poses.flip', { frame: 0, plane: 'node', about: 'hips' });
    const own = run(shot, 'poses.flip', { frame: 0 });
    valuesAt(about, 0).forEach((value, c) => expect(value).toBeCloseTo(valuesAt(own, 0)[c]!, 9));
    expect(
      runEdit('poses.flip', shot, choose({}), { frame: 0, plane: 'node', about: 'nobody' }).report
        .findings[0]!.code,
    ).toBe('unknownNode');
  });

  test('pasted flipped where the pose stood; of one axis alone, the others stay', () => {
    const shot = puppet({
      'hips.tx': curve([0, 50]),
      'arm_l.rz': curve([0, 40]),
      'arm_r.rx': curve([0, 7]),
      'arm_r.ry': curve([0, -12]),
      'arm_r.rz': curve([0, 3]),
    });
    const after = run(shot, 'poses.paste', { pose: { values: { 'arm_l.rz': 25 } }, frame: 0, flip: true });
    const at = (id: string) =>
      valuesAt(after, 0)[after.nodes.findIndex((node) => node.id === 'arm_r') * 6 + 3 + 'xyz'.indexOf(id)]!;
    [7, -12, -25].forEach((value, axis) => expect(at('xyz'[axis]!)).toBeCloseTo(value, 9));
    expect(curveOf(after, null, 'hips.tx')).toBe(curveOf(shot, null, 'hips.tx'));
  });

  test('a root that stands still and carries nothing of its own is left: the hips below it are the body', () => {
    const root: Node = { ...puppetNodes()[0]!, id: 'world', rest: AT_REST };
    const base = puppet({ 'hips.tx': curve([0, 44]), 'hips.ry': curve([0, 70]), 'arm_l.rz': curve([0, 30]) });
    const shot = withCurves(
      {
        ...base,
        nodes: [
          root,
          ...base.nodes.map((node) => (node.parent === null ? { ...node, parent: 'world' } : node)),
        ],
        curves: [],
      },
      null,
      new Map(['hips.tx', 'hips.ry', 'arm_l.rz'].map((id) => [id, curveOf(base, null, id)])),
    );
    const after = run(shot, 'poses.flip', { frame: 0 });
    expect(places(after, 0).get('world')).toEqual([0, 0, 0]);
    places(after, 0)
      .get('hips')!
      .forEach((value, k) => expect(value).toBeCloseTo(places(shot, 0).get('hips')![k]!, 9));
  });
});

describe('a range', () => {
  /** Half a walk along a direction: the body sways, the arms swing. */
  const walker = (angle: number): Shot => {
    const degrees = (angle * 180) / Math.PI;
    const along = (forward: number, left: number): Triple => [
      30 + forward * Math.sin(angle) + left * Math.cos(angle),
      0,
      -9 + forward * Math.cos(angle) - left * Math.sin(angle),
    ];
    const path = [
      [0, 0, 2],
      [4, 14, 0.5],
      [12, 40, -2],
    ] as const;
    const on = (axis: number) =>
      made(path.flatMap(([frame, forward, left]) => [frame, along(forward, left)[axis]!]));
    return puppet({
      'hips.tx': on(0),
      'hips.tz': on(2),
      'hips.ry': made([0, degrees + 7, 12, degrees - 7]),
      'arm_l.rx': made([0, 30, 5, 4, 12, -30]),
      'arm_r.rx': made([0, -30, 12, 30]),
      'hand_l.rz': made([0, 10, 12, 10]),
      'hand_r.rz': made([0, -10, 12, -10]),
    });
  };

  test.each([0, Math.PI / 2, 2.2])(
    'placed after itself, half a walk along %f rad goes on along it',
    (angle) => {
      const shot = walker(angle);
      const after = run(shot, 'poses.flipRange', { append: true }, choose({ range: { start: 0, end: 12 } }));
      const [start, end] = [places(shot, 0).get('hips')!, places(shot, 12).get('hips')!];
      const middle = start.map((value, k) => (value + end[k]!) / 2) as Triple;
      const step = [end[0] - start[0], 0, end[2] - start[2]];
      const forward = step[0]! * Math.sin(angle) + step[2]! * Math.cos(angle);
      for (let frame = 0; frame <= 12; frame += 1) {
        const [was, now] = [places(shot, frame), places(after, frame + 12)];
        for (const [id, from] of was) {
          const [x, y, z] = image(from, middle, angle);
          const expected = [x + forward * Math.sin(angle), y, z + forward * Math.cos(angle)];
          // The seam frame is the last of the first half.
          if (frame > 0)
            now
              .get(id === 'hips' ? id : other(id))!
              .forEach((value, k) => expect(value).toBeCloseTo(expected[k]!, 5));
        }
      }
    },
  );

  test('flipped in place, arms whose axes are copied keep the reflection between keys', () => {
    const tilt: Quaternion = [0, 0, Math.sin(-0.4), Math.cos(-0.4)];
    const base = puppet({
      'arm_l.rx': made([0, 30, 9, -50, 20, 10]),
      'arm_l.ry': made([0, -40, 12, 35, 20, 0]),
      'arm_l.rz': made([0, 0, 6, 60, 20, 5]),
    });
    // Both hang down their own side, but the axes of one are turned about its bone: signs alone do not reflect it.
    const nodes = base.nodes.map((node): Node => {
      if (node.id === 'arm_l') return { ...node, rest: { ...node.rest, rotation: tilt } };
      if (node.id !== 'arm_r') return node;
      const half = multiply([0, 0, -tilt[2], tilt[3]], [Math.sin(0.45), 0, 0, Math.cos(0.45)]);
      return { ...node, rest: { ...node.rest, rotation: half } };
    });
    const shot = { ...base, nodes };
    const after = run(shot, 'poses.flipRange', {}, choose({ range: { start: 0, end: 20 } }));
    const row = (id: string) => shot.nodes.findIndex((node) => node.id === id);
    for (let frame = 0; frame <= 20; frame += 0.5) {
      const [was, now] = [worldAt(shot, frame), worldAt(after, frame)];
      const hand = placeIn(was, row('hand_l'));
      placeIn(now, row('hand_r')).forEach((value, k) =>
        expect(Math.abs(value - [-hand[0], hand[1], hand[2]][k]!)).toBeLessThan(0.1),
      );
    }
  });

  test('in part, nothing outside moves', () => {
    const shot = walker(0.3);
    const after = run(shot, 'poses.flipRange', {}, choose({ range: { start: 4, end: 8 } }));
    for (const frame of [0, 1.5, 3, 9, 10.25, 12])
      valuesAt(after, frame).forEach((value, c) => expect(value).toBeCloseTo(valuesAt(shot, frame)[c]!, 8));
  });
});

describe('facing', () => {
  test('is found from where left and right controls rest, and can be set', () => {
    for (const degrees of [0, 90, 180, -90]) {
      const shot = restsAt(puppet(), (degrees * Math.PI) / 180, [5, 90, 5]);
      expect(facingOf(shot, 'puppet')).toEqual({ degrees, how: 'sides', feetDisagree: false });
    }
    const set = run(puppet(), 'poses.setFacing', { character: 'puppet', degrees: 45 });
    expect(facingOf(set, 'puppet')).toMatchObject({ degrees: 45, how: 'set' });
    expect(facingOf(run(set, 'poses.setFacing', { character: 'puppet' }), 'puppet').how).toBe('sides');
    expect(
      runEdit('poses.setFacing', puppet(), choose({}), { character: 'nobody', degrees: 0 }).report
        .findings[0]!.code,
    ).toBe('whichCharacter');
    expect(facingOf({ ...puppet(), nodes: [puppetNodes()[0]!] }, 'puppet').how).toBe('assumed');
  });

  test('the flip test is at one with it: mirror at any facing, place and rest scale of −1; scale channels too', () => {
    const scaled = puppetNodes().map((node) => ({ ...node, channels: [...node.channels, 'sx', 'sy', 'sz'] }));
    const mirrored = scaled.map((node): Node =>
      node.id === 'arm_r'
        ? { ...node, rest: { ...node.rest, scale: [-1, 1, 1] } }
        : node.id === 'hand_r'
          ? { ...node, rest: { ...node.rest, translation: [30, 0, 0] } }
          : node,
    );
    for (const nodes of [scaled, mirrored])
      for (const degrees of [0, 90, 33]) {
        const shot = restsAt({ ...puppet(), nodes }, (degrees * Math.PI) / 180, [40, 90, 2]);
        expect(flipTest(shot).map(({ node, state }) => [node, state])).toEqual(
          shot.nodes.map(({ id }) => [id, 'mirror']),
        );
      }
    const odd = scaled.map((node): Node =>
      node.id === 'arm_r'
        ? { ...node, rest: { ...node.rest, rotation: [0.5, 0.5, 0.5, 0.5], scale: [2, 1, 1] } }
        : node,
    );
    expect(flipTest({ ...puppet(), nodes: odd }).find(({ node }) => node === 'hand_r')!.state).not.toBe(
      'mirror',
    );
  });
});

describe('blending', () => {
  test('two writings of one orientation blend to it; half way is the half of the turn', () => {
    fc.assert(
      fc.property(number(-170, 170), number(-80, 80), number(-170, 170), (x, y, z) => {
        // arm_l is of order zyx: its middle angle is y.
        const shot = puppet({
          'arm_l.rx': curve([0, x]),
          'arm_l.ry': curve([0, y]),
          'arm_l.rz': curve([0, z]),
        });
        const stored = { values: { 'arm_l.rx': x + 180, 'arm_l.ry': 180 - y, 'arm_l.rz': z - 180 } };
        const { shot: after } = runEdit('poses.blend', shot, choose({ nodes: ['arm_l'] }), {
          frame: 0,
          toward: 'stored',
          amount: 0.5,
          pose: stored,
        });
        for (const name of ['rx', 'ry', 'rz'])
          expect(curveOf(after, null, `arm_l.${name}`).values[0]).toBeCloseTo(
            curveOf(shot, null, `arm_l.${name}`).values[0]!,
            6,
          );
      }),
    );
    const shot = puppet({
      'arm_l.rx': curve([0, 20]),
      'arm_l.ry': curve([0, 10]),
      'arm_l.rz': curve([0, -30]),
    });
    const stored = { values: { 'arm_l.rx': -50, 'arm_l.ry': 60, 'arm_l.rz': 90 } };
    const after = run(
      shot,
      'poses.blend',
      { frame: 0, toward: 'stored', amount: 0.5, pose: stored },
      choose({ nodes: ['arm_l'] }),
    );
    const turn = (values: readonly number[]): Quaternion => {
      const q: Quaternion = [0, 0, 0, 1];
      quatFromEuler(q, 0, values[0]!, values[1]!, values[2]!, 'zyx');
      return q;
    };
    const now = turn(['rx', 'ry', 'rz'].map((name) => curveOf(after, null, `arm_l.${name}`).values[0]!));
    const [a, b] = [turn([20, 10, -30]), turn([-50, 60, 90])];
    expect(angleBetween(now, a)).toBeCloseTo(angleBetween(a, b) / 2, 5);
    expect(angleBetween(now, b)).toBeCloseTo(angleBetween(a, b) / 2, 5);
  });

  test('a switch is not blended, and that is said', () => {
    const nodes = puppetNodes().map((node) =>
      node.id === 'hand_l' ? { ...node, channels: [...node.channels, 'ik'] } : node,
    );
    const shot = { ...puppet({ 'hand_l.rx': curve([0, 10]) }), nodes };
    const { report, shot: after } = runEdit('poses.blend', shot, choose({ nodes: ['hand_l'] }), {
      frame: 0,
      toward: 'stored',
      amount: 0.5,
      pose: { values: { 'hand_l.ik': 1, 'hand_l.rx': 20 } },
    });
    expect(report.findings.map(({ code }) => code)).toEqual(['switchesStay']);
    expect(curveOf(after, null, 'hand_l.ik').times).toHaveLength(0);
  });
});

describe('posing on passes', () => {
  const arm = choose({ channels: ['arm_l.rx', 'arm_l.ry', 'arm_l.rz'] });
  const layered = (more: object) => {
    const base = puppet({ 'arm_l.rx': curve([0, 10]), 'arm_l.ry': curve([0, 0]), 'arm_l.rz': curve([0, 0]) });
    return { ...base, layers: [pass('p', more), pass('q')] };
  };

  test('outside the bookends nothing is keyed, with a sentence', () => {
    const shot = layered({ range: { start: 4, end: 10 } });
    const { report } = runEdit('passes.pose', shot, arm, {
      pass: 'p',
      values: { 'arm_l.rx': 30 },
      frame: 12,
    });
    expect([report.status, report.findings[0]!.code]).toEqual(['refused', 'outsideBookends']);
  });

  test('a turn that the weight cannot show is said, not turned the other way', () => {
    const shot = layered({ rotations: 'orientations', weight: curve([0, 0.5]) });
    const far = runEdit('passes.pose', shot, arm, { pass: 'p', values: { 'arm_l.rx': 130 }, frame: 0 });
    expect([far.shot === shot, far.report.findings[0]!.code]).toEqual([true, 'beyondWeight']);
    const near = runEdit('passes.pose', shot, arm, { pass: 'p', values: { 'arm_l.rx': 95 }, frame: 0 });
    expect(valuesAt(near.shot, 0)[shot.nodes.findIndex(({ id }) => id === 'arm_l') * 6 + 3]).toBeCloseTo(
      95,
      6,
    );
  });

  test('rest on a solo pass shows what lies below it, and a locked chosen pass can be unlocked', () => {
    const shot = withCurves(layered({ solo: true }), 'p', new Map([['arm_l.rx', curve([0, 25])]]));
    const other = withCurves(shot, 'q', new Map([['arm_l.rx', curve([0, 70])]]));
    const after = runEdit('poses.rest', other, choose({ ...arm, layer: 'p' }), { frame: 0 }).shot;
    expect(valuesAt(after, 0)[shot.nodes.findIndex(({ id }) => id === 'arm_l') * 6 + 3]).toBeCloseTo(10, 9);
    const locked = layered({ locked: true });
    const open = runEdit('passes.set', locked, choose({ layer: 'p' }), { pass: 'p', locked: false });
    expect(open.shot.layers[0]!.locked).toBe(false);
    expect(
      runEdit('poses.rest', locked, choose({ ...arm, layer: 'p' }), { frame: 0 }).report.findings[0]!.code,
    ).toBe('lockedPass');
  });
});
