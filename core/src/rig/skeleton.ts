/** A skeleton by itself: what an action keeps of the shot it was saved from, so that it finds its way onto another. */
import { mat4 } from 'gl-matrix';
import { z } from 'zod';
import { EULER_ORDERS } from '../math/euler.ts';
import type { Triple } from '../math/euler.ts';
import { rotate } from '../math/quaternion.ts';
import type { Quaternion } from '../math/euler.ts';
import { AT_REST } from './node.ts';
import type { Node } from './node.ts';
import { compileRig } from './rig.ts';
import type { Rig } from './rig.ts';

const triple = z.tuple([z.number(), z.number(), z.number()]);

export const boneSchema = z.object({
  id: z.string().min(1),
  parent: z.string().nullable(),
  rest: z.object({
    translation: triple,
    rotation: z
      .tuple([z.number(), z.number(), z.number(), z.number()])
      .refine((turn) => Math.abs(Math.hypot(...turn) - 1) < 1e-3, 'an orientation of length 1'),
    scale: triple,
  }),
  order: z.enum(EULER_ORDERS),
  side: z.enum(['left', 'right', 'centre']),
  channels: z.array(z.string()),
  carrier: z.literal(true).optional(),
});
export type Bone = z.infer<typeof boneSchema>;

export interface Skeleton {
  /** What only carries the figure and is none of it (`carrier`: a deck, a cart, a holder) counts for nothing as it lies at rest: the figure is seen within it. */
  readonly bones: readonly Bone[];
  /** About the upright, from +z toward +x, degrees: where it faces at rest. */
  readonly facing: number;
}

/** What of these nodes a skeleton keeps. */
export function bonesOf(nodes: readonly Node[]): Bone[] {
  const ids = new Set(nodes.map(({ id }) => id));
  return nodes.map(({ id, parent, rest, order, side, channels }) => ({
    ...{ id, parent: parent !== null && ids.has(parent) ? parent : null, order, side },
    rest: lying(rest),
    channels: [...channels],
  }));
}

/** A skeleton measured: places in heights of the figure, seen as if it faced +z. */
export interface Measured {
  readonly rig: Rig;
  readonly bones: readonly Bone[];
  /** cm from the lowest to the highest joint; 1 where they lie on one level. */
  readonly height: number;
  readonly places: readonly Triple[];
  /** Where joints lie in the world at rest, cm, with the sizes of all above them. */
  readonly at: readonly Triple[];
  readonly children: readonly (readonly number[])[];
  readonly roots: readonly number[];
  /** How many joints hang on each, itself among them. */
  readonly sizes: readonly number[];
  /** How far each lies along the bones from where the body branches, in heights; 0 above that. */
  readonly along: readonly number[];
}

export function measured({ bones: given, facing }: Skeleton): Measured {
  const bones = given.map((bone) => (bone.carrier ? { ...bone, rest: lying(AT_REST) } : bone));
  const nodes = bones.map((bone): Node => ({
    ...bone,
    kind: 'joint',
    pair: null,
    part: 'extra',
    character: null,
    solids: [],
  }));
  const rig = compileRig(nodes, NO_RELATIONS);
  const at = placesAtRest(rig);
  const heights = at.map(([, y]) => y);
  const height = Math.max(...heights) - Math.min(...heights) || 1;
  const children: number[][] = bones.map(() => []);
  const roots: number[] = [];
  rig.parents.forEach((parent, row) => (parent < 0 ? roots : children[parent]!).push(row));
  const sizes = bones.map(() => 1);
  for (const row of [...rig.order].reverse()) {
    const parent = rig.parents[row]!;
    if (parent >= 0) sizes[parent]! += sizes[row]!;
  }
  const main = roots.reduce((best, row) => (sizes[row]! > sizes[best]! ? row : best), roots[0] ?? 0);
  const [cx, , cz] = at[main] ?? [0, 0, 0];
  const back = turnAbout(-facing);
  const low = Math.min(...heights);
  const places = at.map(([x, y, z]) =>
    rotate(back, (x - cx) / height, (y - low) / height, (z - cz) / height),
  );
  const along = alongBones([...rig.order], children, at, main).map((length) => length / height);
  return { rig, bones, height, places, at, children, roots, sizes, along };
}

const lying = ({ translation, rotation, scale }: Node['rest']): Bone['rest'] => ({
  translation: [...translation],
  rotation: [...rotation],
  scale: [...scale],
});

function alongBones(
  order: readonly number[],
  children: readonly (readonly number[])[],
  at: readonly Triple[],
  root: number,
): number[] {
  const along = at.map(() => 0);
  let body = root;
  while (children[body]?.length === 1) body = children[body]![0]!;
  const above = new Set([body]);
  for (const row of order) {
    if (!above.has(row)) continue;
    for (const child of children[row]!) {
      const [p, q] = [at[row]!, at[child]!];
      along[child] = along[row]! + Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
      above.add(child);
    }
  }
  return along;
}

function placesAtRest({ nodes, parents, order }: Rig): Triple[] {
  const worlds: mat4[] = [];
  const places: Triple[] = [];
  for (const row of order) {
    const { translation, rotation, scale } = nodes[row]!.rest;
    const own = mat4.fromRotationTranslationScale(
      new Float64Array(16),
      [...rotation],
      [...translation],
      [...scale],
    );
    const parent = parents[row]!;
    const world = parent < 0 ? own : mat4.multiply(own, worlds[parent]!, own);
    worlds[row] = world;
    places[row] = [world[12], world[13], world[14]];
  }
  return places;
}

/** Whether a joint is among those that another hangs on. */
export function standsAbove({ rig }: Measured, above: number, below: number): boolean {
  for (let up = rig.parents[below]!; up >= 0; up = rig.parents[up]!) if (up === above) return true;
  return false;
}

const NO_RELATIONS: readonly never[] = [];

/** A turn about the upright, degrees, from +z toward +x. */
export function turnAbout(degrees: number): Quaternion {
  const half = (degrees * Math.PI) / 360;
  return [0, Math.sin(half), 0, Math.cos(half)];
}
