/** An action's curves with left and right exchanged, as the shot's figure mirrors. */
import { z } from 'zod';
import type { Curve } from '../../curve/curve.ts';
import { rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { characterOf, withinCarriers } from '../../mapping/skeletons.ts';
import { planeChoice, planeOptions } from '../poses/flipped-pose.ts';
import { flippedCurves } from '../poses/flipped-curves.ts';

const usual = z.object(planeOptions);

/** @param curves by the shot's channels, frames from 0; @param length their last frame */
export function flippedAction(
  shot: Shot,
  curves: ReadonlyMap<ChannelId, Curve>,
  length: number,
): ReadonlyMap<ChannelId, Curve> {
  const rig = rigOf(shot);
  const { actions: _, ...bare } = shot;
  const here = new Map([...curves].filter(([id]) => rig.channelIndex(id) >= 0));
  const moved = new Set([...here.keys()].map((id) => splitChannel(id).node));
  const alone = withCurves(
    {
      ...withinCarriers(bare, characterOf(shot, moved)),
      ...{ layers: [], curves: [], locked: [], range: { start: 0, end: Math.max(length, 1) } },
    },
    null,
    here,
  );
  const pairOf = (node: string) => rig.nodes[rig.indexOf(node)]!.pair;
  // The partner of what moves: it takes the motion over, and where it has none of its own the other gets none.
  const taking = new Set([...moved].flatMap((node) => pairOf(node) ?? []));
  const flipped = flippedCurves(
    alone,
    null,
    new Set([...moved, ...taking]),
    new Set(),
    alone.range,
    'cut',
    planeChoice(alone, usual.parse({})),
    // Where it begins: who carries on from there begins at the same place.
    [0],
  );
  const unpaired = [...here].filter(([id]) => pairOf(splitChannel(id).node) === null);
  const anew = new Set(flipped.keyedAnew);
  // What the other side does not key is not keyed here, unless axes mix.
  const exchanged = [...flipped.curves].filter(([id]) => {
    const { node, name } = splitChannel(id);
    return taking.has(node) && (anew.has(node) || here.has(`${pairOf(node)}.${name}`));
  });
  return new Map([...unpaired, ...exchanged]);
}
