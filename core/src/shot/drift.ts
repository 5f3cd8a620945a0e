/** How far joints have moved in space between two shots of the same rig. */
import { framesOf } from '../base/frame-range.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { placeIn, worldAt } from './evaluation.ts';
import { rigOf } from './shot.ts';
import type { Shot } from './shot.ts';

export interface Drift {
  /** cm. */
  readonly greatest: number;
  readonly rms: number;
  readonly node: string;
  readonly frame: number;
}

/** Most frames that are looked at; longer ranges are looked at in even steps. */
const MOST_FRAMES = 240;

/** The greatest distance of any joint's place between two shots over a range. */
export function driftBetween(before: Shot, after: Shot, range: FrameRange): Drift {
  const rig = rigOf(before);
  const step = Math.max(1, Math.ceil((range.end - range.start) / MOST_FRAMES));
  let drift = { greatest: 0, node: rig.nodes[0]!.id, frame: range.start };
  let squares = 0;
  let count = 0;
  for (const frame of framesOf(range, step)) {
    const a = worldAt(before, frame);
    const b = worldAt(after, frame);
    rig.nodes.forEach((node, i) => {
      const [p, q] = [placeIn(a, i), placeIn(b, i)];
      const distance = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
      squares += distance * distance;
      count += 1;
      if (distance > drift.greatest) drift = { greatest: distance, node: node.id, frame };
    });
  }
  return { ...drift, rms: count > 0 ? Math.sqrt(squares / count) : 0 };
}
