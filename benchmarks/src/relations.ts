/** Relations: a crowd with limbs and relations against a tree without either, and baking. */
import { Object3D } from 'three';
import { newShot, newWorldPose, rigOf, runEdit, withCurves, worldInto } from '@kneader/core';
import type { Node, Relation, Shot } from '@kneader/core';
import { controls, threePasses, wave } from './crowd.ts';
import { median, ratioOf, timeOf } from './measure.ts';
import type { Row } from './measure.ts';

const [CHARACTERS, CONTROLS, FRAMES] = [20, 60, 240];
const CHANNELS = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'];
const RATE = { numerator: 24, denominator: 1 };
const NO_OFFSET = { matrix: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], turn: [0, 0, 0, 1] as const };

export const relationsRows = (): Row[] => [poseRow(), bakeRow()];

function poseRow(): Row {
  const bare = crowd(CHARACTERS, CONTROLS);
  const shot = { ...bare, layers: threePasses(bare) };
  const rig = rigOf(shot);
  const pose = newWorldPose(rig);
  const values = new Float64Array(rig.channels.length);
  const play = () => {
    for (let frame = 0; frame < FRAMES; frame += 1) worldInto(shot, frame, values, pose, true);
  };
  const tree = new Object3D();
  const objects = rig.nodes.map(() => new Object3D());
  rig.nodes.forEach((node, i) => {
    objects[i]!.position.set(...node.rest.translation);
    const parent = rig.parents[i]!;
    (parent < 0 ? tree : objects[parent]!).add(objects[i]!);
  });
  let turn = 0;
  const ratio = ratioOf(play, () => {
    for (let frame = 0; frame < FRAMES; frame += 1) {
      for (const object of objects) object.rotation.set(0.1, (turn += 1e-6), 0.2);
      tree.updateMatrixWorld(true);
    }
  });
  const times = 1 / ratio;
  return {
    work: `play ${CHARACTERS} characters × ${CONTROLS} nodes, three passes, two limbs and nine other relations each`,
    against: 'three’s updateMatrixWorld on the same tree, without any of them',
    measured: `${times.toFixed(1)}× its time`,
    toReach: '≤ 2×',
    reached: times <= 2,
  };
}

function bakeRow(): Row {
  const shot = crowd(1, 60, 60);
  const selection = {
    nodes: shot.nodes.map(({ id }) => id),
    channels: [],
    keys: {},
    range: null,
    layer: null,
  };
  const times = Array.from({ length: 3 }, () =>
    timeOf(() => runEdit('spaces.bake', shot, selection, { keys: 'every' })),
  );
  const seconds = median(times) / 1000;
  return {
    work: `bake 60 controls × ${FRAMES} frames, a key on each`,
    against: 'a second',
    measured: `${seconds.toFixed(2)} s`,
    toReach: '≤ 1 s',
    reached: seconds <= 1,
  };
}

/** @param related how many controls of a character follow another one */
function crowd(characters: number, count: number, related = 10): Shot {
  const nodes = controls(characters, count, CHANNELS).map((node, i, all): Node => ({
    ...node,
    parent: i % 6 === 0 ? null : all[i - 1]!.id,
    rest: { ...node.rest, translation: [0, 6, i % 2] },
    character: null,
  }));
  const relations = Array.from({ length: characters }, (_, c) => {
    const at = (k: number) => nodes[c * count + k]!.id;
    const follows = Array.from({ length: related }, (__, k): Relation => ({
      id: `follow ${c} ${k}`,
      kind: 'parent',
      node: related > 10 ? at(k) : at(6 * (k % 9) + 6),
      targets: [{ node: related > 10 ? null : at(1), offset: NO_OFFSET, share: null }],
      weight: null,
      switch: null,
      settings: {},
    }));
    const limbs = [0, 12].map((k): Relation => ({
      id: `limb ${c} ${k}`,
      kind: 'reach',
      node: at(k + 4),
      targets: [{ node: at(30 + k), offset: NO_OFFSET, share: null }],
      weight: null,
      switch: null,
      settings: { root: at(k + 2), middle: at(k + 3), pole: at(48), tip: null },
    }));
    return related > 10 ? follows : [...follows.slice(0, 9), ...limbs];
  }).flat();
  const bare = newShot('Crowd', nodes, relations, RATE, { start: 0, end: FRAMES - 1 });
  return withCurves(
    bare,
    null,
    new Map(nodes.flatMap(({ id }, n) => CHANNELS.map((name, c) => [`${id}.${name}`, wave(n + c)] as const))),
  );
}
