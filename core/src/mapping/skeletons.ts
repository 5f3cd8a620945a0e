/** Skeletons of a shot's figures: in the world, and within what carries them. */
import type { Quaternion } from '../math/euler.ts';
import { conjugate, multiply, rotate } from '../math/quaternion.ts';
import { facingOf } from '../mirror/mirror-plane.ts';
import { AT_REST } from '../rig/node.ts';
import type { Node } from '../rig/node.ts';
import { bonesOf } from '../rig/skeleton.ts';
import type { Bone, Skeleton } from '../rig/skeleton.ts';
import type { Shot } from '../document/shot.ts';

/** The joints of a character and whatever carries them; of none, those that belong to nobody. */
export function skeletonOf(shot: Shot, character: string | null): Skeleton {
  const kept = new Set(shot.nodes.filter((node) => node.character === character).map(({ id }) => id));
  const parents = new Map(shot.nodes.map(({ id, parent }) => [id, parent]));
  // What is kept has all above it kept, or is about to.
  for (const id of [...kept])
    for (let up = parents.get(id); up && !kept.has(up); up = parents.get(up)) kept.add(up);
  return {
    bones: bonesOf(shot.nodes.filter(({ id }) => kept.has(id))),
    facing: facingOf(shot, character).degrees,
  };
}

/** The character that most of these nodes belong to. */
export function characterOf(shot: Shot, nodes: Iterable<string>): string | null {
  const counts = new Map<string | null, number>();
  const owner = new Map(shot.nodes.map(({ id, character }) => [id, character]));
  for (const id of nodes) {
    const character = owner.get(id) ?? null;
    if (owner.has(id)) counts.set(character, (counts.get(character) ?? 0) + 1);
  }
  let [best, most] = [null as string | null, 0];
  for (const [character, count] of counts) if (count > most) [best, most] = [character, count];
  return best;
}

/**
 * The same within what carries the figure: nodes above it that are none of it (a deck, a cart, a mirrored holder) count as if they lay at rest in the world's own axes. What a
 * figure does goes onto another on a leaning deck as it goes onto one on the floor.
 */
export function ownSkeletonOf(shot: Shot, character: string | null): Skeleton {
  const { bones, facing } = skeletonOf(shot, character);
  const carriers = carriersAmong(shot.nodes, new Set(bones.map(({ id }) => id)), character);
  if (carriers.size === 0) return { bones, facing };
  const marked = bones.map((bone): Bone => (carriers.has(bone.id) ? { ...bone, carrier: true } : bone));
  const set = shot.characters.find(({ id }) => id === character)?.facing;
  if (set !== undefined) return { bones: marked, facing: facingWithin(marked, set) };
  return {
    bones: marked,
    facing: facingOf({ ...shot, nodes: uncarried(shot.nodes, carriers) }, character).degrees,
  };
}

/** The skeleton of an action, whose carriers are known by those of the figure here: it may have been saved before they were told apart. */
export function withCarriersOf(skeleton: Skeleton, here: Skeleton): Skeleton {
  if (skeleton.bones.some(({ carrier }) => carrier)) return skeleton;
  const known = new Map(here.bones.flatMap((bone) => (bone.carrier ? [[bone.id, bone.rest]] : [])));
  const same = ({ id, rest }: Bone) => JSON.stringify(known.get(id)) === JSON.stringify(rest);
  if (!skeleton.bones.some(same)) return skeleton;
  const bones = skeleton.bones.map((bone): Bone => (same(bone) ? { ...bone, carrier: true } : bone));
  return { bones, facing: facingWithin(bones, skeleton.facing) };
}

/** A shot whose figure lies within what carries it, as its skeleton is measured. */
export function withinCarriers(shot: Shot, character: string | null): Shot {
  const { bones, facing } = ownSkeletonOf(shot, character);
  const carriers = new Set(bones.flatMap(({ id, carrier }) => (carrier ? [id] : [])));
  if (carriers.size === 0) return shot;
  const characters = shot.characters.map((one) =>
    one.id === character && one.facing !== undefined ? { ...one, facing } : one,
  );
  return { ...shot, nodes: uncarried(shot.nodes, carriers), characters };
}

const uncarried = (nodes: readonly Node[], carriers: ReadonlySet<string>): Node[] =>
  nodes.map((node) => (carriers.has(node.id) ? { ...node, rest: AT_REST } : node));

/** What of a figure's nodes is none of it and does not lie as the world does. */
function carriersAmong(
  nodes: readonly Node[],
  ids: ReadonlySet<string>,
  character: string | null,
): Set<string> {
  const others = nodes.filter(({ id, character: owner }) => ids.has(id) && owner !== character);
  const lies = ({ rest }: Node) => JSON.stringify(rest) !== JSON.stringify(AT_REST);
  return new Set(others.some(lies) ? others.map(({ id }) => id) : []);
}

/** Where a figure that faces so in the world faces within its carriers, degrees. */
function facingWithin(bones: readonly Bone[], facing: number): number {
  const known = new Map(bones.map((bone) => [bone.id, bone]));
  const carried = bones.find(
    ({ carrier, parent }) => !carrier && parent !== null && known.get(parent)?.carrier,
  );
  let turn: Quaternion = [0, 0, 0, 1];
  for (let up = known.get(carried?.parent ?? ''); up; up = known.get(up.parent ?? ''))
    turn = multiply(up.rest.rotation, turn);
  const angle = (facing * Math.PI) / 180;
  const [x, , z] = rotate(conjugate(turn), Math.sin(angle), 0, Math.cos(angle));
  return Math.hypot(x, z) < 1e-6 ? facing : (Math.atan2(x, z) * 180) / Math.PI;
}
