/** Two shots compared: their differences, and the time that is found, on captured motion. */
import {
  alignedAt,
  alignedByPoses,
  differencesOf,
  newWorldPose,
  pairedNodes,
  readBvh,
  rigOf,
  worldInto,
} from '@kneader/core';
import type { Shot } from '@kneader/core';
import { CAPTURED_TEXT } from './open-data.ts';
import { limitRow, median, timeOf } from './measure.ts';
import type { Row } from './measure.ts';

const PAIRS = 5;

/** Two figures of 31 joints each, both with the motion of one. */
function twoFigures(): Shot {
  const { shot } = readBvh(CAPTURED_TEXT, '01_01');
  const other = {
    ...shot,
    nodes: shot.nodes.map((node) => ({
      ...node,
      id: `other_${node.id}`,
      parent: node.parent && `other_${node.parent}`,
      pair: node.pair && `other_${node.pair}`,
      character: 'other',
    })),
  };
  return {
    ...shot,
    characters: [...shot.characters, { id: 'other', name: 'Other' }],
    nodes: [...shot.nodes, ...other.nodes],
    curves: [...shot.curves, ...other.curves],
  };
}

function evaluated(shot: Shot): void {
  const rig = rigOf(shot);
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  for (let frame = shot.range.start; frame <= shot.range.end; frame += 1)
    worldInto(shot, frame, values, pose);
}

export function comparingRows(): Row[] {
  const [a, b] = [twoFigures(), twoFigures()];
  const paired = pairedNodes(a, b);
  const at = alignedAt(a, b, a.range.start, b.range.start);
  const differences = () => differencesOf(a, b, paired, at);
  differences();
  const [times, ratios]: [number[], number[]] = [[], []];
  for (let pair = 0; pair < PAIRS; pair += 1) {
    const own = timeOf(differences);
    times.push(own);
    ratios.push(
      own /
        timeOf(() => {
          evaluated(a);
          evaluated(b);
        }),
    );
  }
  const found = (frames: number) => {
    const part = { start: a.range.start, end: a.range.start + frames };
    const [one, two] = [
      { ...a, range: part },
      { ...b, range: part },
    ];
    return median(Array.from({ length: 3 }, () => timeOf(() => alignedByPoses(one, two, paired))));
  };
  found(270);
  const work = `differences of ${paired.pairs.length} joints × ${a.range.end - a.range.start + 1} frames`;
  return [
    limitRow(work, 'the poses of both alone', median(ratios), '×', 2),
    limitRow('the same', 'a second', median(times) / 1000, 's', 1),
    limitRow('time found between two of 2,700 frames', 'the same of 270', found(2700) / found(270), '×', 12),
  ];
}
