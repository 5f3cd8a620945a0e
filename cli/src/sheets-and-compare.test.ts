/** Sheets and comparisons as a pipeline asks for them. */
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS, runEdit, NOTHING, writeShotFile } from '@kneader/core';
import { PDFDocument } from 'pdf-lib';
import { run } from './program.ts';

const folder = mkdtempSync(join(tmpdir(), 'kneader-sheets-'));
const at = (name: string) => join(folder, name);
let printed: string[] = [];
let warned: string[] = [];
const kneader = (...words: string[]) =>
  run(words, { print: (text) => printed.push(text), warn: (text) => warned.push(text) });

const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();
const loop = demo('kneading-loop');
writeFileSync(at('loop.kneader.json'), writeShotFile(loop));
writeFileSync(at('tray.kneader.json'), writeShotFile(demo('first-tray')));
// Twice as slow, which time that is found takes out again.
const later = runEdit('timing.stretch', loop, NOTHING, { factor: 2 }).shot;
writeFileSync(at('later.kneader.json'), writeShotFile(later));

beforeEach(() => {
  printed = [];
  warned = [];
});

describe('kneader sheet', () => {
  test('makes the sheets of three shots in one call, a file for each', async () => {
    const files = ['loop.kneader.json', 'tray.kneader.json', 'later.kneader.json'].map(at);
    expect(await kneader('sheet', ...files, '--kind', 'contact', '--kind', 'timing', '-o', at('out'))).toBe(
      0,
    );
    expect(readdirSync(at('out')).sort()).toEqual(
      ['later', 'loop', 'tray'].flatMap((name) => [`${name}.contact.svg`, `${name}.timing.svg`]),
    );
    expect(readFileSync(at('out/tray.contact.svg'), 'utf8')).toContain('>104<');
  });

  test('puts all in one PDF, page by page', async () => {
    const files = [at('loop.kneader.json'), at('tray.kneader.json')];
    expect(await kneader('sheet', ...files, '--kind', 'timing', '-o', at('all.pdf'))).toBe(0);
    const pdf = await PDFDocument.load(readFileSync(at('all.pdf')));
    // 25 frames on one page, 113 on two.
    expect(pdf.getPageCount()).toBe(3);
    expect(printed.join()).toContain('2 sheets');
  });

  test('an option that no sheet goes by is said, and one that some sheet takes is not', async () => {
    const file = at('loop.kneader.json');
    const make = (...more: string[]) => kneader('sheet', file, '-o', at('said'), ...more);
    expect(await make('--kind', 'timing', '--turn', '90', '--frames', '1,4', '--channels', 'hips.ty')).toBe(
      0,
    );
    expect(warned).toEqual([
      'Nothing here goes by --frames, --turn, --channels: Timing sheet takes no such option.',
    ]);
    warned = [];
    expect(await make('--kind', 'curves', '--no-notes')).toBe(0);
    expect(warned).toEqual(['Nothing here goes by --no-notes: Curves takes no such option.']);
    warned = [];
    expect(await make('--kind', 'contact', '--kind', 'curves', '--turn', '90', '--channels', 'hips.ty')).toBe(
      0,
    );
    expect(warned).toEqual([]);
  });

  test('what cannot be is refused with a sentence, and nothing is written', async () => {
    expect(await kneader('sheet', at('loop.kneader.json'), '--kind', 'poster', '-o', at('no.pdf'))).toBe(1);
    expect(warned.join()).toContain('There is no sheet “poster”: contact, timing, curves.');
    warned = [];
    expect(await kneader('sheet', at('loop.kneader.json'), '-o', at('no.png'))).toBe(1);
    expect(warned.join()).toContain('it ends in .svg or .pdf');
    expect(await kneader('sheet', at('loop.kneader.json'), '--range', '500:600', '-o', at('no.svg'))).toBe(1);
    expect([at('no.pdf'), at('no.png'), at('no.svg')].some((path) => existsSync(path))).toBe(false);
  });
});

describe('kneader compare', () => {
  const compare = (...words: string[]) =>
    kneader('compare', at('loop.kneader.json'), at('later.kneader.json'), ...words);

  test('names the joint and the frame that differ most, and writes all as a table', async () => {
    expect(await compare('-o', at('d.csv'))).toBe(0);
    expect(printed[0]).toMatch(/^Farthest apart: \S+ at \d+ \(beside \d+\), [\d.]+ mm\.$/);
    expect(readFileSync(at('d.csv'), 'utf8').split('\n')[0]).toMatch(/^frame,beside,\S+\.mm,/);
  });

  test('what is only slower is nearly the same once its time is found', async () => {
    const apart = (line: string) => Number(/, ([\d.]+) mm/.exec(line)![1]);
    await compare();
    const beside = apart(printed[0]!);
    printed = [];
    await compare('--by', 'time');
    expect(beside).toBeGreaterThan(50);
    expect(apart(printed[0]!)).toBeLessThan(0.1 * beside);
  });

  test('who has no partner is named; too long a one is refused', async () => {
    expect(await kneader('compare', at('loop.kneader.json'), at('tray.kneader.json'))).toBe(0);
    expect(warned.join()).toContain(
      'Without a partner, and left out: dough, board of the first; tray of the second.',
    );
    expect(await kneader('compare', at('loop.kneader.json'), at('tray.kneader.json'), '--by', 'time')).toBe(
      1,
    );
  });
});
