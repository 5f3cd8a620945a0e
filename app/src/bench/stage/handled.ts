/** What a handle on the stage takes hold of, and what its movement asks of each control. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { placeIn, shownValues, worldAt } from '@kneader/core';
import type { Node, Shot, Wish } from '@kneader/core';

/** Where the handle stands. */
export interface Stand {
  readonly place: Vector3;
  readonly turn: Quaternion;
}

/** What of the selection is led: not what hangs on something else that is selected, which comes along. */
export function ledNodes(nodes: readonly Node[], selected: readonly string[]): Node[] {
  const chosen = new Set(selected);
  const byId = new Map(nodes.map((node) => [node.id, node]));
  const isCarried = (node: Node): boolean => {
    for (let at = node.parent; at !== null; at = byId.get(at)?.parent ?? null)
      if (chosen.has(at)) return true;
    return false;
  };
  return nodes.filter((node) => chosen.has(node.id) && !isCarried(node));
}

const turns = ({ channels }: Node) => ['rx', 'ry', 'rz'].some((name) => channels.includes(name));
const moves = ({ channels }: Node) => ['tx', 'ty', 'tz'].every((name) => channels.includes(name));

/** What can be done with controls: what all of them can. */
export const canDo = (nodes: readonly Node[]) => ({
  move: nodes.length > 0 && nodes.every(moves),
  turn: nodes.length > 0 && nodes.every(turns),
});

/**
 * What the handle does: what is wished where that can be, else what is usual: a joint that hangs on another is turned, all else is moved.
 * @param all the nodes of the shot
 */
export function doingOf(
  nodes: readonly Node[],
  wished: 'move' | 'turn' | null,
  all: readonly Node[],
): 'move' | 'turn' | null {
  const can = canDo(nodes);
  const isJoint = (id: string | null) => all.find((node) => node.id === id)?.kind === 'joint';
  const isTurned = nodes.length === 1 && isJoint(nodes[0]!.id) && isJoint(nodes[0]!.parent);
  const does = wished ?? (isTurned ? 'turn' : 'move');
  if (can[does]) return does;
  const other = does === 'move' ? 'turn' : 'move';
  return can[other] ? other : null;
}

/** In the axes of the one control, or at the middle of several, along those of the world. */
export function standOf(shot: Shot, frame: number, nodes: readonly Node[]): Stand {
  const pose = worldAt(shot, frame);
  const rows = nodes.map(({ id }) => shot.nodes.findIndex((node) => node.id === id));
  const turn = new Quaternion();
  const place = new Vector3();
  for (const row of rows) place.add(new Vector3(...placeIn(pose, row)));
  place.divideScalar(Math.max(rows.length, 1));
  if (rows.length === 1)
    new Matrix4().fromArray(pose.matrices, rows[0]! * 16).decompose(new Vector3(), turn, new Vector3());
  return { place, turn };
}

/**
 * What channels must show so that the controls go where a handle takes them.
 * @param about each turns about itself, or all about where the handle stood
 */
export function ledValues(
  shot: Shot,
  frame: number,
  nodes: readonly Node[],
  from: Stand,
  to: Stand,
  does: 'move' | 'turn',
  about: 'middle' | 'each',
): Record<string, number> {
  const pose = worldAt(shot, frame);
  const values: Record<string, number> = {};
  const wish = (one: Wish) => Object.assign(values, shownValues(shot, frame, one));
  const by = to.turn.clone().multiply(from.turn.clone().invert());
  for (const { id, channels } of nodes) {
    const row = shot.nodes.findIndex((node) => node.id === id);
    const place = new Vector3(...placeIn(pose, row));
    if (does === 'turn') {
      const turn = new Quaternion();
      new Matrix4().fromArray(pose.matrices, row * 16).decompose(new Vector3(), turn, new Vector3());
      const [x, y, z, w] = by.clone().multiply(turn).toArray();
      wish({ kind: 'turn', node: id, turn: [x, y, z, w] });
      if (nodes.length === 1 || about === 'each' || !channels.includes('tx')) continue;
      place.sub(from.place).applyQuaternion(by).add(from.place);
    } else place.add(to.place).sub(from.place);
    wish({ kind: 'place', node: id, place: [place.x, place.y, place.z] });
  }
  return values;
}
