/** What of a shot BVH cannot hold, for whoever writes one to say. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { timedCurves } from '../../document/parts/parts.ts';
import { lostBetweenFrames, lostToShear } from '../lost.ts';
import type { Shot } from '../../document/shot.ts';

/** Keys nearer to a frame than this stand on it. */
const ON_FRAME = 1e-6;

export function lostInBvh(shot: Shot): Finding[] {
  let between = 0;
  for (const { curve } of timedCurves(shot))
    for (const time of curve.times) {
      const from = time - shot.range.start;
      if (Math.abs(from - Math.round(from)) > ON_FRAME) between += 1;
    }
  return [
    ...(between === 0 ? [] : [finding('bvhOnFrames', {}, between)]),
    ...lostBetweenFrames(shot),
    ...lostToShear(shot),
  ];
}
