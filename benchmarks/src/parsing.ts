/** Parsing captured motion. Both sides end with their own skeleton and curves. */
import { BVHLoader } from 'three/examples/jsm/loaders/BVHLoader.js';
import { readBvh } from '@kneader/core';
import { fasterRow, ratioOf } from './measure.ts';
import type { Row } from './measure.ts';
import { CAPTURED_TEXT } from './open-data.ts';

export function parsingRows(): Row[] {
  const loader = new BVHLoader();
  const ratio = ratioOf(
    () => readBvh(CAPTURED_TEXT, '01_01'),
    () => loader.parse(CAPTURED_TEXT),
  );
  return [fasterRow('parse 01_01.bvh', "three's BVHLoader", ratio, 2)];
}
