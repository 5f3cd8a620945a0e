/** Whether channels are keyed as captured motion is, on nearly each frame: what is written beside them is then keyed so too. */
import { bisectLeft, bisectRight } from '../../base/bisect.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

/** Keys on so many of the frames. */
const DENSE = 0.9;

/** By the one of them with the most keys in the range. */
export function denselyKeyed(
  shot: Shot,
  channels: readonly ChannelId[],
  { start, end }: FrameRange,
): boolean {
  const counts = channels.map((id) => {
    const { times } = curveOf(shot, null, id);
    return bisectRight(times, end) - bisectLeft(times, start);
  });
  return Math.max(0, ...counts) >= DENSE * (end - start + 1);
}

export const channelsOfNodes = (shot: Shot, nodes: readonly string[]): ChannelId[] => {
  const rig = rigOf(shot);
  return nodes.flatMap((id) =>
    rig.nodes[rig.indexOf(id)]!.channels.map((name): ChannelId => `${id}.${name}`),
  );
};
