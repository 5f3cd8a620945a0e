/**
 * Two-bone inverse kinematics: the law of cosines in the plane of root, target and pole.
 */
import { vec3 } from 'gl-matrix';
import type { Triple } from '../math/euler.ts';

/** Where the middle joint goes. */
export interface TwoBone {
  readonly middle: Triple;
  /** The end, which is the target unless that is out of reach. */
  readonly end: Triple;
  /** Unit normal of the plane in which the limb bends: reach × pole. */
  readonly normal: Triple;
}

/**
 * @param root, target, pole positions, cm; @param first, second bone lengths, cm, > 0
 * A target out of reach is taken as far along its direction as the limb goes. A pole on the line of reach
 * falls back to `fallback`, any vector off that line.
 */
export function solveTwoBone(
  root: ArrayLike<number>,
  target: ArrayLike<number>,
  pole: ArrayLike<number>,
  first: number,
  second: number,
  fallback: ArrayLike<number>,
): TwoBone {
  const reach: Triple = [target[0]! - root[0]!, target[1]! - root[1]!, target[2]! - root[2]!];
  const wanted = lengthOf(reach);
  const distance = Math.min(Math.max(wanted, Math.abs(first - second) + 1e-9), first + second);
  const along = wanted > 1e-9 ? scaled(reach, 1 / wanted) : ([0, -1, 0] as Triple);
  const toPole: Triple = [pole[0]! - root[0]!, pole[1]! - root[1]!, pole[2]! - root[2]!];
  const aside = across(toPole, along) ?? across(fallback, along) ?? across([0, 0, 1], along) ?? [1, 0, 0];
  const cosine = (first * first + distance * distance - second * second) / (2 * first * distance);
  const inner = Math.min(1, Math.max(-1, cosine));
  const bend = Math.sqrt(1 - inner * inner);
  const middle: Triple = [0, 0, 0];
  const end: Triple = [0, 0, 0];
  for (let axis = 0; axis < 3; axis += 1) {
    middle[axis] = root[axis]! + first * (inner * along[axis]! + bend * aside[axis]!);
    end[axis] = root[axis]! + distance * along[axis]!;
  }
  return { middle, end, normal: vec3.cross([0, 0, 0], along, aside) as Triple };
}

const lengthOf = ([x, y, z]: Triple) => Math.sqrt(x * x + y * y + z * z);
const scaled = (v: ArrayLike<number>, by: number): Triple => [v[0]! * by, v[1]! * by, v[2]! * by];

/** The unit vector of the part of `v` that is perpendicular to unit vector `along`; null if there is none. */
function across(v: ArrayLike<number>, along: Triple): Triple | null {
  const dot = v[0]! * along[0] + v[1]! * along[1] + v[2]! * along[2];
  const rest: Triple = [v[0]! - dot * along[0], v[1]! - dot * along[1], v[2]! - dot * along[2]];
  const length = lengthOf(rest);
  return length > 1e-6 ? scaled(rest, 1 / length) : null;
}
