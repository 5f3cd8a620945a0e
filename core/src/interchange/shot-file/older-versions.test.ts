/** A file of every version that ever was opens to the poses that it showed then. */
import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { SHOT_VERSION } from '../../document/parts/parts.ts';
import { worldAt } from '../../evaluation/evaluation.ts';
import { readShotFile } from './read-shot.ts';
import { writeShotFile } from './write-shot.ts';

const folder = new URL('../../testing/old-files/', import.meta.url);
const text = (name: string) => readFileSync(new URL(name, folder), 'utf8');
const versions = Array.from({ length: SHOT_VERSION }, (_, i) => i + 1);

test('there is one of each', () => {
  for (const version of versions) {
    expect(readdirSync(folder)).toContain(`version-${version}.kneader.json`);
    expect(JSON.parse(text(`version-${version}.kneader.json`))).toMatchObject({ version });
  }
});

test.each(versions)('version %i: the same matrices as the Kneader of its time worked out', (version) => {
  const shot = readShotFile(text(`version-${version}.kneader.json`));
  const { frames, matrices } = JSON.parse(text(`version-${version}.poses.json`)) as {
    frames: number[];
    matrices: number[][];
  };
  frames.forEach((frame, i) => {
    const now = worldAt(shot, frame).matrices;
    expect(now).toHaveLength(matrices[i]!.length);
    now.forEach((value, m) => expect(Math.abs(value - matrices[i]![m]!)).toBeLessThan(1e-8));
  });
});

test.each(versions)('version %i goes out as this one, with nothing of the old form', (version) => {
  const document = JSON.parse(writeShotFile(readShotFile(text(`version-${version}.kneader.json`)))) as object;
  expect(document).toMatchObject({ version: SHOT_VERSION });
  expect(Object.keys(document)).not.toContain('chains');
  expect(Object.keys(document)).not.toContain('passes');
});

test('each example of a shot in the docs opens', () => {
  const docs = readFileSync(new URL('../../../../docs/file-format.md', import.meta.url), 'utf8');
  const examples = [...docs.matchAll(/```json\n([\s\S]*?)```/g)].map(([, example]) => example!);
  const shots = examples.filter((example) => example.includes('kneader-shot'));
  expect(shots.length).toBeGreaterThan(0);
  for (const example of shots) {
    expect(JSON.parse(example)).toMatchObject({ version: SHOT_VERSION });
    expect(readShotFile(example).nodes.length).toBeGreaterThan(0);
  }
});
