import { MathUtils } from '@gltf-transform/core';
import type { Accessor } from '@gltf-transform/core';

const EMPTY = new Float32Array();

/** All numbers of an accessor one after the other, those that are normalized as the fractions that they mean (glTF 2.0, 3.6.2.2): asked for one by one they take ten times as long. */
export function numbersIn(accessor: Accessor): ArrayLike<number> {
  const array = accessor.getArray() as ArrayLike<number> | null;
  if (!array || !accessor.getNormalized()) return array ?? EMPTY;
  const type = accessor.getComponentType();
  return Float32Array.from(array, (value) => MathUtils.decodeNormalizedInt(value, type));
}
