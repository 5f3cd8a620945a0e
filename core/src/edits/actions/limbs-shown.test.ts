/** Motion of limbs that goals lead, on figures that have none: the joints go as they showed. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { vec3 } from 'gl-matrix';
import { nightRound } from '../../demo/night-round.ts';
import type { ActionJson } from '../../document/action.ts';
import { readAction } from '../../document/action.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { shotOfAction } from '../../interchange/action-shot.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { run } from '../../testing/placed-actions.ts';
import { choose, curve } from '../../testing/shot-literals.ts';

const walk = nightRound();
const LAST = 24;
const bram = walk.nodes.filter(({ character }) => character === 'bram').map(({ id }) => id);
const action = run(
  walk,
  'actions.save',
  { name: 'Walk' },
  choose({ range: { start: 0, end: LAST }, nodes: bram }),
).made as ActionJson;
const captured = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01').shot;

/** Where a bone points on each frame. */
const waysOf = (shot: Shot, from: string, to: string) =>
  Array.from({ length: LAST + 1 }, (_, frame) => {
    const rig = rigOf(shot);
    const [p, q] = [from, to].map((id) => placeIn(worldAt(shot, frame), rig.indexOf(id)));
    return vec3.subtract([0, 0, 0], q!, p!);
  });
const worst = (a: Shot, b: Shot, [from, to]: readonly string[], [other, end]: readonly string[]) => {
  const theirs = waysOf(b, other!, end!);
  return Math.max(...waysOf(a, from!, to!).map((way, k) => (vec3.angle(way, theirs[k]!) * 180) / Math.PI));
};

const LIMBS = [
  [
    ['thigh_l', 'shin_l'],
    ['LeftUpLeg', 'LeftLeg'],
  ],
  [
    ['shin_r', 'foot_r'],
    ['RightLeg', 'RightFoot'],
  ],
  [
    ['upperarm_r', 'forearm_r'],
    ['RightArm', 'RightForeArm'],
  ],
  [
    ['forearm_l', 'hand_l'],
    ['LeftForeArm', 'LeftHand'],
  ],
] as const;

test.each(LIMBS)('%s points where it did, on a captured figure', (ours, theirs) => {
  const there = {
    ...newShot('Empty', captured.nodes, [], walk.rate, { start: 0, end: LAST }),
    characters: captured.characters,
  };
  const { shot } = run(there, 'actions.apply', { action, match: 'structure', frame: 0, feet: false });
  expect(worst(walk, shot, ours, theirs)).toBeLessThan(0.3);
  // Its own joints alone, without what the goals made of them, would stand still.
  const { limbs: _, ...older } = action;
  const without = run(there, 'actions.apply', {
    action: older,
    match: 'structure',
    frame: 0,
    feet: false,
  }).shot;
  expect(worst(walk, without, ours, theirs)).toBeGreaterThan(5);
});

test('the same figure without its goals moves as before, and with them keeps their keys to the bit', () => {
  const bare = {
    ...newShot('Empty', walk.nodes, walk.relations, walk.rate, walk.range),
    characters: walk.characters,
  };
  const again = run(bare, 'actions.apply', { action, frame: 0 }).shot;
  const { joints, controls } = action.limbs![0]!;
  for (const id of Object.keys(joints))
    expect(readAction(action).curves.get(id as `${string}.${string}`)?.times.length ?? 0).toBeLessThan(2);
  expect(controls.length).toBe(2);
  const goals = new Set(action.limbs!.flatMap((limb) => limb.controls));
  const stays = walk.relations.filter(({ kind }) => kind !== 'reach');
  const nodes = walk.nodes.filter(({ id, parent }) => !goals.has(id) && !goals.has(parent ?? ''));
  const known = new Set(nodes.map(({ id }) => id));
  const alone = {
    ...newShot(
      'No goals',
      nodes,
      stays.filter(({ node }) => known.has(node)),
      walk.rate,
      walk.range,
    ),
    characters: walk.characters,
  };
  const { shot, report } = run(alone, 'actions.apply', { action, frame: 0 });
  for (const [ours] of LIMBS) {
    expect(worst(walk, again, ours, ours)).toBeLessThan(1e-9);
    expect(worst(walk, shot, ours, ours)).toBeLessThan(0.3);
  }
  expect(report.findings.flatMap(({ sentence }) => (/goal|pole/.test(sentence) ? [sentence] : []))).toEqual(
    [],
  );
});

test('its picture is drawn as it showed', () => {
  const drawn = shotOfAction(readAction(action))!;
  for (const [ours] of LIMBS) expect(worst(walk, drawn, ours, ours)).toBeLessThan(0.3);
});

test('under a pass and a lock what shows is saved; a limb that its joints lead keeps none', () => {
  const over = run(walk, 'passes.addOffset', {}, choose({ channels: ['hand_goal_l.ty'] })).shot;
  const raised = {
    ...withCurves(over, over.layers.at(-1)!.id, new Map([['hand_goal_l.ty', curve([0, 0, 11, 14, 24, 3])]])),
    locked: ['upperarm_l.rx' as const, 'hand_l.rz' as const],
  };
  const save = (shot: Shot) =>
    run(shot, 'actions.save', { name: 'Up' }, choose({ range: { start: 0, end: LAST }, nodes: bram }))
      .made as ActionJson;
  const drawn = shotOfAction(readAction(save(raised)))!;
  const ours = ['forearm_l', 'hand_l'];
  expect(worst(raised, walk, ours, ours)).toBeGreaterThan(5);
  expect(worst(raised, drawn, ours, ours)).toBeLessThan(0.3);
  const weight = walk.relations.find(({ node }) => node === 'hand_l')!.weight!;
  const led = save(withCurves(walk, null, new Map([[weight, constantCurve(0)]])));
  expect(led.limbs!.some(({ joints }) => 'hand_l.rx' in joints)).toBe(false);
});
