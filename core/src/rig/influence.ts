/**
 * What moves with what: which nodes a node's channels move, and the points of the figure that are watched for it.
 */
import type { Triple } from '../math/euler.ts';
import type { BodyPoint } from './body-point.ts';
import type { Solid } from './node.ts';
import { channelsOfRelation, readsOf, writesOf } from './relations/reads-and-writes.ts';
import type { RigPart } from './pose.ts';
import type { Rig } from './rig.ts';

/** A relation as rows: what it goes by, the nodes of its channels among them, and what it places. */
interface Link {
  readonly reads: readonly number[];
  readonly writes: readonly number[];
}
const linkTables = new WeakMap<Rig, ReadonlyMap<number, readonly Link[]>>();

/** The relations by the first node that each places. */
function linksOf(rig: Rig): ReadonlyMap<number, readonly Link[]> {
  const known = linkTables.get(rig);
  if (known) return known;
  const table = new Map<number, Link[]>();
  const parentOf = (id: string) => rig.nodes[rig.indexOf(id)]?.parent ?? null;
  for (const relation of rig.shotRelations) {
    const rows = (ids: readonly string[]) => ids.map(rig.indexOf).filter((row) => row >= 0);
    const channels = channelsOfRelation(relation)
      .map(rig.channelIndex)
      .filter((c) => c >= 0);
    const reads = [...rows(readsOf(relation)), ...channels.map((c) => rig.channels[c]!.node)];
    const writes = rows(writesOf(relation, parentOf));
    const [first] = writes;
    if (first !== undefined) table.set(first, [...(table.get(first) ?? []), { reads, writes }]);
  }
  linkTables.set(rig, table);
  return table;
}

/** 1 for each node whose world transform depends on a channel of the given nodes, through parents and limbs. */
export function movedBy(rig: Rig, nodes: Iterable<number>): Uint8Array {
  const moved = new Uint8Array(rig.nodes.length);
  for (const i of nodes) moved[i] = 1;
  const links = linksOf(rig);
  // In dependency order, one pass is enough.
  for (const i of rig.order) {
    const parent = rig.parents[i]!;
    if (parent >= 0 && moved[parent] === 1) moved[i] = 1;
    for (const { reads, writes } of links.get(i) ?? [])
      if (reads.some((row) => moved[row] === 1)) for (const row of writes) moved[row] = 1;
  }
  return moved;
}

/** The rows whose channels the world transforms of nodes depend on, their own among them, through parents and relations; in the rig's order. */
export function moversOf(rig: Rig, nodes: Iterable<number>): Int32Array {
  const counts = new Uint8Array(rig.nodes.length);
  for (const row of nodes) counts[row] = 1;
  const links = linksOf(rig);
  for (const i of [...rig.order].reverse()) {
    const parent = rig.parents[i]!;
    for (const { reads, writes } of links.get(i) ?? [])
      // What a relation places it places together, by the channels of all.
      if (writes.some((row) => counts[row] === 1)) for (const row of [...reads, ...writes]) counts[row] = 1;
    if (counts[i] === 1 && parent >= 0) counts[parent] = 1;
  }
  return rig.order.filter((row) => counts[row] === 1);
}

/** The part of a rig that some nodes' worlds are worked out from. */
export function partFor(rig: Rig, nodes: Iterable<number>): RigPart {
  const order = moversOf(rig, nodes);
  const counts = new Set(order);
  return { order, channels: [...rig.channels.keys()].filter((c) => counts.has(rig.channels[c]!.node)) };
}

/** The origin of each node of the figure, and the far end of those that no other node goes on from. */
export function bodyPoints(rig: Rig): BodyPoint[] {
  const goesOn = new Set(rig.parents);
  return rig.nodes.flatMap((node, i): BodyPoint[] => {
    const origin: BodyPoint = { node: i, at: [0, 0, 0] };
    if (goesOn.has(i)) return [origin];
    let far: Triple = [0, 0, 0];
    for (const place of node.solids.flatMap(farPlaces)) if (length(place) > length(far)) far = place;
    return length(far) > 0 ? [origin, { node: i, at: far }] : [origin];
  });
}

const length = (v: readonly number[]) => Math.hypot(...v);

function farPlaces(solid: Solid): Triple[] {
  if (solid.kind === 'capsule') return [[...solid.from], [...solid.to]];
  const half = solid.kind === 'box' ? solid.size.map((size) => size / 2) : solid.radii;
  return [0, 1, 2].flatMap((axis) =>
    [-1, 1].map((way): Triple => {
      const place: Triple = [...solid.centre];
      place[axis] = place[axis]! + way * half[axis]!;
      return place;
    }),
  );
}
