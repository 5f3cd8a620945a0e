/** A routine in parts: on several threads, in shards, broken off and gone on with, it is what one run makes, to the byte. */
import { execFile, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { promisify } from 'node:util';
import { expect, test } from '@jest/globals';
import { seededRandom } from '@kneader/core';
import { run } from './program.ts';

const KNEADER = join(import.meta.dirname, '../../bin/kneader');
const COUNT = 40;

/** A folder of captures, some of them in folders below and one of them broken, and a routine that thins them. */
function captures() {
  const folder = mkdtempSync(join(tmpdir(), 'kneader-shards-'));
  const random = seededRandom(17);
  mkdirSync(join(folder, 'in', 'deep'), { recursive: true });
  const inputs = Array.from({ length: COUNT }, (_, i) =>
    join(folder, 'in', i % 7 === 0 ? 'deep' : '', `take ${i % 7 === 0 ? i % 3 : i}-${i}.bvh`),
  );
  for (const [i, input] of inputs.entries()) {
    const rows = Array.from({ length: 30 }, () =>
      [0, 1, 2].map(() => (random.gaussian() * 9).toFixed(3)).join(' '),
    );
    const text = `HIERARCHY\nROOT a\n{ OFFSET 0 0 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{ OFFSET 0 9 0 }\n}\nMOTION\nFrames: 30\nFrame Time: 0.04\n${rows.join('\n')}\n`;
    writeFileSync(input, i === 5 ? text.slice(0, 60) : text);
  }
  const path = join(folder, 'thin.kneader-routine.json');
  const write = (rotation: number) =>
    writeFileSync(
      path,
      JSON.stringify({
        ...{ format: 'kneader-routine', version: 1, name: 'Thin' },
        steps: [{ edit: 'clean.thin', options: { rotation }, on: 'everything' }],
      }),
    );
  write(3);
  const out = join(folder, 'out');
  return { folder, inputs, path, out, write, words: ['routine', path, ...inputs, '-o', out] };
}

const kneader = async (words: readonly string[]) => {
  const said: string[] = [];
  const say = (text: string) => said.push(text);
  return { code: await run(words, { print: say, warn: say }), said };
};
const files = (folder: string): [string, string][] =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !entry.parentPath.includes('.kneader-done'))
    .map((entry): [string, string] => {
      const path = join(entry.parentPath, entry.name);
      return [path, readFileSync(path, 'utf8')];
    })
    .sort(([a], [b]) => (a < b ? -1 : 1));

test('sixteen shards hold each file once, and their reports are the report of one run', async () => {
  const { folder, words, out, inputs } = captures();
  const report = (name: string) => join(folder, `${name}.json`);
  const whole = await kneader([...words, '--report', report('whole')]);
  expect([whole.code, whole.said.at(-1)]).toEqual([1, `${COUNT - 1} changed, 0 unchanged, 1 failed.`]);
  const made = files(out);
  const parts = Array.from({ length: 16 }, (_, i) => report(`part ${i + 1}`));
  for (const [i, part] of parts.entries())
    await kneader([...words, '--shard', `${i + 1}/16`, '--report', part]);
  const read = (path: string) => JSON.parse(readFileSync(path, 'utf8')) as { files: { file: string }[] };
  const each = parts.flatMap((part) => read(part).files.map(({ file }) => file));
  expect([...each].sort()).toEqual([...inputs].sort());
  // Nobody has all of it.
  expect(Math.max(...parts.map((part) => read(part).files.length))).toBeLessThan(COUNT / 3);
  const merged = await kneader(['report', 'merge', ...parts, '-o', report('merged')]);
  expect([merged.code, merged.said]).toEqual([1, whole.said.slice(-1)]);
  expect(readFileSync(report('merged'), 'utf8')).toBe(readFileSync(report('whole'), 'utf8'));
  expect(files(out)).toEqual(made);
});

test('a shard that is missing, twice there or of another run is said', async () => {
  const { folder, words } = captures();
  const report = (name: string) => join(folder, `${name}.json`);
  const shards = (of: number) =>
    Array.from({ length: of }, (_, i) => [`${i + 1}/${of}`, report(`${i + 1} of ${of}`)] as const);
  for (const [shard, path] of [...shards(3), ...shards(2)])
    await kneader([...words, '--shard', shard, '--report', path]);
  const merge = (...names: string[]) =>
    kneader(['report', 'merge', ...names.map(report), '-o', report('all')]);
  const { files: ofSecond } = JSON.parse(readFileSync(report('2 of 3'), 'utf8')) as { files: unknown[] };
  const lacking = await merge('1 of 3', '3 of 3');
  expect([lacking.code, lacking.said[0]]).toEqual([
    1,
    expect.stringMatching(new RegExp(`shard 2 of 3.*${ofSecond.length} files have no line`)),
  ]);
  const twice = await merge('1 of 3', '2 of 3', '1 of 3');
  expect(twice.said).toEqual([expect.stringContaining('two reports of shard 1 of 3')]);
  const other = await merge('1 of 3', '2 of 2');
  expect(other.said).toEqual([expect.stringContaining('not of the same routine')]);
  writeFileSync(report('none'), '{"files": 3}');
  expect((await merge('none')).said).toEqual([expect.stringContaining('no report of a routine')]);
  for (const shard of ['0/3', '4/3', 'a/b', '1'])
    expect((await kneader([...words, '--shard', shard])).code).toBe(2);
  expect((await kneader([...words, '--jobs', '0'])).code).toBe(2);
});

test('on several threads it is the same to the byte, and names come from a list as well', async () => {
  const { folder, words, out, inputs, path } = captures();
  await kneader([...words, '--report', join(folder, 'one.json')]);
  const made = files(out);
  const list = join(folder, 'names.txt');
  writeFileSync(list, `${inputs.join('\n')}\n\n`);
  const threads = ['routine', path, '--list', list, '-o', out, '--jobs', '3'];
  await promisify(execFile)(KNEADER, [...threads, '--report', join(folder, 'three.json')]).catch(() => null);
  expect(readFileSync(join(folder, 'three.json'), 'utf8')).toBe(
    readFileSync(join(folder, 'one.json'), 'utf8'),
  );
  expect(files(out)).toEqual(made);
}, 120_000);

test('killed in the middle it goes on where it was; what has changed since is done again', async () => {
  const { folder, words, out, inputs, write } = captures();
  const report = join(folder, 'report.json');
  await kneader([...words, '--report', report]);
  const [whole, made] = [readFileSync(report, 'utf8'), files(out)];
  const killed = spawn(KNEADER, [...words, '--jobs', '2'], { stdio: ['ignore', 'pipe', 'ignore'] });
  let seen = 0;
  for await (const chunk of killed.stdout as AsyncIterable<Buffer>) {
    seen += chunk.toString().split('\n').length - 1;
    if (seen >= 4) break;
  }
  killed.kill('SIGKILL');
  const go = async () => {
    const given = [...words, '--jobs', '2', '--continue', '--report', report];
    const { stdout } = await promisify(execFile)(KNEADER, given).catch(
      (error: unknown) => error as { stdout: string },
    );
    return stdout.match(/done before/g)?.length ?? 0;
  };
  // Wherever it was killed: a file that was on its way is gone, and what others have on their way is not touched.
  const onItsWay = (name: string) => join(out, `${name}.${randomUUID()}.part`);
  const [ours, anothers] = [onItsWay(basename(inputs[1]!)), onItsWay('another.bvh')];
  for (const path of [ours, anothers]) writeFileSync(path, 'HIER');
  const before = await go();
  expect([existsSync(ours), existsSync(anothers)]).toEqual([false, true]);
  rmSync(anothers);
  expect(before >= seen - 1 && before < COUNT).toBe(true);
  expect(readFileSync(report, 'utf8')).toBe(whole);
  expect(files(out)).toEqual(made);
  // All but the one that failed are done now.
  expect(await go()).toBe(COUNT - 1);
  const other = readFileSync(inputs[1]!, 'utf8');
  writeFileSync(inputs[0]!, other);
  expect(await go()).toBe(COUNT - 2);
  write(5);
  expect(await go()).toBe(0);
}, 120_000);
