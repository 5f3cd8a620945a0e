import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { InputError } from '../../base/finding.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { shotFileSchemaText } from '../../document/parts/parts.ts';
import { choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../../edits/run-edit.ts';
import type { Shot } from '../../document/shot.ts';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { NO_OFFSET } from '../../rig/relations/relation.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import { readFile } from '../read-file.ts';
import { readShotFile } from './read-shot.ts';
import { writeShotFile } from './write-shot.ts';

const shot = {
  ...puppet({ 'hips.ty': curve([0, 1, 10, 5, 24, 2]) }),
  layers: [pass('lift', { members: ['hips'], curves: [{ ty: curve([3, 4]) }] })],
  locked: ['hips.tx'],
};
interface Loose {
  [field: string]: Loose & { [i: number]: Loose };
}
const change = (edit: (document: Loose) => void) => {
  const document = JSON.parse(writeShotFile(shot)) as Loose;
  edit(document);
  return JSON.stringify(document);
};
const refusal = (text: string) => {
  try {
    readShotFile(text);
  } catch (error) {
    if (error instanceof InputError) return error.finding;
    throw error;
  }
  throw new Error('it was read');
};

describe('the shot file', () => {
  test.each(DEMO_SHOTS)('$id goes out and in without a change', ({ make }) => {
    const text = writeShotFile(make());
    expect(writeShotFile(readShotFile(text))).toBe(text);
  });

  test('unknown fields survive at every level, through an edit too', () => {
    const text = change((document) => {
      Object.assign(document, { studio: { floor: 3 } });
      Object.assign(document['nodes']![0]!, { tint: 'rose' });
      Object.assign(document['layers']![0]!, { note: 'higher' });
      Object.assign(document['curves']!['hips.ty']!, { origin: 'take 4' });
    });
    expect(JSON.parse(writeShotFile(readShotFile(text)))).toEqual(JSON.parse(text));
    const edited = runEdit('keys.move', readShotFile(text), choose({ channels: ['hips.ty'] }), {
      value: 1,
    }).shot;
    const after = JSON.parse(writeShotFile(edited)) as Loose;
    expect([
      after['studio'],
      after['nodes']![0]!['tint'],
      after['layers']![0]!['note'],
      after['curves']!['hips.ty']!['origin'],
    ]).toEqual([{ floor: 3 }, 'rose', 'higher', 'take 4']);
  });

  test('the published schema is the one in the code', () => {
    expect(readFileSync(new URL('../../../../docs/shot-file.schema.json', import.meta.url), 'utf8')).toBe(
      shotFileSchemaText(),
    );
  });

  test('a newer version is refused, another format too, and cut text', () => {
    expect(refusal(change((document) => Object.assign(document, { version: 99 }))).sentence).toMatch(
      /version 99.*newer Kneader/,
    );
    expect(refusal('{"format":"other"}').code).toBe('notAShotFile');
    expect(refusal('[]').code).toBe('notAShotFile');
    expect(refusal(writeShotFile(shot).slice(0, 300)).code).toBe('notJson');
  });

  test.each<[string, (document: Loose) => void, RegExp]>([
    [
      'a parent that is not there',
      (d) => Object.assign(d['nodes']![1]!, { parent: 'tail' }),
      /nodes\[1\]\.parent: there is no node “tail”/,
    ],
    ['two nodes of one name', (d) => Object.assign(d['nodes']![1]!, { id: 'hips' }), /“hips” stands twice/],
    ['a circle', (d) => Object.assign(d['nodes']![0]!, { parent: 'hand_l' }), /hips|circle/],
    [
      'columns of two lengths',
      (d) => (d['curves']!['hips.ty'] as unknown as { values: number[] }).values.pop(),
      /hips\.ty/,
    ],
    [
      'times that fall',
      (d) => (d['curves']!['hips.ty'] as unknown as { times: number[] }).times.reverse(),
      /hips\.ty/,
    ],
    [
      'text for a number',
      (d) => Object.assign(d['curves']!['hips.ty']!, { values: ['a', 1, 2] }),
      /hips\.ty/,
    ],
    [
      'null for a number (NaN as JSON writes it)',
      (d) => Object.assign(d['curves']!['hips.ty']!, { values: [null, 1, 2] }),
      /hips\.ty/,
    ],
    [
      'a curve on no channel',
      (d) => Object.assign(d['curves']!, { 'hips.wobble': d['curves']!['hips.ty'] }),
      /there is no such channel/,
    ],
    ['a rate of nothing', (d) => Object.assign(d['rate']!, { numerator: 0 }), /rate/],
    ['a range that ends before it starts', (d) => Object.assign(d['range']!, { end: -4 }), /range/],
    [
      'a pass without weight',
      (d) => Object.assign(d['layers']![0]!, { weight: { times: [], values: [] } }),
      /weight/,
    ],
  ])('%s is refused, with the place', (_, edit, sentence) => {
    expect(refusal(change(edit)).sentence).toMatch(sentence);
  });
});

describe('relations that hold the same', () => {
  const read = (of: Shot) => readFile('one.kneader.json', new TextEncoder().encode(writeShotFile(of)));

  test.each(DEMO_SHOTS)('$id: nothing is said, since no edit makes them', async ({ make }) => {
    expect((await read(make())).findings.map(({ code }) => code)).not.toContain('heldTwice');
  });

  test.each([
    [{ kind: 'parent' }, { kind: 'parent' }, true],
    [{ kind: 'parent' }, { kind: 'position' }, true],
    [{ kind: 'position' }, { kind: 'orientation' }, false],
    [{ kind: 'aim' }, { kind: 'orientation' }, true],
    [{ kind: 'parent' }, { kind: 'unheard-of' }, false],
  ])('%j and %j of one node in a file: said is %s', async (first, second, said) => {
    const plain = puppet({});
    const [node, target] = [plain.nodes[1]!.id, plain.nodes[0]!.id];
    const relation = ({ kind }: { kind: string }, id: string): Relation => ({
      id,
      kind,
      node,
      targets: [{ node: target, offset: NO_OFFSET, share: null }],
      weight: null,
      switch: null,
      settings: relationKindOf({ kind })?.settings.parse({}) ?? {},
    });
    const relations = [relation(first, 'a'), relation(second, 'b')];
    const { findings } = await read({ ...plain, relations });
    const found = findings.filter(({ code }) => code === 'heldTwice');
    expect(found.map(({ where }) => where)).toEqual(said ? [{ node }] : []);
  });
});
