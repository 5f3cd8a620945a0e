/** The way in a skeleton from a joint down to another: what turns and moves on it without being asked for by itself. */
import type { Curve } from '../curve/curve.ts';
import { EMPTY_CURVE } from '../curve/curve.ts';
import { CurveReader } from '../curve/evaluate.ts';
import { quatFromEuler } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { multiply, rotate } from '../math/quaternion.ts';
import type { ChannelId } from '../document/shot.ts';
import type { Measured } from '../rig/skeleton.ts';

export interface Path {
  /** Whether a joint between the two turns. */
  readonly turns: boolean;
  /** Whether the lower one's place is moved by those between: they move, or turn where there is nothing above that would be carried by itself. */
  readonly moves: boolean;
  /** Joints between that have motion, and their curves. */
  readonly joints: readonly string[];
  readonly curves: readonly Curve[];
  /** From the axes of the upper joint to those of the lower at rest, without its own turn. */
  readonly turnAt: (frame: number) => Quaternion;
  /**
   * By how much the lower joint lies off its rest, in the axes of the upper.
   * @param place by how much it lies off its rest in its parent, cm
   */
  readonly shiftAt: (frame: number, place: Triple) => Triple;
}

/** @param from the row of the upper joint; below 0 it is the world */
export function pathFrom(
  { rig, bones }: Measured,
  from: number,
  to: number,
  curves: ReadonlyMap<ChannelId, Curve>,
): Path {
  const between: number[] = [];
  for (let row = rig.parents[to]!; row >= 0 && row !== from; row = rig.parents[row]!) between.unshift(row);
  const links = between.map((row) => {
    const { id, rest, order } = bones[row]!;
    const read = (names: readonly string[]) => names.map((name) => curves.get(`${id}.${name}`));
    const [turn, place] = [read(['rx', 'ry', 'rz']), read(['tx', 'ty', 'tz'])];
    const readers = [...turn, ...place].map((curve) => new CurveReader(curve ?? EMPTY_CURVE));
    const at = (frame: number, first: number) =>
      [0, 1, 2].map((axis) => readers[first + axis]!.at(frame)) as Triple;
    return { id, rest, order, turn, place, at };
  });
  const isThere = (curve: Curve | undefined): curve is Curve => curve !== undefined;
  const turns = links.some(({ turn }) => turn.some(isThere));
  const lower = bones[to]!.rest;
  const turnOf = ({ rest, order, at }: (typeof links)[number], frame: number): Quaternion => {
    const own: Quaternion = [0, 0, 0, 1];
    quatFromEuler(own, 0, ...at(frame, 0), order);
    return multiply(rest.rotation, own);
  };
  /** The lower joint's place seen from the upper; as at rest where no frame is given. */
  const placeAt = (frame: number | null, place: Triple): Triple =>
    links.reduceRight<Triple>(
      (seen, link) => {
        const { rest } = link;
        const turned = rotate(
          frame === null ? rest.rotation : turnOf(link, frame),
          ...(seen.map((value, axis) => value * rest.scale[axis]!) as Triple),
        );
        const moved = frame === null ? [0, 0, 0] : link.at(frame, 3);
        return turned.map((value, axis) => rest.translation[axis]! + moved[axis]! + value) as Triple;
      },
      place.map((value, axis) => lower.translation[axis]! + value) as Triple,
    );
  const resting = placeAt(null, [0, 0, 0]);
  return {
    turns,
    moves: links.some(({ place }) => place.some(isThere)) || (from < 0 && turns),
    joints: links.flatMap(({ id, turn, place }) => ([...turn, ...place].some(isThere) ? [id] : [])),
    curves: links.flatMap(({ turn, place }) => [...turn, ...place].filter(isThere)),
    turnAt: (frame) =>
      multiply(
        links.reduce<Quaternion>((turn, link) => multiply(turn, turnOf(link, frame)), [0, 0, 0, 1]),
        lower.rotation,
      ),
    shiftAt: (frame, place) => placeAt(frame, place).map((value, axis) => value - resting[axis]!) as Triple,
  };
}
