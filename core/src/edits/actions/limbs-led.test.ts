/** An action of joints on a figure whose limbs hang on goals: the goals are keyed, the limbs show what the joints say. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { nightRound } from '../../demo/night-round.ts';
import { FLAG } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { constantCurve, curveOf, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { choose, curve, pass } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const captured = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01').shot;
const saved = (shot: Shot, range: { start: number; end: number }) =>
  runEdit('actions.save', shot, choose({ range, nodes: shot.nodes.map(({ id }) => id) }), { name: 'Walk' })
    .made as object;

/** The way from one joint to another, of length 1. */
function way(shot: Shot, frame: number, from: string, to: string): number[] {
  const pose = worldAt(shot, frame);
  const rig = rigOf(shot);
  const [p, q] = [from, to].map((id) => placeIn(pose, rig.indexOf(id)));
  const off = q!.map((value, axis) => value - p![axis]!);
  return off.map((value) => value / Math.hypot(...off));
}
const between = (a: number[], b: number[]) =>
  (Math.acos(
    Math.min(
      1,
      a.reduce((sum, value, axis) => sum + value * b[axis]!, 0),
    ),
  ) *
    180) /
  Math.PI;

const LIMBS = [
  ['LeftArm', 'LeftForeArm', 'upperarm_l', 'forearm_l'],
  ['RightForeArm', 'RightHand', 'forearm_r', 'hand_r'],
  ['LeftUpLeg', 'LeftLeg', 'thigh_l', 'shin_l'],
  ['RightLeg', 'RightFoot', 'shin_r', 'foot_r'],
];

const lockedKey = (value: number) =>
  rebuild(constantCurve(value, 4), null, ({ flags }) => (flags[0] = FLAG.locked));

const bram = (): Shot => {
  const { nodes, relations, characters, rate } = nightRound();
  const shot = { ...newShot('Empty', nodes, relations, rate, { start: 0, end: 48 }), characters };
  const weights = relations.flatMap(({ kind, weight }) =>
    kind === 'reach' && weight !== null ? [weight] : [],
  );
  return withCurves(shot, null, new Map(weights.map((id) => [id, constantCurve(1)])));
};
const FIRST = 300;
const worst = (shot: Shot) =>
  Math.max(
    ...[0, 7, 20, 33, 40].flatMap((frame) =>
      LIMBS.map(([a, b, c, d]) =>
        between(way(captured, FIRST + (frame * 40) / 40, a!, b!), way(shot, frame, c!, d!)),
      ),
    ),
  );

test('01_01.bvh on Bram, whose limbs hang on goals: they point as they pointed, by goals or by joints; left, they do not', () => {
  // One frame there is one here: what is tried is where limbs point.
  const action = { ...saved(captured, { start: FIRST, end: FIRST + 40 }), rate: bram().rate };
  const laid = (limbs: string) =>
    runEdit('actions.apply', bram(), choose({}), { action, match: 'both', frame: 0, limbs, feet: false });
  const said = ({ report }: ReturnType<typeof laid>) => report.findings.map(({ code }) => code);
  const goals = laid('goals');
  expect(said(goals)).toContain('goalsKeyed');
  expect(worst(goals.shot)).toBeLessThan(0.001);
  // The joints lie where they would without goals; what turns about its own bone alone is said.
  const [place, turn] = goals.report.measures.filter(({ name }) => name.endsWith('on frames'));
  expect(place!.value).toBeLessThan(1e-6);
  expect(said(goals).includes('notKept')).toBe(turn!.value > 0.2);
  const joints = laid('joints');
  expect(said(joints)).toContain('limbsSwitched');
  expect(worst(joints.shot)).toBeLessThan(0.001);
  const left = laid('leave');
  expect(said(left)).toContain('limbsStay');
  expect(worst(left.shot)).toBeGreaterThan(40);
});

test('an action that moves the goals itself, and limbs that their joints lead, are left alone', () => {
  const shot = nightRound();
  const action = saved(shot, { start: 0, end: 16 });
  const same = runEdit('actions.apply', shot, choose({}), { action, frame: 0 });
  const off = withCurves(
    bram(),
    null,
    new Map(bram().relations.flatMap(({ weight }) => (weight ? [[weight, constantCurve(0)]] : []))),
  );
  const walk = { ...saved(captured, { start: FIRST, end: FIRST + 4 }), rate: off.rate };
  const led = runEdit('actions.apply', off, choose({}), { action: walk, match: 'both', frame: 0 });
  for (const { report } of [same, led])
    expect(report.findings.filter(({ code }) => /^(limbs|goals)/.test(code))).toEqual([]);
});

test.each(['goal', 'switch', 'key'])(
  'a locked %s stays as it is, and that is said; the other limbs are keyed',
  (what) => {
    const action = { ...saved(captured, { start: FIRST, end: FIRST + 12 }), rate: bram().rate };
    const free = bram();
    const { weight } = free.relations.find(({ kind, node }) => kind === 'reach' && node === 'hand_l')!;
    const goal = 'hand_goal_l.tx';
    const keyed = withCurves(free, null, new Map([[goal, lockedKey(3)]]));
    const shot = what === 'key' ? keyed : { ...free, locked: [what === 'goal' ? goal : weight!] };
    for (const limbs of ['goals', 'joints']) {
      const { shot: after, report } = runEdit('actions.apply', shot, choose({}), {
        action,
        match: 'both',
        frame: 0,
        limbs,
      });
      expect(report.status).toBe('changed');
      // A locked switch that stands on the goal already need not be written.
      const stays = !(what === 'switch' && limbs === 'goals');
      const said = report.findings.find(({ code }) => code === 'limbsStay')?.sentence ?? '';
      expect(/hand_l\.$/.test(said)).toBe(stays);
      const done = report.findings.find(
        ({ code }) => code === (limbs === 'goals' ? 'goalsKeyed' : 'limbsSwitched'),
      );
      expect(done?.sentence).toMatch(/foot_l, hand_r, foot_r/);
      if (!stays) continue;
      for (const id of [goal, weight!]) expect(curveOf(after, null, id)).toEqual(curveOf(shot, null, id));
    }
  },
);

test('a limb that blends between goal and joints stays as it is, outside the range too, and that is said', () => {
  const action = { ...saved(captured, { start: FIRST, end: FIRST + 12 }), rate: bram().rate };
  const { weight } = bram().relations.find(({ kind, node }) => kind === 'reach' && node === 'hand_l')!;
  const shot = withCurves(bram(), null, new Map([[weight!, curve([0, 1, 40, 0.4])]]));
  const { shot: after, report } = runEdit('actions.apply', shot, choose({}), {
    action,
    match: 'both',
    frame: 4,
  });
  expect(curveOf(after, null, weight!)).toBe(curveOf(shot, null, weight!));
  expect(report.findings.find(({ code }) => code === 'limbsStay')?.sentence).toMatch(/hand_l\.$/);
});

test('under a spring over the goals the action is laid all the same', () => {
  const action = { ...saved(captured, { start: FIRST, end: FIRST + 12 }), rate: bram().rate };
  const plain = bram();
  const { shot } = runEdit('filters.add', plain, choose({ nodes: ['hand_goal_l', 'foot_goal_l'] }), {
    kind: 'spring',
  });
  expect(shot.layers).toHaveLength(1);
  const { report } = runEdit('actions.apply', shot, choose({}), { action, match: 'both', frame: 0 });
  expect([report.status, report.findings.map(({ code }) => code)]).toEqual(['changed', expect.anything()]);
});

test('under a pass that hides the goals the joints are laid all the same, and it is said', () => {
  const action = { ...saved(captured, { start: FIRST, end: FIRST + 12 }), rate: bram().rate };
  const cover = pass('p', { kind: 'replace', members: ['hand_goal_l'] });
  const shot = withCurves({ ...bram(), layers: [cover] }, 'p', new Map([['hand_goal_l.tx', curve([0, 5])]]));
  const { report } = runEdit('actions.apply', shot, choose({}), { action, match: 'both', frame: 0 });
  expect(report.status).toBe('changed');
  expect(report.findings.find(({ code }) => code === 'limbsStay')?.sentence).toMatch(/hand_l/);
});

test('on a pass, and placed as a block, it is said that the goals lead', () => {
  const action = { ...saved(captured, { start: FIRST, end: FIRST + 20 }), rate: bram().rate };
  const shot = {
    ...bram(),
    layers: [pass('p', { kind: 'offset', members: bram().nodes.map(({ id }) => id) })],
  };
  const onPass = runEdit('actions.apply', shot, choose({ layer: 'p' }), { action, match: 'both', frame: 0 });
  const placed = runEdit('actions.place', bram(), choose({}), { action, match: 'both', frame: 0 });
  for (const { report } of [onPass, placed])
    expect(report.findings.find(({ code }) => code === 'limbsStay')?.sentence).toContain('hand_l');
});

test('the hips of a take onto the root, said by hand: the goals that hang on the root are keyed so that the limbs still point as they pointed', () => {
  const action = { ...saved(captured, { start: FIRST, end: FIRST + 40 }), rate: bram().rate };
  const laid = (limbs: string) =>
    runEdit('actions.apply', bram(), choose({}), {
      ...{ action, match: 'both', frame: 0, limbs, feet: false, pairs: { Hips: 'root' } },
    });
  const goals = laid('goals');
  const keyed = (id: string) => curveOf(goals.shot, null, id).times.length;
  // The root goes where the hips went, and they stay on it.
  expect([keyed('root.tx') > 1, keyed('hips.tx')]).toEqual([true, 0]);
  for (const end of ['hand_goal_l', 'foot_goal_l', 'hand_goal_r', 'foot_goal_r'])
    expect(keyed(`${end}.tx`)).toBeGreaterThan(1);
  expect(worst(goals.shot)).toBeLessThan(0.001);
  expect(worst(laid('leave').shot)).toBeGreaterThan(40);
});

describe('two of them in one shot', () => {
  const both = (): Shot => {
    const { nodes, relations, characters, rate } = nightRound();
    const own = nodes.filter(({ character }) => character === 'bram');
    const ids = new Set(own.map(({ id }) => id));
    const other = (id: string) => (ids.has(id) ? `b:${id}` : id);
    const twins = own.map((node) => ({
      ...{ ...node, id: other(node.id), character: 'b' },
      ...{ parent: node.parent && other(node.parent), pair: node.pair && other(node.pair) },
    }));
    const limbs = relations.filter(({ kind, node }) => kind === 'reach' && ids.has(node));
    const renamed = JSON.parse(JSON.stringify(limbs), (_, value: unknown) => {
      const [id = '', ...more] = typeof value === 'string' ? value.split('.') : [];
      return ids.has(id) ? ['b:' + id, ...more].join('.') : value;
    }) as typeof limbs;
    const all = [...limbs, ...renamed.map((one) => ({ ...one, id: `b:${one.id}` }))];
    const bare = newShot('Both', [...nodes, ...twins], all, rate, { start: 0, end: 80 });
    const shot = { ...bare, characters: [...characters, { id: 'b', name: 'B' }] };
    const weights = all.flatMap(({ weight }) => (weight ? [weight] : []));
    return withCurves(shot, null, new Map(weights.map((id) => [id, constantCurve(1)])));
  };
  const pointing = (shot: Shot, of: string, from: number) =>
    Math.max(
      ...[0, 7, 20, 33].flatMap((frame) =>
        LIMBS.map(([a, b, c, d]) =>
          between(way(captured, FIRST + frame, a!, b!), way(shot, from + frame, of + c!, of + d!)),
        ),
      ),
    );
  const action = { ...saved(captured, { start: FIRST, end: FIRST + 40 }), rate: nightRound().rate };
  const lay = (shot: Shot, character: string, frame: number, more: object = {}) =>
    runEdit('actions.apply', shot, choose({}), {
      ...{ action, match: 'both', frame, limbs: 'goals', feet: false, character, ...more },
    });

  test('each gets his own goals keyed, and the other stays to the bit', () => {
    const first = lay(both(), 'bram', 0);
    expect(pointing(first.shot, '', 0)).toBeLessThan(0.001);
    const second = lay(first.shot, 'b', 0);
    expect(pointing(second.shot, 'b:', 0)).toBeLessThan(0.001);
    expect(pointing(second.shot, '', 0)).toBeLessThan(0.001);
    for (const { id, character } of first.shot.nodes)
      if (character === 'bram')
        for (const name of ['tx', 'ty', 'rz'])
          expect(curveOf(second.shot, null, `${id}.${name}`)).toBe(
            curveOf(first.shot, null, `${id}.${name}`),
          );
    expect(second.report.findings.find(({ code }) => code === 'goalsKeyed')?.sentence).toContain('b:hand_l');
  });

  test('each carries on from where he stands himself', () => {
    // The other stands on a root of his own.
    const aside = withCurves(both(), null, new Map([['b:root.tx', constantCurve(70)]]));
    let shot = lay(lay(aside, 'bram', 0).shot, 'b', 0, { flipped: true }).shot;
    const hips = (of: Shot, id: string, frame: number) => placeIn(worldAt(of, frame), rigOf(of).indexOf(id));
    const ends = ['hips', 'b:hips'].map((id) => hips(shot, id, 40));
    expect(Math.hypot(ends[0]![0] - ends[1]![0], ends[0]![2] - ends[1]![2])).toBeGreaterThan(50);
    for (const character of ['bram', 'b']) shot = lay(shot, character, 40, { carryOn: true }).shot;
    for (const [k, id] of ['hips', 'b:hips'].entries()) {
      const [x, , z] = hips(shot, id, 40);
      expect(Math.hypot(x - ends[k]![0], z - ends[k]![2])).toBeLessThan(1e-6);
      const [x1, , z1] = hips(shot, id, 80);
      expect(Math.hypot(x1 - x, z1 - z)).toBeGreaterThan(1);
    }
  });
});
