/**
 * *Late round*: the bread burns, and Bram runs up with his tray, four quick steps. It is his walk of the *Night round*, made quicker and sent farther without asking the feet: they slide by a
 * few centimetres at every step.
 */
import { NOTHING } from '../document/selection.ts';
import type { Shot } from '../document/shot.ts';
import { runEdit } from '../edits/run-edit.ts';
import { nightRound } from './night-round.ts';
import { withTimeline } from './timeline.ts';

/** Frames of a step that took sixteen; cm that it goes, where the feet say 34. */
const [STEP, GOES] = [10, 39];
const STEPS = 4;

export function lateRound(): Shot {
  const half = nightRound();
  const nodes = half.nodes.filter(({ kind }) => kind !== 'camera').map(({ id }) => id);
  const all = { ...NOTHING, nodes };
  const cycle = runEdit('poses.flipRange', half, all, { append: true }).shot;
  const quick = runEdit('timing.stretch', cycle, all, { factor: STEP / half.range.end }).shot;
  const walk = runEdit('timing.loop', quick, all, { times: STEPS / 2, blend: 0 }).shot;
  const { end } = walk.range;
  const goes = (GOES / STEP) * end;
  return withTimeline(
    { ...walk, name: 'Late round' },
    {
      'root.tz': [0, 0, end, goes],
      'tray.tz': [0, 44, end, 44 + goes],
      // He leans into it.
      'spine_low.rx': [0, 5, end, 5],
      'spine_high.rx': [0, 6, end, 6],
      'head.rx': [0, -8, end, -8],
      'jaw.rx': [0, 3, 8, 11, end / 2, 6, end - 8, 12, end, 4],
    },
  );
}
