/** The points of a body that stand on the ground: heel and ball of each foot, on its sole. */
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import type { Triple } from '../math/euler.ts';
import { conjugate, rotate } from '../math/quaternion.ts';
import type { BodyPoint } from '../rig/body-point.ts';
import { bodyOf } from './body-of.ts';

/** A point that may stand, and what it is called: heel and ball of a foot, else the joint itself. */
export interface StandingPoint extends BodyPoint {
  readonly name: 'heel' | 'ball' | 'joint';
}

/** Heel and ball of the feet; none of a character that is no body with legs. Points lie below ankle and toes at rest, on the level of the lowest. */
export function solesOf(shot: Shot, character: string | null): readonly StandingPoint[] {
  const { limbs } = bodyOf(shot, character);
  const rig = rigOf(shot);
  return (limbs?.legs ?? []).flatMap(({ ankle, toe }) => {
    const floor = Math.min(rig.restPlaces[ankle]![1], rig.restPlaces[toe]![1]);
    const at = (node: number, name: 'heel' | 'ball'): StandingPoint => {
      const down = floor - rig.restPlaces[node]![1];
      return { node, name, at: rotate(conjugate(rig.restTurns[node]!), 0, down, 0) };
    };
    return ankle === toe ? [at(ankle, 'heel')] : [at(ankle, 'heel'), at(toe, 'ball')];
  });
}

/** Joints that may stand by themselves: a hand on a table, a knee. */
export const jointPoints = (shot: Shot, nodes: readonly string[]): readonly StandingPoint[] =>
  nodes.flatMap((id) => {
    const node = rigOf(shot).indexOf(id);
    return node < 0 ? [] : [{ node, name: 'joint' as const, at: [0, 0, 0] as Triple }];
  });

/** Legs are so much of a body's height (Drillis & Contini, in Winter, fig. 4.1: 0.530 to the hip; from memory). */
const LEGS = 0.53;

/** How long its legs are on the mean, hip to ankle along the bones at rest; without legs what they would be at its height. */
export function legLength(shot: Shot, character: string | null): number {
  const { limbs, stands } = bodyOf(shot, character);
  const legs = limbs?.legs ?? [];
  if (legs.length === 0) return LEGS * stands || 1;
  const { restPlaces } = rigOf(shot);
  const apart = (p: number, q: number) =>
    Math.hypot(...[0, 1, 2].map((axis) => restPlaces[p]![axis]! - restPlaces[q]![axis]!));
  const all = legs.reduce((sum, { hip, knee, ankle }) => sum + apart(hip, knee) + apart(knee, ankle), 0);
  return all / legs.length;
}
