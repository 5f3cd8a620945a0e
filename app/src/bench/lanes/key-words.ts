import { FLAG, SEGMENT, TANGENT } from '@kneader/core';
import type { Curve } from '@kneader/core';

const nameOf = (kinds: Readonly<Record<string, number>>, kind: number): string =>
  Object.entries(kinds).find(([, value]) => value === kind)?.[0] ?? '';

/** A key in words: where it is, its value, what comes in and goes out, whether it is locked. */
export function keyWords(curve: Curve, row: number, unit: string): string {
  const [into, out] = [curve.tangentsIn, curve.tangentsOut].map((kinds) => nameOf(TANGENT, kinds[row]!));
  const leaves = curve.segments[row] === SEGMENT.stepped ? 'stepped' : out;
  const value = Math.round(curve.values[row]! * 100) / 100;
  return [
    `frame ${Math.round(curve.times[row]! * 100) / 100}`,
    `${Object.is(value, -0) ? 0 : value}${unit === '' ? '' : ` ${unit}`}`,
    into === leaves ? into : `${into} in, ${leaves} out`,
    ...(curve.flags[row]! & FLAG.locked ? ['locked'] : []),
  ].join(', ');
}
