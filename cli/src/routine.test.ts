/** A routine over captured motion (01_01.bvh and 01_03.bvh, Debian's assimp-testmodels), over what cannot be read, and over two hundred files. */
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { expect, test } from '@jest/globals';
import { curvesIn, readAction, readBvh } from '@kneader/core';
import { run } from './program.ts';

const FOLDER = '/usr/share/assimp/models/BVH';
const fresh = () => mkdtempSync(join(tmpdir(), 'kneader-routine-'));
const none = { nodes: [], channels: [], range: null, pass: null };
const step = (edit: string, options: object) => ({ edit, options, on: 'selection', recorded: none });
const routineFile = (folder: string, steps: readonly object[]) => {
  const path = join(folder, 'clean.kneader-routine.json');
  writeFileSync(path, JSON.stringify({ format: 'kneader-routine', version: 1, name: 'Clean', steps }));
  return path;
};
const kneader = async (words: readonly string[], onPrint: (text: string) => void = () => undefined) => {
  const said: string[] = [];
  const say = (text: string) => {
    said.push(text);
    onPrint(text);
  };
  return { code: await run(words, { print: say, warn: say }), said };
};
interface Report {
  readonly files: readonly {
    file: string;
    status: string;
    written: string[];
    sentences: string[];
    steps: object[];
  }[];
}
const reportOf = (path: string) => JSON.parse(readFileSync(path, 'utf8')) as Report;

test('captured motion unwrapped, low-passed, thinned, flipped and saved as an action; what cannot be read is said, and the rest is done', async () => {
  const folder = fresh();
  const [from, to] = [join(folder, 'in'), join(folder, 'out')];
  mkdirSync(from);
  for (const name of ['01_01.bvh', '01_03.bvh']) copyFileSync(join(FOLDER, name), join(from, name));
  writeFileSync(join(from, 'cut.bvh'), readFileSync(join(FOLDER, '01_01.bvh'), 'utf8').slice(0, 1500));
  const path = routineFile(folder, [
    step('clean.unwrap', {}),
    step('clean.smooth', { method: 'lowPass' }),
    step('clean.thin', { measure: 'space', space: 2 }),
    step('poses.flipRange', {}),
    step('actions.save', { name: 'Captured', tags: ['walk'] }),
  ]);
  const files = ['01_01.bvh', 'cut.bvh', 'gone.bvh', '01_03.bvh'].map((name) => join(from, name));
  const report = join(folder, 'report.json');
  const { code, said } = await kneader([
    'routine',
    path,
    ...files,
    '-o',
    to,
    '--to',
    '.glb',
    '--range',
    '0:120',
    '--channels',
    '*Arm.*',
    '--report',
    report,
  ]);
  expect(code).toBe(1);
  expect(said.at(-1)).toBe('2 changed, 0 unchanged, 2 failed.');
  const lines = reportOf(report).files;
  // By name.
  expect(lines.map(({ status }) => status)).toEqual(['changed', 'changed', 'failed', 'failed']);
  expect(lines[0]!.steps).toHaveLength(5);
  for (const line of lines) for (const written of line.written) expect(existsSync(written)).toBe(true);
  expect(lines[2]!.sentences[0]).toMatch(/^[A-Z].*\.$/);
  const action = readAction(JSON.parse(readFileSync(join(to, '01_03.kneader-action.json'), 'utf8')));
  const source = readBvh(readFileSync(join(FOLDER, '01_03.bvh'), 'utf8'), 'walk').shot;
  const arms = [...curvesIn(source.curves, source.nodes)].filter(([id]) => /Arm\./.test(id));
  expect(action.curves.size).toBe(arms.length);
  const most = Math.max(...[...action.curves.values()].map(({ times }) => times.length));
  expect([most > 2, most < 100]).toEqual([true, true]);
}, 120_000);

test('nothing is written over an input, nor two results over each other', async () => {
  const folder = fresh();
  const path = routineFile(folder, [step('clean.unwrap', {})]);
  const text = readFileSync(join(FOLDER, '01_01.bvh'));
  writeFileSync(join(folder, 'a.bvh'), text);
  const same = await kneader(['routine', path, join(folder, 'a.bvh'), '-o', folder]);
  const twice = await kneader([
    'routine',
    path,
    join(folder, 'a.bvh'),
    join(folder, 'a.bvh'),
    '-o',
    join(folder, 'out'),
  ]);
  expect([same.code, twice.code]).toEqual([1, 1]);
  expect([same.said.at(-1), twice.said.at(-1)].every((said) => said!.includes('a.bvh'))).toBe(true);
  expect(readFileSync(join(folder, 'a.bvh')).equals(text)).toBe(true);
  expect(existsSync(join(folder, 'out', 'a.bvh'))).toBe(false);
});

test('files of one name from several folders go to folders of those names, and the others lie beside them', async () => {
  const folder = fresh();
  const path = routineFile(folder, [{ edit: 'clean.unwrap', options: {}, on: 'everything' }]);
  const places = ['one/a.bvh', 'two/deep/a.bvh', 'two/b.bvh'];
  for (const place of places) {
    mkdirSync(dirname(join(folder, place)), { recursive: true });
    copyFileSync(join(FOLDER, '01_03.bvh'), join(folder, place));
  }
  const { code } = await kneader([
    'routine',
    path,
    ...places.map((place) => join(folder, place)),
    '-o',
    join(folder, 'out'),
  ]);
  expect([
    code,
    ...['one/a.bvh', 'two/deep/a.bvh', 'b.bvh'].map((place) => existsSync(join(folder, 'out', place))),
  ]).toEqual([0, true, true, true]);
});

test('an edit that is not known, a routine that is none: a sentence', async () => {
  const folder = fresh();
  const unknown = await kneader([
    'routine',
    routineFile(folder, [step('clean.polish', {})]),
    join(FOLDER, '01_03.bvh'),
    '-o',
    join(folder, 'out'),
  ]);
  expect([unknown.code, unknown.said]).toEqual([1, [expect.stringMatching(/clean\.polish/)]]);
  expect(existsSync(join(folder, 'out'))).toBe(false);
  const bad = join(folder, 'bad.json');
  writeFileSync(bad, '{"format": "kneader-shot"}');
  const none2 = await kneader(['routine', bad, join(FOLDER, '01_03.bvh'), '-o', join(folder, 'out')]);
  expect([none2.code, none2.said.at(-1)]).toEqual([1, expect.stringMatching(/not a usable routine/)]);
});

test('over two hundred files memory does not grow, and each has its line', async () => {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const folder = fresh();
  const text = `HIERARCHY\nROOT a\n{ OFFSET 0 0 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{ OFFSET 0 9 0 }\n}\nMOTION\nFrames: 12\nFrame Time: 0.04\n${Array.from({ length: 12 }, (_, i) => `${i} ${(i * i) % 7} ${-i}`).join('\n')}\n`;
  const files = Array.from({ length: 200 }, (_, i) => join(folder, `step ${i}.bvh`));
  for (const file of files) writeFileSync(file, text);
  const held: number[] = [];
  const report = join(folder, 'report.json');
  const path = routineFile(folder, [step('clean.unwrap', {}), step('clean.thin', {})]);
  const { code } = await kneader(
    ['routine', path, ...files, '-o', join(folder, 'out'), '--report', report],
    (text) => {
      if (!/^(?:50|200)\//.test(text)) return;
      collect();
      held.push(process.memoryUsage().heapUsed);
    },
  );
  expect([code, held.length]).toEqual([0, 2]);
  // A hundred and fifty more lines of the report, and nothing else.
  expect(held[1]! - held[0]!).toBeLessThan(2e6);
  const lines = reportOf(report).files;
  expect([lines.length, new Set(lines.map(({ file }) => file)).size]).toEqual([200, 200]);
  expect(lines.every(({ status, written }) => status !== 'failed' && existsSync(written[0]!))).toBe(true);
}, 120_000);
