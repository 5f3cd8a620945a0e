/**
 * Nib, the apprentice of Lantern Row: about 118 cm, round, with a big head. He is built as Bram is up to the wrists, with other proportions and
 * other names, and has neither apron strings nor a cap's tassel: what is saved from the one must find its way to the other.
 */
import type { Node, Solid, Vector } from '../rig/node.ts';
import { reachOf } from '../rig/relations/reach.ts';
import type { Relation } from '../rig/relations/relation.ts';
import { BRAM_LIMBS, bramNodes } from './bram-rig.ts';

/** Nib's word for each of Bram's nodes; what is not here he lacks. */
const NAMES: Readonly<Record<string, string>> = {
  root: 'nib',
  hips: 'pelvis',
  spine_low: 'waist',
  belly: 'tummy',
  spine_high: 'ribs',
  chest: 'breast',
  neck: 'throat',
  head: 'skull',
  jaw: 'mouth',
  cap: 'hat',
  eye: 'gaze',
  brow: 'lid',
  clavicle: 'collar',
  upperarm: 'arm_top',
  forearm: 'arm_low',
  hand: 'palm',
  thigh: 'leg_top',
  shin: 'leg_low',
  foot: 'sole',
  toe: 'toes',
  hand_goal: 'reach',
  elbow_pole: 'elbow',
  foot_goal: 'step',
  heel: 'back_roll',
  ball: 'front_roll',
  ankle: 'joint',
  knee_pole: 'knee',
};

/** How much smaller than Bram: legs and arms are short, the head is not. */
const SIZE = 0.66;
const HEAD = 0.92;
const COLOURS: Readonly<Record<string, string>> = {
  flour: 'metal',
  cloth: 'crust',
  apron: 'metal',
  crust: 'wood',
};

const nameOf = (id: string): string | null => {
  const side = /_([lr])$/.exec(id)?.[1];
  const name = NAMES[side ? id.slice(0, -2) : id];
  if (name === undefined) return null;
  return side ? `${name}.${side.toUpperCase()}` : name;
};

const scaled = (v: Vector, by: number): Vector => [v[0] * by, v[1] * by, v[2] * by];

function solidOf(solid: Solid, size: number): Solid {
  const colour = COLOURS[solid.colour] ?? solid.colour;
  if (solid.kind === 'capsule')
    return {
      ...solid,
      colour,
      from: scaled(solid.from, SIZE),
      to: scaled(solid.to, SIZE),
      radiusFrom: solid.radiusFrom * size,
      radiusTo: solid.radiusTo * size,
    };
  if (solid.kind === 'ellipsoid')
    return { ...solid, colour, centre: scaled(solid.centre, size), radii: scaled(solid.radii, size) };
  return { ...solid, colour, centre: scaled(solid.centre, size), size: scaled(solid.size, size) };
}

/** Nib's nodes. */
export function nibNodes(): Node[] {
  return bramNodes([]).flatMap((node): Node[] => {
    const id = nameOf(node.id);
    if (id === null) return [];
    const onHead = ['head', 'jaw', 'eye_l', 'eye_r', 'brow_l', 'brow_r', 'cap'].includes(node.id);
    const size = onHead ? HEAD : SIZE * 1.06;
    const step = onHead && node.id !== 'head' ? HEAD : SIZE;
    return [
      {
        ...node,
        id,
        parent: node.parent === null ? null : nameOf(node.parent),
        pair: node.pair === null ? null : nameOf(node.pair),
        // Beside Bram, so that the two can be told apart at rest.
        rest: {
          ...node.rest,
          translation: node.id === 'root' ? [92, 0, 26] : scaled(node.rest.translation, step),
        },
        character: 'nib',
        solids: node.solids.map((solid) => solidOf(solid, size)),
      },
    ];
  });
}

/** His limbs. */
export const NIB_RELATIONS: readonly Relation[] = BRAM_LIMBS.map((limb) => {
  const named = (id: string) => nameOf(id)!;
  const blend = limb.blend.split('.');
  return reachOf({
    id: `nib_${limb.id}`,
    root: named(limb.root),
    middle: named(limb.middle),
    end: named(limb.end),
    target: named(limb.target),
    pole: named(limb.pole),
    blend: `${named(blend[0]!)}.${blend[1]!}`,
    tip: limb.tip && { joint: named(limb.tip.joint), follows: named(limb.tip.follows) },
  });
});
