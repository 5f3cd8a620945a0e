/** Feet of a figure here that stood on the one that a motion comes from: which joints they are, what holds them, and when they stand. */
import { framesOf } from '../../base/frame-range.ts';
import type { Curve } from '../../curve/curve.ts';
import { CurveReader } from '../../curve/evaluate.ts';
import { curveOf, framesPerSecond, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Rate, Shot } from '../../document/shot.ts';
import { worldsOver } from '../../evaluation/evaluation.ts';
import { standsOf } from '../../motion/contacts.ts';
import type { Stand } from '../../motion/contacts.ts';
import type { Pair } from '../../mapping/match.ts';
import { characterOf, skeletonOf } from '../../mapping/skeletons.ts';
import { pairedLegs } from '../../mapping/proportion.ts';
import type { Triple } from '../../math/euler.ts';
import { partFor } from '../../rig/influence.ts';
import { limbsOf } from '../../rig/limbs.ts';
import { AT_REST } from '../../rig/node.ts';
import type { Rig } from '../../rig/rig.ts';
import { measured } from '../../rig/skeleton.ts';
import type { Measured, Skeleton } from '../../rig/skeleton.ts';
import { isHeldByLocks } from '../spaces/keep-motion.ts';
import { moverOf } from '../spaces/limb-goals.ts';

/** Motion of a figure of another build, and what of it stands for what here. */
export interface OtherMotion {
  readonly skeleton: Skeleton;
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  readonly pairs: readonly Pair[];
}

/** Rows of the joints of a leg, from the body down. */
export interface Leg {
  readonly root: number;
  readonly middle: number;
  readonly end: number;
}

/** A foot here, and when it stands. */
export interface Foot {
  readonly id: string;
  readonly row: number;
  /** What moves its goal, where that leads it over the whole range; or −1. */
  readonly goal: number;
  /** Its leg, where its own joints lead it over the whole range and may be written. */
  readonly leg: Leg | null;
  /** Frames; none of a foot that never stands. */
  readonly stands: readonly Stand[];
  /** Its joints, and how high over the floor each lies where it is flat, cm; none where the figure at rest stands on no floor. */
  readonly flat: readonly { readonly row: number; readonly height: number }[];
  /** cm along the bones from the hip joint. */
  readonly length: number;
}

/** A figure at rest stands on the floor where its ankles lie over it by no more than this part of a leg. */
const ANKLE = 0.25;

/** @param shot the figure with that motion, frame for frame, within what carries it */
export function standingFeet(shot: Shot, { skeleton, curves, pairs }: OtherMotion): Foot[] {
  const rig = rigOf(shot);
  const there = measured(skeleton);
  const owner = characterOf(
    shot,
    pairs.map(({ target }) => target),
  );
  const here = measured(skeletonOf(shot, owner));
  const legs = pairedLegs(there, here, pairs);
  const places = placesAt(
    shotOf(there, curves, shot.rate),
    legs.map((leg) => leg.source),
    framesOf(shot.range),
  );
  return legs.map(({ target, was, is }, k): Foot => {
    const { id } = here.bones[target]!;
    const stands = standsOf(places[k]!, was, framesPerSecond(shot.rate));
    return {
      ...ledBy(shot, rig, id),
      id,
      row: rig.indexOf(id),
      stands,
      flat: flatFoot(here, target, is, rig),
      length: is,
    };
  });
}

function flatFoot({ at, bones, children }: Measured, ankle: number, leg: number, rig: Rig): Foot['flat'] {
  const top = at[ankle]![1];
  if (top <= 0 || top > ANKLE * leg) return [];
  const joints = [ankle];
  for (const one of joints) joints.push(...children[one]!.filter((row) => at[row]![1] <= top));
  return joints.map((row) => ({ row: rig.indexOf(bones[row]!.id), height: at[row]![1] }));
}

/** What leads a foot: its goal, or the joints of its leg. */
function ledBy(shot: Shot, rig: Rig, id: string): Pick<Foot, 'goal' | 'leg'> {
  const relation = shot.relations.find(({ node, kind }) => kind === 'reach' && node === id);
  const weight = relation?.weight ? new CurveReader(curveOf(shot, null, relation.weight)) : null;
  const isAll = (value: number) => framesOf(shot.range).every((frame) => weight!.at(frame) === value);
  const isOpen = (row: number) => row >= 0 && !isHeldByLocks(shot, rig.nodes[row]!.id, shot.range);
  if (relation && (weight === null || isAll(1))) {
    const chain = rig.chains.find(({ end }) => rig.nodes[end]!.id === id);
    const goal = chain ? moverOf(rig, chain.target) : -1;
    return { goal: isOpen(goal) ? goal : -1, leg: null };
  }
  const [limb] = limbsOf(rig, [id]);
  if (!limb || (relation && !isAll(0))) return { goal: -1, leg: null };
  const leg = { root: rig.indexOf(limb.root), middle: rig.indexOf(limb.middle), end: rig.indexOf(id) };
  return { goal: -1, leg: [leg.root, leg.middle, leg.end].every(isOpen) ? leg : null };
}

function shotOf({ bones }: Measured, curves: ReadonlyMap<ChannelId, Curve>, rate: Rate): Shot {
  const nodes = bones.map((bone) => ({
    ...{ kind: 'joint' as const, pair: null, part: 'extra' as const, character: null, solids: [] },
    ...bone,
    rest: { ...AT_REST, ...bone.rest },
  }));
  const bare = newShot('', nodes, [], rate, { start: 0, end: 1 });
  const rig = rigOf(bare);
  return withCurves(bare, null, new Map([...curves].filter(([id]) => rig.channelIndex(id) >= 0)));
}

/** Where joints lie in the world, by the list and by frame, cm. */
export function placesAt(shot: Shot, rows: readonly number[], frames: Float64Array): Triple[][] {
  const places: Triple[][] = rows.map(() => []);
  for (const { pose: world } of worldsOver(shot, frames, partFor(rigOf(shot), rows)))
    rows.forEach((row, k) =>
      places[k]!.push([...world.matrices.subarray(row * 16 + 12, row * 16 + 15)] as Triple),
    );
  return places;
}
