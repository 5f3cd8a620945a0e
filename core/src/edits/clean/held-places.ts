/** What is locked of the places of nodes: they change together or not at all. */
import { FLAG } from '../../curve/curve.ts';
import { curvesIn, splitChannel } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { channelKind } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';

/** Locked channels of these nodes, positions on the base or a pass with a locked key, and else the names of locked passes that move them. */
export function heldPlaces(shot: Shot, isMeant: (node: Node) => boolean): string[] {
  const meant = new Set(shot.nodes.filter(isMeant).map(({ id }) => id));
  const found = new Set(shot.locked.filter((id) => meant.has(splitChannel(id).node)));
  const isPlace = (id: string) => {
    const { node, name } = splitChannel(id);
    return meant.has(node) && channelKind(name) === 'position';
  };
  for (const table of [shot.curves, ...shot.layers.map(({ curves }) => curves)])
    for (const [id, curve] of curvesIn(table, shot.nodes))
      if (isPlace(id) && curve.flags.some((flag) => (flag & FLAG.locked) !== 0)) found.add(id);
  if (found.size > 0) return [...found];
  return shot.layers
    .filter(({ locked, curves }) => locked && [...curvesIn(curves, shot.nodes)].some(([id]) => isPlace(id)))
    .map(({ name }) => name);
}
