/**
 * A back of so many joints on a back of another number: what it bends is shared out over the joints that there are.
 *
 * The source's joints between hips and chest are exchanged for as many as the target has, at even steps, turned as the back is turned there (between two of
 * its joints by slerp), so that the chest is turned as it was and each joint in between has its part.
 */
import type { ChannelId } from '../document/shot.ts';
import { EMPTY_CURVE } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { CurveReader } from '../curve/evaluate.ts';
import { quatFromEuler } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotate, slerp, unit } from '../math/quaternion.ts';
import { measured } from '../rig/skeleton.ts';
import type { Bone, Measured, Skeleton } from '../rig/skeleton.ts';
import type { Pair } from './match.ts';
import { anglesAlong } from './turn-along.ts';

export interface SharedBend {
  readonly skeleton: Skeleton;
  readonly pairs: readonly Pair[];
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  /** Joints of the two backs, from the hips up. */
  readonly ours: readonly string[];
  readonly theirs: readonly string[];
}

const TURN = ['rx', 'ry', 'rz'] as const;
const PLACE = ['tx', 'ty', 'tz'] as const;

/** Null where both backs have as many joints, where one of them has none, or where hips and chest do not stand for each other. */
export function sharedBend(
  from: Skeleton,
  to: Skeleton,
  pairs: readonly Pair[],
  curves: ReadonlyMap<ChannelId, Curve>,
): SharedBend | null {
  const [a, b] = [measured(from), measured(to)];
  const [back, other] = [backOf(a), backOf(b)];
  if (!back || !other || back.rows.length === other.rows.length) return null;
  const ours = back.rows.map((row) => a.bones[row]!.id);
  const theirs = other.rows.map((row) => b.bones[row]!.id);
  const within = (pair: Pair) => ours.includes(pair.source) || theirs.includes(pair.target);
  const hips = pairs.some(
    ({ source, target }) => source === a.bones[back.hips]!.id && target === b.bones[other.hips]!.id,
  );
  const alone = pairs.filter(within);
  const isTheirs = ({ source, target, how }: Pair) =>
    ours.includes(source) && theirs.includes(target) && how !== 'hand';
  if (!hips || alone.length === 0 || !alone.every(isTheirs)) return null;
  // A back whose joints move on each other is no bend.
  if (ours.some((id) => PLACE.some((name) => moves(curves.get(`${id}.${name}`))))) return null;
  const names = theirs.map((_, k) => freshName(from, `${ours[ours.length - 1]!} ${k + 1}`));
  return {
    skeleton: withBack(from, a, back, names),
    pairs: [
      ...pairs.filter((pair) => !within(pair)),
      ...theirs.map((target, k) => ({ source: names[k]!, target, how: alone[0]!.how })),
    ],
    curves: new Map([...curves, ...bentCurves(a, back, names, curves)]),
    ours,
    theirs,
  };
}

/** The joints of a back, from the first above the hips to the chest, on which arms and neck hang. */
interface Back {
  readonly hips: number;
  readonly rows: readonly number[];
}

function backOf({ children, roots, sizes, at }: Measured): Back | null {
  let hips = roots.reduce((best, row) => (sizes[row]! > sizes[best]! ? row : best), roots[0] ?? -1);
  while (hips >= 0 && children[hips]!.length === 1) hips = children[hips]![0]!;
  if (hips < 0 || children[hips]!.length < 2) return null;
  const highest = (row: number): number => Math.max(at[row]![1], ...children[row]!.map(highest));
  let row = children[hips]!.reduce((best, child) => (highest(child) > highest(best) ? child : best));
  const rows = [row];
  while (children[row]!.length === 1) rows.push((row = children[row]![0]!));
  return children[row]!.length >= 3 ? { hips, rows } : null;
}

function moves(curve: Curve | undefined): boolean {
  return curve !== undefined && curve.values.some((value) => Math.abs(value - curve.values[0]!) > 1e-3);
}

function freshName({ bones }: Skeleton, wanted: string): string {
  let name = wanted;
  while (bones.some(({ id }) => id === name)) name += ' ';
  return name;
}

/** The skeleton with a second back beside its own, whose joints lie as the world does and carry what hung on the chest. */
function withBack(
  from: Skeleton,
  { rig, at, bones }: Measured,
  back: Back,
  names: readonly string[],
): Skeleton {
  const chest = back.rows[back.rows.length - 1]!;
  const way = [back.hips, ...back.rows].map((row) => at[row]!);
  const placeAt = (part: number): Triple => {
    const k = Math.min(Math.floor(part + 1e-9), way.length - 2);
    return [0, 1, 2].map(
      (axis) => way[k]![axis]! + (part - k) * (way[k + 1]![axis]! - way[k]![axis]!),
    ) as Triple;
  };
  const places = names.map((_, k) => placeAt(((k + 1) * back.rows.length) / names.length));
  const hipsTurn = rig.restTurns[back.hips]!;
  // Places are measured in the world, and offsets in what carries them, which may be scaled.
  const [first] = back.rows;
  const size = apart(way[0]!, at[first!]!) / (Math.hypot(...bones[first!]!.rest.translation) || 1) || 1;
  const more = names.map((id, k): Bone => {
    const [p, q] = [k === 0 ? way[0]! : places[k - 1]!, places[k]!];
    const off = [0, 1, 2].map((axis) => (q[axis]! - p[axis]!) / size) as Triple;
    return {
      ...{ id, parent: k === 0 ? bones[back.hips]!.id : names[k - 1]!, order: 'xyz', side: 'centre' },
      rest: {
        translation: k === 0 ? rotate(conjugate(hipsTurn), ...off) : off,
        rotation: k === 0 ? conjugate(hipsTurn) : [0, 0, 0, 1],
        scale: [1, 1, 1],
      },
      channels: [...TURN],
    };
  });
  const turn = rig.restTurns[chest]!;
  const last = names[names.length - 1]!;
  return {
    ...from,
    bones: [
      ...from.bones.map((bone) =>
        bone.parent === bones[chest]!.id
          ? {
              ...bone,
              parent: last,
              rest: {
                ...bone.rest,
                translation: rotate(turn, ...bone.rest.translation),
                rotation: unit(multiply(turn, bone.rest.rotation)),
              },
            }
          : bone,
      ),
      ...more,
    ],
  };
}

const apart = (p: Triple, q: Triple) => Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);

/** By how much each joint of the new back turns on the one below it. */
function bentCurves(
  { rig, bones }: Measured,
  { hips, rows }: Back,
  names: readonly string[],
  curves: ReadonlyMap<ChannelId, Curve>,
): [ChannelId, Curve][] {
  const own = rows.map((row) => TURN.map((name) => curves.get(`${bones[row]!.id}.${name}`)));
  const made = own.flat().filter((curve) => curve !== undefined);
  if (made.length === 0) return [];
  const readers = own.map((three) => three.map((curve) => new CurveReader(curve ?? EMPTY_CURVE)));
  const rest = rig.restTurns[hips]!;
  /** From rest, seen in the world while the hips are at rest: of the hips, and of each joint of the back. */
  const turnsAt = (frame: number): Quaternion[] => {
    let turn: Quaternion = rest;
    return [
      [0, 0, 0, 1],
      ...rows.map((row, k) => {
        const angles = readers[k]!.map((one) => one.at(frame)) as Triple;
        const part: Quaternion = [0, 0, 0, 1];
        quatFromEuler(part, 0, ...angles, bones[row]!.order);
        turn = unit(multiply(multiply(turn, bones[row]!.rest.rotation), part));
        return unit(multiply(turn, conjugate(rig.restTurns[row]!)));
      }),
    ];
  };
  const partAt = (turns: readonly Quaternion[], part: number) => {
    const k = Math.min(Math.floor(part + 1e-9), turns.length - 2);
    return slerp(turns[k]!, turns[k + 1]!, part - k);
  };
  return names.flatMap((name, k) => {
    const step = rows.length / names.length;
    const turnAt = (frame: number) => {
      const turns = turnsAt(frame);
      return unit(multiply(conjugate(partAt(turns, k * step)), partAt(turns, (k + 1) * step)));
    };
    return anglesAlong(turnAt, 'xyz', made).map((curve, axis): [ChannelId, Curve] => [
      `${name}.${TURN[axis]!}`,
      curve,
    ]);
  });
}
