/** Writing motion down as sparse keys, the way it is thought: channel, then frame and value. */
import { TANGENT } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { buildCurve } from '../curve/rebuild.ts';
import { withCurves } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';

/** Frame, value, frame, value, … */
export type Keys = readonly number[];

/** A curve of steady keys: no overshoot, flat at extremes. */
function keyed(keys: Keys): Curve {
  return buildCurve(keys.length / 2, (columns) => {
    for (let i = 0; i < keys.length / 2; i += 1) {
      columns.times[i] = keys[2 * i]!;
      columns.values[i] = keys[2 * i + 1]!;
    }
    columns.tangentsIn.fill(TANGENT.steady);
    columns.tangentsOut.fill(TANGENT.steady);
  });
}

/** The shot with these curves. */
export function withTimeline(shot: Shot, timeline: Readonly<Record<ChannelId, Keys>>): Shot {
  return withCurves(shot, null, new Map(Object.entries(timeline).map(([id, keys]) => [id, keyed(keys)])));
}
