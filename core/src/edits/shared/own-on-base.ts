/** Channels whose keys on the base show as they are below a layer: nothing that lies there makes something else of them, or would once they are keyed. */
import { buildCurve } from '../../curve/rebuild.ts';
import type { Curve } from '../../curve/curve.ts';
import { soundingLayers } from '../../evaluation/context.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

/** @param layer the id of the layer above those that count */
export function ownOnBase(shot: Shot, layer: string, channels: readonly ChannelId[]): ReadonlySet<ChannelId> {
  const counting = new Set(soundingLayers(shot));
  const below = shot.layers
    .slice(
      0,
      shot.layers.findIndex(({ id }) => id === layer),
    )
    .filter((one) => counting.has(one))
    .map((one) => ({ ...one, solo: false }));
  const bare = channels.filter((id) => curveOf(shot, null, id).times.length === 0);
  const probe = withCurves({ ...shot, layers: below }, null, new Map(bare.map((id) => [id, moving(shot)])));
  const { base, top } = stackOf(probe);
  const rig = rigOf(shot);
  return new Set(channels.filter((id) => top[rig.channelIndex(id)] === base[rig.channelIndex(id)]));
}

/** Any curve that is not still. */
const moving = ({ range }: Shot): Curve =>
  buildCurve(2, (columns) => {
    columns.times.set([range.start, range.start + 1]);
    columns.values.set([0, 1]);
  });
