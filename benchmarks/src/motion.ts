/** Bodies: the centre of mass beside the pose that it is taken from, contacts of a capture, and how both grow; a walk whose feet are held. */
import {
  bodyOf,
  centreIn,
  DEMO_SHOTS,
  findContacts,
  readBvh,
  rigOf,
  runEdit,
  worldInto,
  newWorldPose,
} from '@kneader/core';
import type { Selection, Shot } from '@kneader/core';
import { median, ratioOf, timeOf } from './measure.ts';
import type { Row } from './measure.ts';
import { CAPTURED_TEXT } from './open-data.ts';

const CHOICE: Selection = { nodes: [], channels: [], keys: {}, range: null, layer: null };
const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();

/** Twenty times Bram, each with joints of his own. */
function twenty(): Shot {
  const bram = demo('night-round');
  const nodes = Array.from({ length: 20 }, (_, k) =>
    bram.nodes.map((node) => ({
      ...node,
      id: `${node.id}@${k}`,
      parent: node.parent === null ? null : `${node.parent}@${k}`,
      pair: node.pair === null ? null : `${node.pair}@${k}`,
      character: `bram${k}`,
    })),
  ).flat();
  return {
    ...bram,
    nodes,
    relations: [],
    characters: Array.from({ length: 20 }, (_, k) => ({ id: `bram${k}`, name: `Bram ${k}` })),
    curves: Array.from({ length: 20 }, () => bram.nodes.map((_node, row) => bram.curves[row])).flat(),
  };
}

export function motionRows(): Row[] {
  const crowd = twenty();
  const rig = rigOf(crowd);
  const bodies = crowd.characters.map(({ id }) => bodyOf(crowd, id).segments);
  const [values, pose] = [new Float64Array(rig.channels.length), newWorldPose(rig)];
  const posed = (frame: number) => worldInto(crowd, frame, values, pose);
  const frames = Array.from({ length: 64 }, (_, k) => k / 4);
  const withCentres = () => {
    for (const frame of frames) {
      posed(frame);
      for (const segments of bodies) centreIn(pose, segments);
    }
  };
  const alone = () => frames.forEach(posed);
  const more = 1 / ratioOf(withCentres, alone);

  const { shot: captured } = readBvh(CAPTURED_TEXT, '01_01');
  const part = { start: 0, end: 275 };
  const contacts = () => findContacts(captured, 'figure');
  contacts();
  const seconds = median([0, 1, 2, 3, 4].map(() => timeOf(contacts))) / 1000;
  const growth = ratioOf(() => findContacts(captured, 'figure', part), contacts);

  const walk = runEdit('contacts.find', demo('over-the-puddle'), CHOICE, {}).shot;
  const held = runEdit('contacts.hold', walk, CHOICE, {}).shot;
  const play = (shot: Shot) => {
    const here = rigOf(shot);
    const [own, world] = [new Float64Array(here.channels.length), newWorldPose(here)];
    return () => {
      for (let frame = 0; frame <= 54; frame += 0.5) worldInto(shot, frame, own, world);
    };
  };
  const slower = 1 / ratioOf(play(held), play(walk));
  const flown = timeOf(() =>
    runEdit('motion.flight', walk, CHOICE, { to: [0, 122, 196], top: 160, keys: 'needed' }),
  );
  const torso = walk.nodes.filter(({ part: of }) => of === 'torso' || of === 'arm').map(({ id }) => id);
  const turned = { ...CHOICE, nodes: torso };
  const steps = 20;
  // Without what is worked out once, before the first of them.
  const stepOf = (shot: Shot, choice: Selection) => {
    let asked = 0;
    // Each of another shot: of the same one what was worked out is kept.
    const of = (count: number) =>
      median(
        [0, 1, 2].map(() => {
          const fresh = { ...shot, name: `${shot.name} ${(asked += 1)}` };
          return timeOf(() => runEdit('motion.refine', fresh, choice, { steps: count }));
        }),
      );
    of(1);
    return (of(1 + steps) - of(1)) / steps;
  };
  const refined = stepOf(walk, turned);
  // A figure without limbs that reach: by the joints' axes alone.
  const range = { start: 300, end: 540 };
  const joints = { ...CHOICE, nodes: captured.nodes.map(({ id }) => id), range };
  const { shot: thin } = runEdit('clean.thin', captured, joints, {});
  const plain = stepOf(thin, joints);
  return [
    row(
      'the centres of mass of 20 characters × 61 nodes, with the pose',
      'the pose alone',
      `${more.toFixed(2)}× its time`,
      '≤ 1.5×',
      more <= 1.5,
    ),
    row(
      'contacts of 01_01.bvh (2,752 frames)',
      '0.3 s',
      `${seconds.toFixed(2)} s`,
      '≤ 0.3 s',
      seconds <= 0.3,
    ),
    row('the same', 'a tenth of its frames', `${growth.toFixed(1)}× the time`, 'about 10×', growth <= 12),
    row(
      'play Over the puddle with 8 contacts held',
      'the same without',
      `${slower.toFixed(1)}× its time`,
      '–',
      true,
    ),
    row(
      'a step of Refine on the torso and both arms of Over the puddle (limbs that reach), 55 frames',
      '50 ms',
      `${refined.toFixed(0)} ms`,
      '≤ 50 ms',
      refined <= 50,
    ),
    row(
      'the same on all 96 channels of 01_01.bvh, thinned, 240 frames, by the joints’ axes',
      '50 ms',
      `${plain.toFixed(0)} ms`,
      '≤ 50 ms',
      plain <= 50,
    ),
    row(
      'fly over the puddle, keys as needed',
      'a second',
      `${(flown / 1000).toFixed(2)} s`,
      '≤ 1 s',
      flown <= 1000,
    ),
  ];
}

const row = (work: string, against: string, measured: string, toReach: string, reached: boolean): Row => ({
  ...{ work, against, measured, toReach, reached },
});
