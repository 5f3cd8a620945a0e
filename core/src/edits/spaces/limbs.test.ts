/** Limbs: the law of cosines under scaled parents, goals for captured skeletons, and going over from joints to goals and back. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../../base/random.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { unit } from '../../math/quaternion.ts';
import { AT_REST } from '../../rig/node.ts';
import { limbsOf } from '../../rig/limbs.ts';
import { reachOf } from '../../rig/relations/reach.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { bareNode as node, choose, curve, RATE } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

type Pose = ReturnType<typeof worldAt>;
type Place = ReturnType<typeof placeIn>;

describe('a reach', () => {
  test('of 1,000 limbs under scaled and turned parents comes to its goal; what is out of reach is stopped short, or stretched to', () => {
    const { next } = seededRandom(11);
    const spread = (size: number) => (next() - 0.5) * 2 * size;
    let [reached, stretched] = [0, 0];
    for (let i = 0; i < 1000; i += 1) {
      const [first, second, size] = [10 + 40 * next(), 10 + 40 * next(), 0.4 + 2 * next()];
      const stretch = i % 2 === 0;
      const nodes = [
        node('body', null, {
          rest: {
            translation: [spread(50), spread(50), spread(50)],
            rotation: unit([spread(1), spread(1), spread(1), 1]),
            scale: [size, size, size],
          },
        }),
        node('root', 'body', { rest: { ...AT_REST, translation: [spread(9), spread(9), spread(9)] } }),
        node('middle', 'root', { rest: { ...AT_REST, translation: [first, 0, 0] } }),
        node('end', 'middle', { rest: { ...AT_REST, translation: [second, 0, 0] } }),
        node('goal', null, { rest: { ...AT_REST, translation: [spread(120), spread(120), spread(120)] } }),
        node('pole', null, { rest: { ...AT_REST, translation: [spread(90), spread(90), spread(90)] } }),
      ];
      const chain = reachOf({
        id: 'limb',
        root: 'root',
        middle: 'middle',
        end: 'end',
        target: 'goal',
        pole: 'pole',
        blend: 'goal.none',
        tip: null,
      });
      const relation = { ...chain, weight: null, settings: { ...chain.settings, stretch } };
      const pose = worldAt(newShot('Limb', nodes, [relation], RATE, { start: 0, end: 1 }), 0);
      const at = (row: number) => placeIn(pose, row);
      const [root, middle, end, goal] = [at(1), at(2), at(3), at(4)];
      const apart = (a: number[], b: number[]) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!, a[2]! - b[2]!);
      const [a, b, c] = [first * size, second * size, apart(root, goal)];
      const within = c <= a + b && c >= Math.abs(a - b);
      if (within) {
        reached += 1;
        expect(apart(end, goal) / (a + b)).toBeLessThan(1e-9);
        // Law of cosines: the angle at the middle joint.
        const inner = (a * a + b * b - c * c) / (2 * a * b);
        const seen =
          (apart(root, middle) ** 2 + apart(middle, end) ** 2 - apart(root, end) ** 2) /
          (2 * apart(root, middle) * apart(middle, end));
        expect(Math.abs(inner - seen)).toBeLessThan(1e-7);
      } else if (c > a + b) {
        if (stretch) stretched += 1;
        expect(stretch ? apart(end, goal) / c : Math.abs(apart(root, end) - (a + b)) / c).toBeLessThan(1e-7);
      }
    }
    expect(reached).toBeGreaterThan(200);
    expect(stretched).toBeGreaterThan(100);
  });
});

test('in bodies that are mirrored and of any size, goals and poles in handles that are turned and uneven: matched, bent or straight, each joint lies as it lay', () => {
  const { next } = seededRandom(23);
  const spread = (size: number) => (next() - 0.5) * 2 * size;
  const turned = () => unit([spread(1), spread(1), spread(1), 1]);
  for (let i = 0; i < 60; i += 1) {
    const size = (i % 3 === 0 ? -1 : 1) * (0.4 + 2 * next());
    const [sx, sy, sz] = [
      [size, Math.abs(size), Math.abs(size)],
      [1, 1, 1].map(() => Math.abs(size)),
      [size, -size, size],
    ][i % 3]! as [number, number, number];
    const body = {
      translation: [spread(50), spread(50), spread(50)] as const,
      rotation: turned(),
      scale: [sx, sy, sz] as const,
    };
    const bone = (x: number) => ({ rest: { ...AT_REST, translation: [x, 0, 0] as const } });
    const handle = (id: string, at: readonly [number, number, number]) =>
      node(id, i % 2 === 0 ? 'body' : null, {
        channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sx', 'sy', 'sz'],
        rest: { translation: at, rotation: turned(), scale: [1 + next(), 0.5 + next(), 0.3 + next()] },
      });
    const hung = (id: string, on: string, channels: string[]) =>
      node(id, on, {
        rest: { ...AT_REST, translation: [spread(9), spread(9), spread(9)], rotation: turned() },
        channels,
      });
    const straight = i % 4 < 2;
    const keys = straight
      ? {}
      : {
          'root.rx': spread(90),
          'root.ry': spread(70),
          'root.rz': spread(90),
          'middle.ry': 20 + 90 * next(),
        };
    const limb = reachOf({
      ...{ id: 'limb', root: 'root', middle: 'middle', end: 'end', target: 'goal', pole: 'pole' },
      ...{ blend: 'goal.ik', tip: null },
    });
    const shot = withCurves(
      newShot(
        'Limb',
        [
          node('body', null, { rest: body }),
          node('root', 'body', { rest: { ...AT_REST, translation: [spread(9), spread(9), spread(9)] } }),
          node('middle', 'root', bone(10 + 30 * next())),
          node('end', 'middle', bone(10 + 30 * next())),
          node('aside', 'middle', { rest: { ...AT_REST, translation: [3, 7, 5] } }),
          node('tip', 'end', { rest: { ...AT_REST, translation: [4, 6, -3] } }),
          handle('goal-handle', [spread(60), spread(60), spread(60)]),
          handle('pole-handle', [30, spread(9), -60]),
          hung('goal', 'goal-handle', ['ik']),
          hung('pole', 'pole-handle', []),
        ],
        [limb],
        RATE,
        { start: 0, end: 4 },
      ),
      null,
      new Map(
        Object.entries({ ...keys, 'end.rx': spread(80), 'end.rz': spread(80), 'goal.ik': 0 }).map(
          ([id, value]) => [id, curve([0, value])],
        ),
      ),
    );
    const matched = runEdit('spaces.matchLimb', shot, choose({}), { relation: 'limb', to: 'goal' });
    expect(matched.report.status).toBe('changed');
    for (const name of ['sx', 'sy', 'sz'])
      expect(curveOf(matched.shot, null, `goal-handle.${name}`).times).toHaveLength(0);
    const [was, is] = [worldAt(shot, 2).matrices.slice(), worldAt(matched.shot, 2).matrices];
    const rows = ['middle', 'end', 'tip', ...(straight ? ['aside'] : [])].map(rigOf(shot).indexOf);
    for (const row of rows)
      for (const axis of [12, 13, 14])
        expect([i, row, Math.abs(was[row * 16 + axis]! - is[row * 16 + axis]!) < 0.05]).toEqual([
          i,
          row,
          true,
        ]);
  }
});

describe('captured motion (CMU, 01_01.bvh)', () => {
  const whole = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01').shot;
  const shot: Shot = { ...whole, range: { start: 400, end: 460 } };
  const joints = shot.nodes.map(({ id }) => id);
  const farthest = (before: Shot, after: Shot, step = 1) => {
    let far = 0;
    for (let frame = 400; frame <= 460; frame += step) {
      const [a, b] = [worldAt(before, frame), worldAt(after, frame)];
      for (const id of joints) {
        const [p, q] = [placeIn(a, rigOf(before).indexOf(id)), placeIn(b, rigOf(after).indexOf(id))];
        far = Math.max(far, Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]));
      }
    }
    return far;
  };
  const placesApart = (a: Shot, b: Shot, id: string, frame: number) => {
    const [p, q] = [a, b].map((of) => placeIn(worldAt(of, frame), rigOf(of).indexOf(id)));
    return Math.hypot(p![0] - q![0], p![1] - q![1], p![2] - q![2]);
  };
  const valueAt = (of: Shot, channel: string, frame: number) =>
    valuesAt(of, frame)[rigOf(of).channelIndex(channel)]!;
  const made = runEdit('spaces.addGoals', shot, choose({}), { space: 2, turn: 0.5 });
  const posed = made.shot;

  test('has two arms and two legs, found by names and bones', () => {
    expect(limbsOf(rigOf(shot))).toHaveLength(4);
    expect(made.report.status).toBe('changed');
    expect(made.shot.relations.filter(({ kind }) => kind === 'reach')).toHaveLength(4);
  });

  test('only the limbs of what is selected, by any of their joints; all where none of them is', () => {
    const limbs = limbsOf(rigOf(shot));
    const endsOf = (nodes: string[]) =>
      runEdit('spaces.addGoals', shot, choose({ nodes }), { space: 20, turn: 5 })
        .shot.relations.filter(({ kind }) => kind === 'reach')
        .map(({ node }) => node);
    const [one, other] = limbs as [(typeof limbs)[number], (typeof limbs)[number]];
    expect(endsOf([one.middle])).toHaveLength(1);
    expect(endsOf([one.end, other.root])).toHaveLength(2);
    expect(endsOf([shot.nodes[0]!.id])).toHaveLength(4);
    // What limbs hang on is none of them.
    for (const { root } of limbs)
      expect(endsOf([shot.nodes.find(({ id }) => id === root)!.parent!])).toHaveLength(4);
  });

  test('gets goals in one step, and no joint moves by more than was said', () => {
    expect(farthest(shot, posed, 0.5)).toBeLessThan(0.2);
    expect(runEdit('spaces.addGoals', posed, choose({}), {}).report.findings[0]!.code).toBe('allHaveGoals');
  });

  test('is posed by a goal on one frame, and goes back to joints that show the same', () => {
    const [relation] = posed.relations;
    const goal = relation!.targets[0]!.node!;
    const lifted = runEdit('keys.setValue', posed, choose({ channels: [`${goal}.ty`] }), {
      value: 5,
      relative: true,
    }).shot;
    const back = runEdit('spaces.toJoints', lifted, choose({}), {
      relation: relation!.id,
      space: 2,
      turn: 0.5,
    });
    expect(back.report.status).toBe('changed');
    expect(farthest(posed, lifted)).toBeCloseTo(5, 3);
    expect(farthest(lifted, back.shot)).toBeLessThan(0.2);
    expect(back.shot.nodes.some(({ id }) => id === goal)).toBe(false);
    expect(back.shot.relations).toHaveLength(3);
  });

  test('posed by a goal on an offset pass at three frames, the hips lowered: only that arm moves, and the feet stay pinned', () => {
    const arm = posed.relations.find(({ node }) => /^left.*(hand|wrist)/i.test(node))!;
    const goal = arm.targets[0]!.node!;
    const hips = rigOf(shot).nodes[rigOf(shot).order[0]!]!.id;
    const run = (of: Shot, edit: string, options: object, channels: string[], pass: string | null) => {
      const { shot: after, report } = runEdit(edit, of, choose({ channels, layer: pass }), options);
      expect([edit, report.status]).toEqual([edit, 'changed']);
      return after;
    };
    let layered = run(posed, 'passes.addOffset', {}, [`${goal}.ty`, `${hips}.ty`], null);
    const pass = layered.layers[0]!.id;
    for (const [frame, value] of [
      [405, 0],
      [430, 9],
      [455, 0],
    ] as const) {
      layered = run(
        layered,
        'passes.pose',
        { pass, frame, values: { [`${goal}.ty`]: valueAt(posed, `${goal}.ty`, frame) + value } },
        [],
        pass,
      );
    }
    const moved = joints.filter((id) => placesApart(shot, layered, id, 430) > 0.2);
    expect(moved.length).toBeGreaterThan(1);
    // The joints that the reach turns, and what hangs on them.
    const { root } = arm.settings as { root: string };
    const hangs = (id: string | null): boolean =>
      id !== null && (id === root || hangs(rigOf(shot).nodes[rigOf(shot).indexOf(id)]!.parent));
    expect(moved.filter((id) => !hangs(id))).toEqual([]);
    layered = run(
      layered,
      'passes.pose',
      { pass, frame: 430, values: { [`${hips}.ty`]: valueAt(posed, `${hips}.ty`, 430) - 2 } },
      [],
      pass,
    );
    for (const { node: end } of posed.relations.filter(({ node }) => /(foot|ankle)/i.test(node)))
      expect([end, placesApart(shot, layered, end, 430) < 0.2]).toEqual([end, true]);
    // Back to joints under the pass: what it shows stays.
    const back = run(layered, 'spaces.toJoints', { relation: arm.id, space: 2, turn: 0.5 }, [], null);
    expect(farthest(layered, back)).toBeLessThan(0.2);
  });

  test('goes over to its joints and back to its goal without a pop', () => {
    const [relation] = posed.relations;
    const over = runEdit('spaces.matchLimb', posed, choose({ range: { start: 420, end: 440 } }), {
      relation: relation!.id,
      to: 'joints',
      space: 2,
      turn: 0.5,
    });
    expect(over.report.status).toBe('changed');
    expect([...curveOf(over.shot, null, relation!.weight!).values]).toEqual([1, 0, 1]);
    expect(farthest(posed, over.shot)).toBeLessThan(0.2);
    const home = runEdit('spaces.matchLimb', over.shot, choose({ range: { start: 420, end: 440 } }), {
      relation: relation!.id,
      to: 'goal',
      space: 2,
      turn: 0.5,
    });
    expect(farthest(over.shot, home.shot)).toBeLessThan(0.2);
  });
});

test('matched at one frame: the joints take the pose there', () => {
  const shot = DEMO_SHOTS.find(({ id }) => id === 'night-round')!.make();
  const arm = shot.relations.find(({ node }) => node === 'hand_l')!;
  const { report } = runEdit('spaces.matchLimb', shot, choose({ range: { start: 10, end: 10 } }), {
    relation: arm.id,
    to: 'joints',
  });
  expect(report.status).toBe('changed');
});

test('goals of a limb that is all but straight: it bends this way and that by a millimetre, and is held in place and turn, with keys on less than half of the places that there are', () => {
  for (const seed of [1, 2, 3, 4]) {
    const { next } = seededRandom(seed);
    const nodes = [
      node('upper', null, { rest: { ...AT_REST, translation: [0, 140, 0] } }),
      node('lower', 'upper', { rest: { ...AT_REST, translation: [30, 0, 0] } }),
      node('end', 'lower', { rest: { ...AT_REST, translation: [26, 0, 0] } }),
      node('finger', 'end', { rest: { ...AT_REST, translation: [8, 2, 0] } }),
    ];
    const noise = (size: number) =>
      curve(Array.from({ length: 49 }, (_, i) => [i, (next() - 0.5) * 2 * size]).flat(), 'linear');
    const shot = withCurves(
      newShot('Straight', nodes, [], RATE, { start: 0, end: 48 }),
      null,
      new Map([
        ['upper.rz', curve([0, -20, 20, 35, 48, 5])],
        ['upper.rx', curve([0, 0, 48, 60])],
        ['lower.rz', noise(0.4)],
        ['lower.ry', noise(0.4)],
        ['end.ry', curve([0, 0, 30, 40, 48, 10])],
      ]),
    );
    const { shot: after, report } = runEdit('spaces.addGoals', shot, choose({}), { ends: ['end'] });
    const value = (name: string) => report.measures.find((one) => one.name === name)!.value;
    const [far, turned] = ['distance', 'turn'].map((of) =>
      Math.max(value(`greatest ${of} on frames`), value(`greatest ${of} between frames`)),
    );
    expect([far! < 1, turned! < 0.22]).toEqual([true, true]);
    // What is more than was asked is said.
    expect(report.findings.some(({ code }) => code === 'notKept')).toBe(turned! > 0.204);
    // Nine channels, 48 frames, of which each may be cut in eight.
    expect(value('keys written')).toBeLessThan((9 * 48 * 8) / 2);
    expect(placeIn(worldAt(after, 31.4), 3)).toEqual(
      placeIn(worldAt(shot, 31.4), 3).map((one) => expect.closeTo(one, 1)),
    );
  }
});

test('limbs whose goals lie out of their reach for a while go over to their joints and back: straight they stay straight, rolled as they were', () => {
  const demo = DEMO_SHOTS.find(({ id }) => id === 'oven-door')!.make();
  let [straight, keys] = [0, 0];
  for (let seed = 1; seed <= 8; seed += 1) {
    const { next } = seededRandom(seed);
    const arm = demo.relations.find(({ node }) => node === ['hand_r', 'hand_l'][seed % 2])!;
    const goal = arm.targets[0]!.node!;
    const rig = rigOf(demo);
    const [root, middle, end] = ['upperarm', 'forearm', 'hand'].map((part) =>
      rig.indexOf(`${part}_${arm.node.slice(-1)}`),
    ) as [number, number, number];
    // Ahead of the shoulder, near and far by turns.
    const at = placeIn(worldAt(demo, 30), root);
    const far = (i: number) => (i % 3 === seed % 3 ? 70 : 38 + 8 * next());
    const stations = [20, 31, 38.5, 49, 60].map((frame, i) => {
      const way = unit([next() - 0.5, -0.3 - 0.5 * next(), 0.9, 0]);
      return { frame, place: [0, 1, 2].map((axis) => at[axis]! + way[axis]! * far(i)) };
    });
    const axes = ['tx', 'ty', 'tz'].map((name, axis) => {
      const rest = rig.nodes[rig.indexOf(goal)]!.rest.translation[axis]!;
      return [
        `${goal}.${name}`,
        curve(stations.flatMap(({ frame, place }) => [frame, place[axis]! - rest])),
      ] as const;
    });
    const led = withCurves(demo, null, new Map(axes));
    const range = { start: 20 + (seed % 5), end: 60 - (seed % 7) };
    let shot = led;
    for (const to of ['joints', 'goal']) {
      const { shot: after, report } = runEdit('spaces.matchLimb', shot, choose({ range }), {
        relation: arm.id,
        to,
        turn: 0.5,
      });
      if (to === 'goal') keys += report.measures.find(({ name }) => name === 'keys written')!.value;
      expect([seed, to, report.status]).toEqual([seed, to, 'changed']);
      const onFrames = (of: string) =>
        report.measures.find(({ name }) => name === `greatest ${of} on frames`)!;
      expect([seed, to, onFrames('distance').value < 1.5, onFrames('turn').value < 0.5]).toEqual([
        seed,
        to,
        true,
        true,
      ]);
      // Between two frames a limb that comes out of reach snaps straight as fast as a root does from nothing: what that leaves is said.
      const [place, turn] = ['distance', 'turn'].map(
        (of) => report.measures.find(({ name }) => name === `greatest ${of} between frames`)!.value,
      ) as [number, number];
      expect(report.findings.map(({ code }) => code)).toEqual(place > 1.02 || turn > 0.51 ? ['notKept'] : []);
      shot = after;
    }
    for (let frame = range.start; frame <= range.end; frame += 0.5) {
      const [was, is] = [led, shot].map((one) => worldAt(one, frame)) as [Pose, Pose];
      const apart = (a: ArrayLike<number>, b: ArrayLike<number>) =>
        Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!, a[2]! - b[2]!);
      const places = (pose: Pose) => [root, middle, end].map((row) => placeIn(pose, row));
      const [shoulder, elbow, wrist] = places(was) as [Place, Place, Place];
      if (apart(shoulder, elbow) + apart(elbow, wrist) - apart(shoulder, wrist) < 1e-6) straight += 1;
      for (const [i, place] of places(is).entries())
        expect([seed, frame, apart(places(was)[i]!, place) < 0.2]).toEqual([seed, frame, true]);
    }
  }
  // Of 8 × some 80.
  expect(straight).toBeGreaterThan(100);
  // Goals that lie at the wrists themselves take 2,200.
  expect(keys).toBeLessThan(1500);
});
