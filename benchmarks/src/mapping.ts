/** Mapping: a captured walk as a whole, onto a figure of another build, with its feet held; and how long it ever holds the thread. */
import { DEMO_SHOTS, newShot, readBvh, runEdit, startEdit } from '@kneader/core';
import { CAPTURED_TEXT } from './open-data.ts';
import { median, timeOf } from './measure.ts';
import type { Row } from './measure.ts';

const CHOICE = { nodes: [], channels: [], keys: {}, range: null, layer: null };

export function mappingRows(): Row[] {
  const { shot: captured } = readBvh(CAPTURED_TEXT, '01_01');
  const all = { ...CHOICE, nodes: captured.nodes.map(({ id }) => id), range: captured.range };
  const { made: action } = runEdit('actions.save', captured, all, { name: 'Walk' });
  const bram = DEMO_SHOTS.find(({ id }) => id === 'night-round')!.make();
  const shot = {
    ...newShot('Empty', bram.nodes, bram.relations, captured.rate, captured.range),
    characters: bram.characters,
  };
  const options = { action, match: 'both', frame: captured.range.start };
  const times: number[] = [];
  const slices: number[] = [];
  for (let run = 0; run < 3; run += 1)
    times.push(
      timeOf(() => {
        const work = startEdit('actions.apply', shot, CHOICE, options);
        for (let done = false; !done;)
          slices.push(
            timeOf(() => {
              done = work.next().done === true;
            }),
          );
      }),
    );
  const seconds = median(times) / 1000;
  const longest = Math.max(...slices) / 1000;
  return [
    {
      work: 'map 01_01.bvh (2,752 frames) onto Bram, feet held',
      against: 'three seconds',
      measured: `${seconds.toFixed(1)} s`,
      toReach: '≤ 3 s',
      reached: seconds <= 3,
    },
    {
      work: 'the same, in slices',
      against: 'the longest of them',
      measured: `${longest.toFixed(2)} s of ${Math.round(slices.length / times.length)}`,
      toReach: '–',
      reached: true,
    },
  ];
}
