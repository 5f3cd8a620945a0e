/** What a pass holds: its keys, itself without some of its controls, and those alone. */
import { curvesIn, splitChannel } from '../../document/shot.ts';
import type { Layer } from '../../layers/layer.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

interface Parted {
  readonly pass: Layer;
  /** The channels of the controls that have keys on it. */
  readonly touched: readonly ChannelId[];
  readonly keys: number;
}

/** How many keys stand on a pass, its weight's own aside. */
export function keysOn(shot: Shot, { curves }: Layer): number {
  let keys = 0;
  for (const [, curve] of curvesIn(curves, shot.nodes)) keys += curve.times.length;
  return keys;
}

export function withoutNodes(shot: Shot, pass: Layer, nodes: ReadonlySet<string>): Parted {
  const touched: ChannelId[] = [];
  let keys = 0;
  for (const [channel, curve] of curvesIn(pass.curves, shot.nodes)) {
    if (!nodes.has(splitChannel(channel).node)) continue;
    touched.push(channel);
    keys += curve.times.length;
  }
  return {
    pass: {
      ...pass,
      members: pass.members.filter((node) => !nodes.has(node)),
      curves: pass.curves.map((entry, row) => (nodes.has(shot.nodes[row]!.id) ? undefined : entry)),
    },
    touched,
    keys,
  };
}

/** The pass with these controls alone. */
export const onlyNodes = (shot: Shot, pass: Layer, nodes: ReadonlySet<string>): Layer => ({
  ...pass,
  members: pass.members.filter((node) => nodes.has(node)),
  curves: pass.curves.map((entry, row) => (nodes.has(shot.nodes[row]!.id) ? entry : undefined)),
});
