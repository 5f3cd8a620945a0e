/**
 * A readable figure for a skeleton that comes without a model: a rounded bone from each joint to each child,
 * thick where much hangs on it, a skull on the head, a palm on each hand.
 */
import type { Node, Solid, Vector } from '../rig/node.ts';

/** The nodes with solids of their own. @param ends where an end site stands in each node's axes, or null */
export function skeletonSolids(nodes: readonly Node[], ends: readonly (Vector | null)[]): Node[] {
  const children = new Map<string, Node[]>();
  for (const node of nodes) {
    if (node.parent !== null) children.set(node.parent, [...(children.get(node.parent) ?? []), node]);
  }
  const size = skeletonSize(nodes);
  return nodes.map((node, i) => {
    const own = children.get(node.id) ?? [];
    const tips: Vector[] = own.map((child) => child.rest.translation);
    const end = ends[i];
    if (end) tips.push(end);
    const solids = tips.flatMap((tip) => bone(node, tip, size));
    if (/head/i.test(node.id) && own.length === 0) solids.push(skull(end ?? null, size));
    return { ...node, solids };
  });
}

const THICKNESS: Partial<Record<Node['part'], number>> = {
  torso: 0.042,
  leg: 0.03,
  head: 0.026,
  arm: 0.022,
  hand: 0.014,
};

function bone(node: Node, tip: Vector, size: number): Solid[] {
  const length = Math.hypot(...tip);
  if (length < 1e-6 || length < size * 0.004) return [];
  const radius = Math.min((THICKNESS[node.part] ?? 0.02) * size, length * 0.5);
  return [
    {
      kind: 'capsule',
      from: [0, 0, 0],
      to: tip,
      radiusFrom: radius,
      radiusTo: radius * 0.72,
      colour: node.side === 'left' ? 'left' : node.side === 'right' ? 'right' : 'body',
    },
  ];
}

function skull(end: Vector | null, size: number): Solid {
  const up: Vector = end ?? [0, size * 0.05, 0];
  const radius = size * 0.055;
  return {
    kind: 'ellipsoid',
    centre: [up[0] * 0.6, up[1] * 0.6, up[2] * 0.6 + radius * 0.2],
    radii: [radius * 0.85, radius * 1.15, radius],
    colour: 'body',
  };
}

/** What reaches less high than this part of how far it reaches along the ground lies. */
const LIES = 0.5;

/** The height of the rest pose, in the file's unit; of what lies there, how far it reaches. */
function skeletonSize(nodes: readonly Node[]): number {
  const [x, y, z] = [0, 1, 2].map((axis) => reachAlong(nodes, axis)) as [number, number, number];
  const along = Math.max(x, z);
  return Math.max(y < LIES * along ? along : y, 1e-3) * 1.1;
}

function reachAlong(nodes: readonly Node[], axis: number): number {
  const places = new Map<string, number>();
  let low = 0;
  let high = 0;
  for (const node of nodes) {
    const own = node.rest.translation[axis]!;
    const place = (node.parent === null ? 0 : (places.get(node.parent) ?? 0)) + own;
    places.set(node.id, place);
    low = Math.min(low, place);
    high = Math.max(high, place);
  }
  return high - low;
}
