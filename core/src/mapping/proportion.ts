/**
 * How much larger one figure is than another, by what is paired of them: their legs as they are at rest; where none are paired, how high the first joint
 * of all stands above the ground; else how far what is paired reaches. What has no partner never counts: a banner, a tray, a tail.
 */
import { standsAbove } from '../rig/skeleton.ts';
import type { Measured } from '../rig/skeleton.ts';
import type { Triple } from '../math/euler.ts';
import type { Pair } from './match.ts';

/** Ankles and feet lie within this part of the figure's height above its lowest joint. */
const LOW = 0.2;
/** A leg is at least this part of it long. */
const LEG = 0.3;

interface PairedRow {
  readonly source: number;
  readonly target: number;
  /** The nearest pair above it in both, or −1: a place in the list. */
  readonly above: number;
}

/** Places of the target are those of the source times this. */
export function proportionOf(a: Measured, b: Measured, pairs: readonly Pair[]): number {
  const rows = pairedRows(a, b, pairs);
  return legsRatio(a, b, rows) ?? hipsRatio(a, b, rows) ?? reachRatio(a, b, rows) ?? 1;
}

function pairedRows(a: Measured, b: Measured, pairs: readonly Pair[]): PairedRow[] {
  const found = pairs.map(({ source, target }) => [a.rig.indexOf(source), b.rig.indexOf(target)] as const);
  const placeOf = new Map(found.map(([source], at) => [source, at]));
  return found.map(([source, target]) => {
    for (let up = a.rig.parents[source]!; up >= 0; up = a.rig.parents[up]!) {
      const above = placeOf.get(up) ?? -1;
      if (above >= 0 && standsAbove(b, found[above]![1], target)) return { source, target, above };
    }
    return { source, target, above: -1 };
  });
}

export interface PairedLeg {
  /** Rows of the two ankles, or of what is first near the ground. */
  readonly source: number;
  readonly target: number;
  /** cm, along the bones from the hip joint. */
  readonly was: number;
  readonly is: number;
}

/** The legs that both have: from a low joint up to where the body begins to branch. */
export function pairedLegs(a: Measured, b: Measured, pairs: readonly Pair[]): PairedLeg[] {
  return legsOf(a, b, pairedRows(a, b, pairs));
}

function legsOf(a: Measured, b: Measured, rows: readonly PairedRow[]): PairedLeg[] {
  const heights = rows.map(({ source }) => a.at[source]![1]);
  const [low, high] = [Math.min(...heights), Math.max(...heights)];
  const children = rows.map(() => 0);
  for (const { above } of rows) if (above >= 0) children[above]! += 1;
  return rows.flatMap(({ above, source, target }, at): PairedLeg[] => {
    // The first low joint of its chain: an ankle, and not the toes below it.
    if (heights[at]! > low + LOW * (high - low) || above < 0) return [];
    if (heights[above]! <= low + LOW * (high - low)) return [];
    let [was, is] = [0, 0];
    // What leads from the body to the hip joint is its breadth.
    for (let k = at; rows[k]!.above >= 0 && children[rows[k]!.above]! <= 1; k = rows[k]!.above) {
      const up = rows[rows[k]!.above]!;
      was += apart(a, up.source, rows[k]!.source);
      is += apart(b, up.target, rows[k]!.target);
    }
    return was < LEG * (high - low) ? [] : [{ source, target, was, is }];
  });
}

/** By the bones of all legs. */
function legsRatio(a: Measured, b: Measured, rows: readonly PairedRow[]): number | null {
  const legs = legsOf(a, b, rows);
  const sum = (of: (leg: PairedLeg) => number) => legs.reduce((all, leg) => all + of(leg), 0);
  const [ours, theirs] = [sum(({ was }) => was), sum(({ is }) => is)];
  return ours > 0 && theirs > 0 ? theirs / ours : null;
}

/** By how high the first of all joints stands above the ground. */
function hipsRatio(a: Measured, b: Measured, rows: readonly PairedRow[]): number | null {
  const first = rows.find(({ above, source }) => above < 0 && a.sizes[source]! > 2);
  if (!first) return null;
  const [was, is] = [a.at[first.source]![1], b.at[first.target]![1]];
  return was > 1e-3 && is > 1e-3 ? is / was : null;
}

/** By how far what is paired lies from its middle. */
function reachRatio(a: Measured, b: Measured, rows: readonly PairedRow[]): number | null {
  const reach = (of: Measured, row: (one: PairedRow) => number) => {
    const places = rows.map((one) => of.at[row(one)]!);
    const middle = [0, 1, 2].map(
      (axis) => places.reduce((sum, place) => sum + place[axis]!, 0) / places.length,
    );
    return places.reduce((sum, place) => sum + distance(place, middle as unknown as Triple), 0);
  };
  const [was, is] = [reach(a, ({ source }) => source), reach(b, ({ target }) => target)];
  return was > 1e-3 && is > 1e-3 ? is / was : null;
}

const apart = ({ at }: Measured, from: number, to: number): number => distance(at[from]!, at[to]!);
const distance = (p: Readonly<Triple>, q: Readonly<Triple>): number =>
  Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
