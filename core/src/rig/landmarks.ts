/**
 * Joints that surely are what they are. Shoulder, elbow and wrist of a figure's arms, by their measures, whatever clavicles and twist joints stand among them: laid out straight, all of
 * them lie in one line, and likeness alone takes the one for the other. And hips, by what hangs on them.
 *
 * Measures are of Drillis & Contini (in Winter, Biomechanics and Motor Control of Human Movement, fig. 4.1; from memory), against a body's height: upper arm 0.186, forearm 0.146, half the
 * breadth of the shoulders 0.129. Joints are measured against the highest joint, a little below that.
 */
import type { Measured } from './skeleton.ts';

export interface Arm {
  readonly side: number;
  readonly shoulder: number;
  readonly elbow: number;
  readonly wrist: number;
}

/** Heights: nearer to the middle a joint belongs to the body; lower, what begins there is no arm. */
const [MIDDLE, HIGH] = [0.02, 0.65];
/** What is expected, and by how much it usually differs: the elbow's place along the arm, the arm's length and the shoulder's breadth in heights, a hand's length. */
const ELBOW = [0.54, 0.05] as const;
const ARM = [0.36, 0.1] as const;
const BREADTH = [0.12, 0.04] as const;
const HAND = [0.06, 0.06] as const;
/** So many joints hang on a hand with fingers. */
const FINGERS = 3;
/** Worse than this it is no arm as we know them; and the next best must be worse by so much. */
const [WORST, CLEAR] = [9, 1.5];

/** The arms that are found. @param clear by how much the next best reading must be worse: as it stands, so that they are surely these */
export function armsOf(of: Measured, clear: number = CLEAR): Arm[] {
  const { places, rig } = of;
  const begins = places.flatMap(([x, y], row) => {
    const parent = rig.parents[row]!;
    const isFirst = Math.abs(x) >= MIDDLE && parent >= 0 && Math.abs(places[parent]![0]) < MIDDLE;
    return isFirst && y > HIGH ? [row] : [];
  });
  return [-1, 1].flatMap((side): Arm[] => {
    const found = begins
      .filter((row) => Math.sign(places[row]![0]) === side)
      .flatMap((row) => armsAlong(of, pathDown(of, row), side))
      .sort((p, q) => p.cost - q.cost);
    const [best, next] = found;
    const isClear = best && best.cost < WORST && (!next || next.cost >= best.cost + clear);
    return isClear ? [best.arm] : [];
  });
}

/** From a joint down to where the longest way ends. */
function pathDown(of: Measured, row: number): number[] {
  const reach = (at: number): number =>
    of.children[at]!.reduce((most, child) => Math.max(most, reach(child)), of.along[at]!);
  const path = [row];
  for (let at = row; of.children[at]!.length > 0;) {
    at = of.children[at]!.reduce((best, child) => (reach(child) > reach(best) ? child : best));
    path.push(at);
  }
  return path;
}

function armsAlong({ along, places, children }: Measured, path: readonly number[], side: number) {
  const off = (value: number, [usual, spread]: readonly [number, number]) => ((value - usual) / spread) ** 2;
  const fingered = path.find((row) => children[row]!.length >= FINGERS);
  const end = along[path.at(-1)!]!;
  const found: { readonly arm: Arm; readonly cost: number }[] = [];
  path.forEach((shoulder, s) =>
    path.slice(s + 1).forEach((elbow, e) =>
      path.slice(s + e + 2).forEach((wrist) => {
        const length = along[wrist]! - along[shoulder]!;
        if (length <= 0) return;
        const hand = end - along[wrist]!;
        const cost =
          off((along[elbow]! - along[shoulder]!) / length, ELBOW) +
          off(length, ARM) +
          off(Math.abs(places[shoulder]![0]), BREADTH) +
          (fingered === undefined ? off(Math.max(hand, HAND[0]), HAND) : fingered === wrist ? 0 : WORST);
        found.push({ arm: { side, shoulder, elbow, wrist }, cost });
      }),
    ),
  );
  return found;
}

/** Joints below this part of the height belong to feet. */
const LOW = 0.12;

/** The joint deepest in the tree on which both arms and feet of both sides hang; −1 where none is that. */
export function hipsOf({ children, places, rig }: Measured, arms: readonly Arm[]): number {
  if (arms.length < 2) return -1;
  const holds = places.map(() => 0);
  for (const row of [...rig.order].reverse()) {
    const [x, y] = places[row]!;
    if (children[row]!.length === 0 && y < LOW && Math.abs(x) > MIDDLE) holds[row]! |= x > 0 ? 1 : 2;
    arms.forEach(({ shoulder }, k) => {
      if (shoulder === row) holds[row]! |= 4 << k;
    });
    const parent = rig.parents[row]!;
    if (parent >= 0) holds[parent]! |= holds[row]!;
  }
  return [...rig.order].filter((row) => holds[row] === ALL).at(-1) ?? -1;
}
const ALL = 1 | 2 | 4 | 8;
