/** What version 1 showed is what is shown: a file and its values written by the code of that version. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { checkedSession } from '../../session/checked-session.ts';
import { openSession } from '../../session/session.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf } from '../shot.ts';
import type { Shot } from '../shot.ts';

interface Recorded {
  readonly file: object;
  readonly frames: readonly number[];
  readonly values: Readonly<Record<string, readonly number[]>>;
}
const { file, frames, values } = JSON.parse(
  readFileSync(new URL('../../testing/shot-version-1.json', import.meta.url), 'utf8'),
) as Recorded;
const shown = (shot: Shot) =>
  Object.fromEntries(
    Object.keys(values).map((id) => [
      id,
      frames.map((frame) => valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]),
    ]),
  );

describe('a file of version 1', () => {
  const shot = readShotFile(JSON.stringify(file));

  test('shows the same to the bit', () => {
    expect(shown(shot)).toEqual(values);
  });

  test('bookends with their zero keys are the range; where keys say otherwise it is open', () => {
    expect(shot.layers.map(({ id, kind, range, settings }) => [id, kind, range, settings])).toEqual([
      ['lift', 'offset', { start: 6, end: 18, rampIn: 0, rampOut: 0 }, { rotations: 'channels' }],
      ['turn', 'offset', null, { rotations: 'orientations' }],
      ['take', 'replace', null, { rotations: 'channels' }],
      ['off', 'offset', null, { rotations: 'channels' }],
    ]);
  });

  test('goes out as version 3, and comes back as it was', () => {
    const text = writeShotFile(shot);
    expect((JSON.parse(text) as { version: number }).version).toBe(3);
    expect(shown(readShotFile(text))).toEqual(values);
    expect(writeShotFile(readShotFile(text))).toBe(text);
  });
});

test('a stored session of version 1 opens, its steps sharing what they shared', () => {
  const shot = readShotFile(JSON.stringify(file));
  const { layers, ...rest } = shot;
  const old = {
    ...rest,
    passes: layers.map(({ range, settings, channels: _, ...layer }) => ({
      ...layer,
      bookends: range && { start: range.start, end: range.end },
      rotations: settings['rotations'] ?? 'channels',
    })),
  };
  const fresh = openSession(shot);
  const stored = {
    ...fresh,
    shot: old,
    before: old,
    steps: fresh.steps.map((step) => ({ ...step, shot: old })),
  };
  const session = checkedSession(stored);
  expect(shown(session.shot)).toEqual(values);
  expect(session.before).toBe(session.shot);
  expect(session.steps[0]!.shot).toBe(session.shot);
  expect(session.shot.curves).toBe(shot.curves);
});

test('layers of a kind that this version does not know are kept, written as they came, and do nothing', () => {
  const shot = readShotFile(JSON.stringify(file));
  const json = JSON.parse(writeShotFile(shot)) as { layers: object[] };
  const strange = {
    ...json.layers[0]!,
    id: 'later',
    kind: 'gravity',
    settings: { pull: [9.8, 'down'] },
    note: 1,
  };
  const text = JSON.stringify({ ...json, layers: [...json.layers, strange] });
  const read = readShotFile(text);
  expect(shown(read)).toEqual(values);
  expect(JSON.parse(writeShotFile(read))).toEqual(JSON.parse(text));
});

describe('what is refused, with the place', () => {
  const json = () => JSON.parse(writeShotFile(readShotFile(JSON.stringify(file)))) as { layers: object[] };
  test.each<[string, object, RegExp]>([
    [
      'a range turned round',
      { range: { start: 9, end: 3, rampIn: 0, rampOut: 0 } },
      /layers\[0\]\.range.*ends before/,
    ],
    ['a member twice', { members: ['hips', 'hips'] }, /members.*twice/],
    ['a pattern of zeros', { kind: 'step', curves: {}, settings: { pattern: [0] } }, /settings\.pattern/],
    [
      'a frequency of nothing',
      { kind: 'spring', curves: {}, settings: { frequency: 0 } },
      /settings\.frequency/,
    ],
    ['keys on a filter', { kind: 'smooth', settings: {} }, /nothing can be keyed/],
    ['the id of another', { id: 'turn' }, /share an id/],
  ])('%s', (_, more, words) => {
    const document = json();
    Object.assign(document.layers[0]!, more);
    expect(() => readShotFile(JSON.stringify(document))).toThrow(words);
  });
});
