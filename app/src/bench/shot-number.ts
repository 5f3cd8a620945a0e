import type { Shot } from '@kneader/core';

const numbers = new WeakMap<Shot, number>();
let shots = 0;

/** A shot never changes: a number stands for it where what was worked out from it is kept. */
export function numberOf(shot: Shot): number {
  const known = numbers.get(shot) ?? (shots += 1);
  numbers.set(shot, known);
  return known;
}
