/** Limbs of a skeleton: three joints each, found by the names of hands and feet, and by how far joints lie from each other. */
import type { Rig } from './rig.ts';

export interface Limb {
  readonly root: string;
  readonly middle: string;
  readonly end: string;
}

const ENDS = /(hand|wrist|foot|ankle)/i;
/** What hangs on a hand or a foot, and bears its name. */
const BEYOND = /(finger|thumb|index|middle|ring|pinky|toe|ball|heel|tip|end|site|goal|pole|twist|roll)/i;
/** Joints nearer to each other than this part of the figure's height are no bone. */
const SHORT = 0.03;

/** The limbs that end at these joints, or at all that are named as hands and feet. */
export function limbsOf(rig: Rig, ends: readonly string[] | null = null): Limb[] {
  const heights = rig.restPlaces.map(([, y]) => y);
  const height = Math.max(...heights) - Math.min(...heights);
  const named = (row: number) =>
    row >= 0 && ENDS.test(rig.nodes[row]!.id) && !BEYOND.test(rig.nodes[row]!.id);
  const rows = ends
    ? ends.map(rig.indexOf)
    : rig.nodes.map((_, row) => row).filter((row) => named(row) && !named(rig.parents[row]!));
  return rows.flatMap((end): Limb[] => {
    const middle = boneAbove(rig, end, height * SHORT);
    const root = middle < 0 ? -1 : boneAbove(rig, middle, height * SHORT);
    if (end < 0 || root < 0) return [];
    const turns = [root, middle].every((row) => rig.nodes[row]!.channels.includes('rx'));
    const id = (row: number) => rig.nodes[row]!.id;
    return turns ? [{ root: id(root), middle: id(middle), end: id(end) }] : [];
  });
}

/** The nearest joint above that is a bone away, by its rest offsets. */
function boneAbove(rig: Rig, row: number, short: number): number {
  const from = rig.restPlaces[row]!;
  for (let at = rig.parents[row]!; at >= 0; at = rig.parents[at]!) {
    const place = rig.restPlaces[at]!;
    if (Math.hypot(place[0] - from[0], place[1] - from[1], place[2] - from[2]) > short) return at;
  }
  return -1;
}
