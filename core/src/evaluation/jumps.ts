/** Frames at which a node may jump in the world: where a channel of it jumps, or of whatever it goes by. */
import type { FrameRange } from '../base/frame-range.ts';
import { rising } from '../base/frames.ts';
import { channelsOfRelation, readsOf, writesOf } from '../rig/relations/reads-and-writes.ts';
import { relationKindOf } from '../rig/relations/kinds.ts';
import { drawingsOf } from './drawings.ts';
import { stackOf } from './evaluation.ts';
import { rigOf, splitChannel } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

/** The nodes that a node's place in the world depends on, itself among them, by row. */
function leadersOf(shot: Shot, node: string): ReadonlySet<number> {
  const rig = rigOf(shot);
  const parentOf = (id: string) => rig.nodes[rig.indexOf(id)]?.parent ?? null;
  const placedBy = new Map<string, string[]>();
  for (const relation of shot.relations) {
    const by = [
      ...readsOf(relation),
      ...channelsOfRelation(relation).map((channel) => splitChannel(channel).node),
      relation.node,
    ];
    for (const id of writesOf(relation, parentOf)) placedBy.set(id, [...(placedBy.get(id) ?? []), ...by]);
  }
  const found = new Set<number>();
  const open = [node];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const row = rig.indexOf(id);
    if (row < 0 || found.has(row)) continue;
    found.add(row);
    const parent = parentOf(id);
    open.push(...(placedBy.get(id) ?? []), ...(parent === null ? [] : [parent]));
  }
  return found;
}

/** Where a node may jump within a range, rising. */
export const jumpsInWorld = (shot: Shot, node: string, range: FrameRange): number[] =>
  jumpsOfNodes(shot, leadersOf(shot, node), range);

/** Where anything may. */
export const jumpsOfShot = (shot: Shot, range: FrameRange): number[] =>
  jumpsOfNodes(shot, new Set(shot.nodes.keys()), range);

function jumpsOfNodes(shot: Shot, leaders: ReadonlySet<number>, range: FrameRange): number[] {
  const rig = rigOf(shot);
  const { top } = stackOf(shot);
  const lists: (readonly number[])[] = [];
  for (const row of leaders)
    for (let c = rig.firstChannel[row]!; c < rig.firstChannel[row + 1]!; c += 1) {
      const found = top[c]!.jumps(range);
      if (found.length > 0) lists.push(found);
    }
  for (const relation of shot.relations) {
    const kind = relationKindOf(relation);
    const settings = leaders.has(rig.indexOf(relation.node)) && kind?.settings.safeParse(relation.settings);
    if (settings && settings.success && kind?.jumps)
      lists.push(
        kind.jumps(settings.data, range, (over) => drawingsOf(shot, relation.node)?.begins(over) ?? []),
      );
  }
  return rising(...lists);
}
