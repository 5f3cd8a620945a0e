/** The commands as a pipeline runs them, on captured motion (01_01.bvh, Debian's assimp-testmodels) and on small files. */
import { execFileSync, spawnSync } from 'node:child_process';
import {
  closeSync,
  constants,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readFileSync,
  readSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { NodeIO } from '@gltf-transform/core';
import { bramInOneSkin, EDITS } from '@kneader/core';
import { run } from './program.ts';

const CAPTURED = '/usr/share/assimp/models/BVH/01_01.bvh';
const folder = mkdtempSync(join(tmpdir(), 'kneader-cli-'));
const at = (name: string) => join(folder, name);
let printed: string[] = [];
let warned: string[] = [];
const kneader = (...words: string[]) =>
  run(words, { print: (text) => printed.push(text), warn: (text) => warned.push(text) });

beforeEach(() => {
  printed = [];
  warned = [];
});

describe('kneader', () => {
  test('edits --json lists the whole catalogue with a schema for each', async () => {
    expect(await kneader('edits', '--json')).toBe(0);
    const list = JSON.parse(printed.join('\n')) as { id: string; options: { type: string } }[];
    expect(list.map(({ id }) => id)).toEqual(EDITS.map(({ id }) => id));
    expect(list.every(({ options }) => options.type === 'object')).toBe(true);
  });

  test('--version says which it is', async () => {
    expect(await kneader('--version')).toBe(0);
    expect(printed).toEqual([
      (JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as { version: string })
        .version,
    ]);
  });

  test('a pipe is written through and stays one; a link leads to what is written, and stays a link', async () => {
    const sample = (to: string) => kneader('sample', CAPTURED, '--to', '3', '--world', 'Hips', '-o', to);
    execFileSync('mkfifo', [at('pipe.csv')]);
    // Not waited for: should nothing come, it is empty.
    const reader = openSync(at('pipe.csv'), constants.O_RDONLY | constants.O_NONBLOCK);
    expect(await sample(at('pipe.csv'))).toBe(0);
    const came = Buffer.alloc(4096);
    const length = readSync(reader, came);
    closeSync(reader);
    expect(came.toString('utf8', 0, length).split('\n')[0]).toContain('Hips');
    expect(statSync(at('pipe.csv')).isFIFO()).toBe(true);
    // Nothing is left beside it.
    writeFileSync(at('real.csv'), 'before');
    symlinkSync(at('real.csv'), at('alias.csv'));
    expect(await sample(at('alias.csv'))).toBe(0);
    expect([
      lstatSync(at('alias.csv')).isSymbolicLink(),
      readFileSync(at('real.csv'), 'utf8').split('\n')[0],
    ]).toEqual([true, expect.stringContaining('Hips')]);
    expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
  });

  describe('“-” is standard input and output:', () => {
    const bin = join(import.meta.dirname, '../../bin/kneader');
    const piped = (input: string | Uint8Array, ...words: string[]) =>
      spawnSync(bin, words, { input, maxBuffer: 1e8 });
    const take = readFileSync(CAPTURED);

    test('what goes through a pipeline is what goes through files', async () => {
      const thin = ['--edit', 'clean.thin', '--options', '{"rotation":1}', '--range', '0:40'];
      const shot = piped(take, 'convert', '-', '-', '--to', '.kneader.json');
      expect([shot.status, shot.stderr.toString()]).toEqual([0, '']);
      const thinned = piped(shot.stdout, 'edit', '-', ...thin, '-o', '-', '--to', 'glb');
      expect([thinned.status, thinned.stderr.toString()]).toEqual([0, expect.stringContaining('Changed')]);
      expect(await kneader('convert', CAPTURED, at('piped.kneader.json'))).toBe(0);
      expect(await kneader('edit', at('piped.kneader.json'), ...thin, '-o', at('piped.glb'))).toBe(0);
      // All numbers; the name of the shot is that of the file.
      const numbers = async (bytes: Uint8Array) =>
        (await new NodeIO().readBinary(bytes))
          .getRoot()
          .listAccessors()
          .map((one): unknown => one.getArray());
      expect(await numbers(thinned.stdout)).toEqual(await numbers(readFileSync(at('piped.glb'))));
    });

    test('what it is it is known by, or told; measures as a table', () => {
      const info = piped(take, 'info', '-', '--json');
      expect(JSON.parse(info.stdout.toString())).toMatchObject({ nodes: 31, keys: 264192 });
      const table = piped(take.subarray(0, 60_000), 'measure', '-', '-o', '-');
      expect([table.status, table.stdout.toString().split('\n')[0]]).toEqual([
        0,
        expect.stringMatching(/^frame,/),
      ]);
      const asCsv = piped(take, 'info', '-', '--as', 'csv');
      expect([asCsv.status, asCsv.stdout.toString()]).toEqual([1, '']);
    });

    test('what cannot be is said', () => {
      const said = (input: string, ...words: string[]) => {
        const { status, stderr } = piped(input, ...words);
        return [status, stderr.toString().trim()];
      };
      expect(said('some words', 'info', '-')).toEqual([1, expect.stringContaining('say which with --as')]);
      expect(said('', 'info', '-')).toEqual([1, expect.stringContaining('empty')]);
      expect(said(take.toString(), 'convert', '-', '-')).toEqual([1, expect.stringContaining('--to')]);
      expect(said('', 'info', '-', '--as', 'txt')).toEqual([2, expect.stringContaining('.kneader.json')]);
      expect(said(take.toString(), 'edit', '-', '--edit', 'clean.thin', '-o', '-', '--report', '-')[0]).toBe(
        1,
      );
    });
  });

  test('info --json counts what is in the file', async () => {
    expect(await kneader('info', CAPTURED, '--json')).toBe(0);
    expect(JSON.parse(printed.join('\n'))).toMatchObject({
      nodes: 31,
      channels: 96,
      keys: 264192,
      rate: 120,
    });
  });

  test('measure says contacts, flights, gravity and roughness, as sentences, JSON and CSV', async () => {
    expect(await kneader('measure', CAPTURED, '--json')).toBe(0);
    const measured = JSON.parse(printed.join('\n')) as {
      characters: {
        height: { unitByFlights: number };
        contacts: { slideGreatest: number; start: number; end: number }[];
        flights: {
          start: number;
          end: number;
          gravity: number;
          turning: { frame: number; part: number };
        }[];
        roughest: { frame: number; node: string }[];
      }[];
    };
    const [figure] = measured.characters;
    // The data set's published unit: 1/0.45 inch.
    expect(Math.abs(figure!.height.unitByFlights / (2.54 / 0.45) - 1)).toBeLessThan(0.1);
    expect(figure!.flights.length).toBeGreaterThan(7);
    expect(figure!.contacts.every(({ start, end, slideGreatest }) => end > start && slideGreatest >= 0)).toBe(
      true,
    );
    for (const { start, end, turning } of figure!.flights) {
      expect(turning.frame).toBeGreaterThan(start);
      expect(turning.frame).toBeLessThanOrEqual(end);
      expect(turning.part).toBeGreaterThan(0);
    }
    expect(figure!.roughest).toHaveLength(3);
    printed = [];
    const out = at('measured.csv');
    expect(await kneader('measure', CAPTURED, '-o', out)).toBe(0);
    expect(printed.join('\n')).toMatch(/By its own leaps a unit is 5\.\d+ cm/);
    expect(printed.join('\n')).toMatch(/Its turning changes most at \d+, by \d+ % in a frame/);
    const [head, ...rows] = readFileSync(out, 'utf8').trim().split('\n');
    expect(head).toBe('frame,character,x,y,z,speed,acceleration,lean,roughness,stands');
    expect(rows).toHaveLength(2752);
    // In the air nothing stands, and nothing is leant out of.
    const [leap] = figure!.flights;
    const middle = rows[Math.round((leap!.start + leap!.end) / 2)]!.split(',');
    expect([middle[7], middle[9]]).toEqual(['', '']);
    expect(await kneader('measure', CAPTURED, '-o', at('measured.txt'))).toBe(1);
    expect(warned.join(' ')).toMatch(/written as .csv or .json/);
  });

  test('sample writes frame and values, exactly as the file has them', async () => {
    const out = at('sample.csv');
    expect(
      await kneader(
        'sample',
        CAPTURED,
        '--from',
        '99',
        '--to',
        '101',
        '--channels',
        'Hips.*',
        '--world',
        'LeftHand',
        '-o',
        out,
      ),
    ).toBe(0);
    const [head, ...rows] = readFileSync(out, 'utf8')
      .trim()
      .split('\n')
      .map((line) => line.split(','));
    expect(head).toEqual([
      'frame',
      ...['tx', 'ty', 'tz', 'rz', 'ry', 'rx'].map((name) => `Hips.${name}`),
      ...['x', 'y', 'z', 'qx', 'qy', 'qz', 'qw'].map((part) => `LeftHand.${part}`),
    ]);
    expect(rows.map((row) => row[0])).toEqual(['99', '100', '101']);
    const fileRow = readFileSync(CAPTURED, 'utf8')
      .split('Frame Time')[1]!
      .split('\n')[101]!
      .trim()
      .split(/\s+/)
      .slice(0, 6)
      .map(Number);
    expect(rows[1]!.slice(1, 7).map(Number)).toEqual(fileRow);
    // Published in the list of checks.
    [13.954392, 18.841866, -14.725453].forEach((value, axis) =>
      expect(Number(rows[1]![7 + axis])).toBeCloseTo(value, 6),
    );
  });

  test('edit thins the chosen channels and range, and nothing else; the report says what it did', async () => {
    const [out, report] = [at('thin.kneader.json'), at('report.json')];
    const words = [
      'edit',
      CAPTURED,
      '--edit',
      'clean.thin',
      '--options',
      '{"rotation":1}',
      '--channels',
      'LeftArm.*',
      '--range',
      '100:400',
      '-o',
      out,
      '--report',
      report,
    ];
    expect(await kneader(...words)).toBe(0);
    const { curves } = JSON.parse(readFileSync(out, 'utf8')) as {
      curves: Record<string, { times: number[] }>;
    };
    expect(curves['RightArm.rz']!.times.length).toBe(2752);
    expect(curves['LeftArm.rz']!.times.length).toBeLessThan(2752 - 200);
    expect(curves['LeftArm.rz']!.times.filter((time) => time < 100 || time > 400).length).toBe(2752 - 301);
    const read = JSON.parse(readFileSync(report, 'utf8')) as { status: string; touched: string[] };
    expect([read.status, [...read.touched].sort()]).toEqual([
      'changed',
      ['LeftArm.rx', 'LeftArm.ry', 'LeftArm.rz'],
    ]);
  });

  test('a shot file holds its characters’ files where that is asked for, keeps holding them through an edit, and gives them back', async () => {
    writeFileSync(at('bram.glb'), await bramInOneSkin());
    expect(await kneader('convert', at('bram.glb'), at('named.kneader.json'))).toBe(0);
    expect(warned.join()).toContain('does not hold it');
    warned = [];
    expect(await kneader('convert', at('bram.glb'), at('held.kneader.json'), '--with-files')).toBe(0);
    const edit = ['--edit', 'clean.thin', '--channels', 'head.*'];
    expect(await kneader('edit', at('held.kneader.json'), ...edit, '-o', at('thin.kneader.json'))).toBe(0);
    expect(await kneader('convert', at('thin.kneader.json'), at('back.glb'))).toBe(0);
    expect(warned.join()).not.toContain('does not hold');
    const meshes = async (path: string) =>
      (await new NodeIO().read(path))
        .getRoot()
        .listMeshes()
        .map((mesh) => mesh.listPrimitives()[0]!.getAttribute('POSITION')!.getCount());
    expect(await meshes(at('back.glb'))).toEqual(await meshes(at('bram.glb')));
    expect((await meshes(at('back.glb')))[0]).toBeGreaterThan(1000);
  });

  test('convert writes a .glb that a second reader opens (@gltf-transform)', async () => {
    await kneader(
      'edit',
      CAPTURED,
      '--edit',
      'keys.delete',
      '--range',
      '50:9999',
      '-o',
      at('short.kneader.json'),
    );
    expect(await kneader('convert', at('short.kneader.json'), at('short.glb'))).toBe(0);
    expect((await new NodeIO().read(at('short.glb'))).getRoot().listNodes().length).toBe(31);
    expect(await kneader('convert', at('short.glb'), at('back.csv'))).toBe(0);
  });

  test('nothing is written over what is read, and what cannot be written leaves the old file whole', async () => {
    writeFileSync(at('in.bvh'), readFileSync(CAPTURED, 'utf8').split('\n').slice(0, 230).join('\n'));
    const before = readFileSync(at('in.bvh'));
    expect(await kneader('sample', at('in.bvh'), '-o', at('in.bvh'))).toBe(1);
    expect(warned.join('\n')).toMatch(/over a file of the same command/);
    const report = [
      'edit',
      at('in.bvh'),
      '--edit',
      'clean.thin',
      '-o',
      at('o.glb'),
      '--report',
      at('in.bvh'),
    ];
    expect(await kneader(...report)).toBe(1);
    symlinkSync(at('in.bvh'), at('link.csv'));
    expect(await kneader('sample', at('in.bvh'), '-o', at('link.csv'))).toBe(1);
    expect(readFileSync(at('in.bvh')).equals(before)).toBe(true);
    // In place is asked for by name: it is no conversion.
    const text = readFileSync(at('in.bvh'), 'utf8');
    expect(await kneader('convert', at('in.bvh'), at('in.bvh'))).toBe(1);
    symlinkSync(at('in.bvh'), at('same.bvh'));
    expect(await kneader('convert', at('in.bvh'), at('same.bvh'))).toBe(1);
    expect(readFileSync(at('in.bvh'), 'utf8')).toBe(text);
    expect(readdirSync(folder).filter((name) => /^in\.bvh\./.test(name))).toEqual([]);
    mkdirSync(at('folder.csv'));
    expect(await kneader('convert', at('in.bvh'), at('folder.csv'))).toBe(1);
  });

  test('pipes, devices and files outside the folder are not read', async () => {
    mkdirSync(at('deep'));
    const gltf = (uri: string) =>
      JSON.stringify({ asset: { version: '2.0' }, nodes: [{}], buffers: [{ uri, byteLength: 4 }] });
    writeFileSync(at('secret.bin'), 'abcd');
    symlinkSync(at('secret.bin'), at('deep/link.bin'));
    for (const uri of ['../secret.bin', '/dev/zero', 'link.bin']) {
      writeFileSync(at('deep/a.gltf'), gltf(uri));
      warned = [];
      expect(await kneader('info', at('deep/a.gltf'))).toBe(1);
      expect(warned.join()).toMatch(/only files in its own folder/);
    }
    symlinkSync('/dev/zero', at('endless.bvh'));
    expect(await kneader('info', at('endless.bvh'))).toBe(1);
    expect(warned.join()).toMatch(/no plain file/);
  });

  test.each<[string, string[], number, RegExp]>([
    ['a file that is not there', ['info', at('gone.bvh')], 1, /gone\.bvh.*not there/],
    ['a file of another kind', ['info', at('notes.txt')], 1, /of no kind that can be read/],
    ['an output of another kind', ['convert', CAPTURED, at('x.fbx')], 1, /of no kind that can be written/],
    [
      'an edit that is not there',
      ['edit', CAPTURED, '--edit', 'clean.polish', '-o', at('x.glb')],
      1,
      /no edit called “clean\.polish”/,
    ],
    [
      'options that are no JSON',
      ['edit', CAPTURED, '--edit', 'clean.thin', '--options', '{bad', '-o', at('x.glb')],
      1,
      /not a JSON|JSON/,
    ],
    [
      'an option out of range',
      ['edit', CAPTURED, '--edit', 'clean.thin', '--options', '{"rotation":-1}', '-o', at('x.glb')],
      1,
      /“rotation” is not usable: it must be >0/,
    ],
    [
      'channels that match nothing',
      ['edit', CAPTURED, '--edit', 'clean.thin', '--channels', 'Tail.*', '-o', at('x.glb')],
      1,
      /Tail/,
    ],
    ['a step of nothing', ['sample', CAPTURED, '--step', '0', '-o', at('x.csv')], 1, /./],
    ['an unknown command', ['polish'], 2, /unknown command/],
    ['no output', ['edit', CAPTURED, '--edit', 'clean.thin'], 2, /required option/],
    [
      'a range of one number',
      ['edit', CAPTURED, '--edit', 'clean.thin', '--range', '4', '-o', at('x.glb')],
      2,
      /two frames, a:b/,
    ],
  ])('%s: a sentence on standard error', async (_, words, code, sentence) => {
    writeFileSync(at('notes.txt'), 'notes');
    expect(await kneader(...words)).toBe(code);
    expect(warned.join('\n')).toMatch(sentence);
  });
});
