/**
 * Good files with seeded damage: bytes changed, cut, doubled, words exchanged. Whatever comes in, either it is read to a
 * valid shot or it is refused with a sentence; nothing else may be thrown, and none may take long or much memory.
 */
import { describe, expect, test } from '@jest/globals';
import { InputError } from '../base/finding.ts';
import { seededRandom } from '../base/random.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { brokenRule } from '../curve/validate.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { curvesIn } from '../document/shot.ts';
import { openData } from '../testing/open-data.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { writeGlb, writeGltfText } from './gltf/write-gltf.ts';
import { readFile } from './read-file.ts';
import { readShotFile } from './shot-file/read-shot.ts';
import { writeShotFile } from './shot-file/write-shot.ts';

const utf8 = (text: string) => new TextEncoder().encode(text);
const moving = puppet({ 'hips.ty': curve([0, 0, 12, 30, 24, 0]), 'arm_l.rz': curve([0, 0, 24, 90]) });
const captured = new TextDecoder().decode(openData('BVH/01_01.bvh'));
/** The hierarchy and the first rows: damage falls into both. */
const shortCapture = captured.split('\n').slice(0, 230).join('\n');

const GOOD: readonly [string, () => Promise<Uint8Array>][] = [
  ['capture.bvh', () => Promise.resolve(utf8(shortCapture))],
  ['shot.glb', () => writeGlb(moving)],
  ['shot.gltf', async () => utf8(await writeGltfText(moving))],
  ['simple_skin.gltf', () => Promise.resolve(openData('glTF2/simple_skin/simple_skin.gltf'))],
  ['small.kneader.json', () => Promise.resolve(utf8(writeShotFile(moving)))],
  ['demo.kneader.json', () => Promise.resolve(utf8(writeShotFile(DEMO_SHOTS[1]!.make())))],
];
/** 3,000 in all. */
const PER_FILE = 500;
/** No damaged copy of a small file may take more memory, and none so long that Jest gives it up. */
const MOST_BYTES = 400e6;
const WORDS = [
  '-1',
  '1e999',
  'NaN',
  'null',
  '""',
  '[]',
  '{}',
  '99999999999',
  'true',
  '}',
  '"',
  ',',
  '0',
  '\u0000',
  '𝄞',
];

type Random = ReturnType<typeof seededRandom>;

function damaged(bytes: Uint8Array, random: Random): Uint8Array {
  const at = random.whole(0, bytes.length - 1);
  switch (random.whole(0, 5)) {
    case 0:
      return bytes.slice(0, at);
    case 1: {
      const copy = bytes.slice();
      for (let i = random.whole(1, 8); i > 0; i -= 1)
        copy[random.whole(0, bytes.length - 1)] = random.whole(0, 255);
      return copy;
    }
    case 2: {
      const end = Math.min(bytes.length, at + random.whole(1, 60));
      return joined(bytes.subarray(0, at), bytes.subarray(end));
    }
    case 3: {
      const end = Math.min(bytes.length, at + random.whole(1, 60));
      return joined(bytes.subarray(0, end), bytes.subarray(at));
    }
    default:
      return withWord(bytes, random);
  }
}

/** One number or word of the text in place of another: damage that still parses. */
function withWord(bytes: Uint8Array, random: Random): Uint8Array {
  const text = new TextDecoder().decode(bytes);
  const places = [...text.matchAll(/-?\d+(?:\.\d+)?(?:e-?\d+)?|"[^"]*"|[A-Za-z]+/g)];
  const place = places[random.whole(0, places.length - 1)]!;
  const word = WORDS[random.whole(0, WORDS.length - 1)]!;
  return utf8(text.slice(0, place.index) + word + text.slice(place.index + place[0].length));
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const result = new Uint8Array(a.length + b.length);
  result.set(a);
  result.set(b, a.length);
  return result;
}

describe.each(GOOD)('%s', (name, make) => {
  test(`${PER_FILE} damaged copies are read to a valid shot, or refused with a sentence`, async () => {
    const good = await make();
    const random = seededRandom(name.length * 7919);
    let refusals = 0;
    for (let i = 0; i < PER_FILE; i += 1) {
      const bytes = damaged(good, random);
      const held = process.memoryUsage().arrayBuffers;
      try {
        const { shot } = await readFile(name, bytes);
        for (const [, one] of curvesIn(shot.curves, shot.nodes)) expect(brokenRule(one)).toBeNull();
        worldAt(shot, shot.range.start);
        readShotFile(writeShotFile(shot));
      } catch (error) {
        if (!(error instanceof InputError))
          throw new Error(`copy ${i} threw ${String(error)}`, { cause: error });
        expect(error.finding.sentence).toMatch(/^[^a-z].{8,}\.$/s);
        expect(error.finding.sentence).not.toMatch(/undefined|\[object/);
        refusals += 1;
      }
      expect(process.memoryUsage().arrayBuffers - held).toBeLessThan(MOST_BYTES);
    }
    // Damage that is never noticed would mean that nothing is checked.
    expect(refusals).toBeGreaterThan(PER_FILE / 5);
  });
});
