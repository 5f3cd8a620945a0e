/** Sheets, read back by readers that know nothing of them: PDF by pdfjs-dist, SVG by jsdom's parser of XML. */
import { describe, expect, test } from '@jest/globals';
import { JSDOM } from 'jsdom';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { NOTHING } from '../document/selection.ts';
import type { Shot } from '../document/shot.ts';
import { runEdit } from '../edits/run-edit.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { PathPen } from './page.ts';
import { pdfOf } from './pdf.ts';
import { sheetOptions } from './sheet.ts';
import { SHEETS } from './sheets.ts';
import { svgOf } from './svg.ts';
import { fitted, widthOf, wrapped } from './words-on-page.ts';

const noted = (shot: Shot) =>
  [
    { text: 'The wrist is late & <soft>', frame: 24, by: 'Ada' },
    { text: 'Too even', frame: 40, end: 60 },
    { text: 'Good here', frame: 8, done: true },
  ].reduce((on, options) => runEdit('notes.set', on, NOTHING, options).shot, shot);
const tray = noted(DEMO_SHOTS.find(({ id }) => id === 'first-tray')!.make());
const pagesOf = (kind: string, shot: Shot, options: object = {}) =>
  SHEETS.find((one) => one.kind === kind)!.pages(shot, sheetOptions.parse(options));

interface Word {
  readonly text: string;
  readonly x: number;
  readonly y: number;
}

/** Words of each page, from its upper left. */
async function wordsOfPdf(bytes: Uint8Array): Promise<Word[][]> {
  const pdf = await getDocument({ data: bytes.slice(), useSystemFonts: false, verbosity: 0 }).promise;
  const pages: Word[][] = [];
  for (let p = 1; p <= pdf.numPages; p += 1) {
    const page = await pdf.getPage(p);
    const { height } = page.getViewport({ scale: 1 });
    const { items } = await page.getTextContent();
    pages.push(
      items.flatMap((item) =>
        'str' in item && item.str.trim() !== ''
          ? [{ text: item.str, x: item.transform[4] as number, y: height - (item.transform[5] as number) }]
          : [],
      ),
    );
  }
  return pages;
}

function wordsOfSvg(svg: string): string[] {
  const { document } = new JSDOM(svg, { contentType: 'image/svg+xml' }).window;
  return [...document.querySelectorAll('text')].map((text) => text.textContent ?? '');
}

describe('contact sheet', () => {
  const pages = pagesOf('contact', tray);

  test('shows each pose column with its frame, the gap to the next, and its notes, in PDF and SVG alike', async () => {
    const { bytes, lacking } = await pdfOf(pages, tray.name);
    expect(lacking).toEqual([]);
    const [words] = await wordsOfPdf(bytes);
    const texts = words!.map(({ text }) => text);
    for (const frame of [0, 8, 16, 24, 104]) expect(texts).toContain(String(frame));
    expect(texts.filter((text) => text === '+8')).toHaveLength(13);
    expect(texts.join(' ')).toContain('24 Ada: The wrist is late & <soft>');
    expect(texts.join(' ')).toContain('40–60: Too even');
    expect(texts.join(' ')).toContain('8 (done): Good here');
    expect(wordsOfSvg(svgOf(pages, tray.name)).sort()).toEqual(texts.sort());
  });

  test('a note stands below its own pose', async () => {
    const [words] = await wordsOfPdf((await pdfOf(pages, 'x')).bytes);
    const frame = words!.find(({ text }) => text === '24')!;
    const note = words!.find(({ text }) => text.startsWith('24 Ada'))!;
    expect(Math.abs(note.x - frame.x)).toBeLessThan(2);
    expect(note.y - frame.y).toBeGreaterThan(5);
    expect(note.y - frame.y).toBeLessThan(20);
  });

  test('draws every solid of who moves once for each pose, within the page', () => {
    const [page] = pages;
    const drawn = tray.nodes.filter(({ part, channels }) => part !== 'prop' || channels.length > 0);
    const solids = drawn.reduce((sum, { solids: own }) => sum + own.length, 0);
    const shapes = page!.marks.filter((mark) => mark.kind === 'path' && mark.fill !== null);
    expect(shapes).toHaveLength(14 * solids);
    const places = shapes.flatMap((mark) =>
      mark.kind === 'path'
        ? [...mark.d.matchAll(/[ML]([-\d.]+),([-\d.]+)/g)].map(([, x, y]) => [Number(x), Number(y)])
        : [],
    );
    expect(places.length).toBeGreaterThan(shapes.length - 1);
    for (const [x, y] of places) {
      expect(x).toBeGreaterThan(30);
      expect(x).toBeLessThan(page!.width - 30);
      expect(y).toBeGreaterThan(60);
      expect(y).toBeLessThan(page!.height - 30);
    }
  });

  test('figures stand as high as they do in the world, one beside the other', () => {
    const rows = tray.nodes.flatMap((_, row) => (tray.nodes[row]!.solids.length > 0 ? [row] : []));
    expect(rows.length).toBeGreaterThan(10);
    const tops = [0, 56].map((frame) => {
      const [page] = pagesOf('contact', tray, { frames: [frame, 0, 56] });
      const fills = page!.marks.filter((mark) => mark.kind === 'path' && mark.fill !== null);
      const count = fills.length / 2;
      const own = frame === 0 ? fills.slice(0, count) : fills.slice(count);
      const ys = own.flatMap((mark) =>
        mark.kind === 'path'
          ? [...mark.d.matchAll(/[ML][-\d.]+,([-\d.]+)/g)].map((found) => Number(found[1]))
          : [],
      );
      return Math.max(...ys) - Math.min(...ys);
    });
    const high = [0, 56].map((frame) => {
      const { matrices } = worldAt(tray, frame);
      const head = tray.nodes.findIndex(({ part }) => part === 'head');
      return matrices[head * 16 + 13]!;
    });
    expect(tops[1]! / tops[0]!).toBeCloseTo(high[1]! / high[0]!, 0);
    expect(tops[1]!).toBeLessThan(0.8 * tops[0]!);
  });

  test('the frames that are asked for, and no others', () => {
    const frames = (options: object) =>
      wordsOfSvg(svgOf(pagesOf('contact', tray, { notes: false, ...options }), 'x')).filter((text) =>
        /^\d+$/.test(text),
      );
    expect(frames({ frames: [3, 50, 400] })).toEqual(['3', '50']);
    expect(frames({ from: 30, to: 50 })).toEqual(['32', '40', '48']);
    expect(() => frames({ frames: [900] })).toThrow(
      'None of the frames that were asked for lies from 0 to 112.',
    );
    expect(() => frames({ from: 200, to: 300 })).toThrow('lies outside the shot');
    expect(() => frames({ from: 30, to: 20 })).toThrow('empty or turned round');
  });

  test('a shot without poses that stand out is shown evenly, one without any figure by its frames', () => {
    const still = puppet();
    const texts = wordsOfSvg(svgOf(pagesOf('contact', still), 'x'));
    expect(texts.filter((text) => /^\d+$/.test(text))).toHaveLength(12);
    const nobody = { ...still, nodes: [], curves: [], characters: [] };
    expect(wordsOfSvg(svgOf(pagesOf('contact', nobody), 'x'))).toContain('24');
  });
});

describe('timing sheet', () => {
  const shot = {
    ...noted(puppet({ 'arm_l.rz': curve([0, 0, 8, 30, 20, 30]), 'hips.ty': curve([0, 0, 24, 9]) })),
    markers: [{ id: 'marker-1', name: 'Down', frame: 12, colour: 1 }],
  };

  test('has a row for each frame, gaps beside keys, markers and notes', async () => {
    const [words] = await wordsOfPdf((await pdfOf(pagesOf('timing', shot), 'x')).bytes);
    const frames = words!.filter(({ text, x }) => /^\d+$/.test(text) && x < 66);
    expect(frames.map(({ text }) => Number(text))).toEqual(Array.from({ length: 25 }, (_, f) => f));
    const rowOf = (frame: number) => frames[frame]!.y;
    const said = words!.find(({ text }) => text.startsWith('(done) Good here'))!;
    expect(said.y).toBeCloseTo(rowOf(8), 0);
    expect(words!.find(({ text }) => text === 'Down')!.y).toBeCloseTo(rowOf(12), 0);
    const gaps = words!.filter(({ text, x }) => /^\d+$/.test(text) && x > 66);
    expect(gaps.map(({ text, y }) => [text, frames.find((one) => Math.abs(one.y - y) < 4)?.text])).toEqual(
      expect.arrayContaining([
        ['8', '0'],
        ['12', '8'],
        ['24', '0'],
      ]),
    );
  });

  test('says a hold where nothing moves, and a way where something does', () => {
    const [page] = pagesOf('timing', { ...shot, notes: [] });
    const ways = page!.marks.filter((mark) => mark.kind === 'path' && mark.lineWidth === 0.7);
    const holds = page!.marks.filter(
      // Rules of half a second are as dark, and as wide as the page.
      (mark) => mark.kind === 'path' && mark.lineWidth === 0.6 && !mark.d.startsWith('M36,'),
    );
    // The hips go on all through; the arm stands from its last key on.
    expect(ways).toHaveLength(24 + 20);
    expect(holds).toHaveLength(4);
  });

  test('a long shot goes on over pages, each with its number', async () => {
    const long = { ...shot, range: { start: 0, end: 150 } };
    const pages = await wordsOfPdf((await pdfOf(pagesOf('timing', long), 'x')).bytes);
    expect(pages).toHaveLength(3);
    pages.forEach((words, p) =>
      expect(words.map(({ text }) => text).join(' ')).toContain(`page ${p + 1} of 3`),
    );
    const frames = pages.flatMap((words) => words.filter(({ text, x }) => /^\d+$/.test(text) && x < 66));
    expect(frames).toHaveLength(151);
  });
});

describe('curves', () => {
  test('run through the values that show, at their frames', () => {
    const shot = puppet({ 'hips.ty': curve([0, 0, 12, 10, 24, 0]) });
    const [page] = pagesOf('curves', shot, { channels: ['hips.ty'] });
    const way = page!.marks.find((mark) => mark.kind === 'path' && mark.lineWidth === 1);
    const points =
      way?.kind === 'path'
        ? way.d
            .slice(1)
            .split('L')
            .map((pair) => pair.split(',').map(Number))
        : [];
    expect(points).toHaveLength(25);
    const [first, middle, last] = [points[0]!, points[12]!, points[24]!];
    expect(middle[0]! - first[0]!).toBeCloseTo(last[0]! - middle[0]!, 1);
    expect(first[1]).toBeCloseTo(last[1]!, 1);
    expect(Math.min(...points.map(([, y]) => y!))).toBe(middle[1]);
    expect(wordsOfSvg(svgOf([page!], 'x'))).toEqual(expect.arrayContaining(['hips.ty', '10', '12']));
  });

  test('what is not there, or does not move, is refused', () => {
    expect(() => pagesOf('curves', puppet(), { channels: ['nobody.tx'] })).toThrow('nobody.tx');
    expect(() => pagesOf('curves', puppet())).toThrow('Nothing moves there');
  });
});

describe('words and shapes', () => {
  test('fit the room that they have', () => {
    expect(fitted('short', 200, 10)).toBe('short');
    const cut = fitted('a very long name of a shot that goes on and on', 80, 10);
    expect(cut.endsWith('…')).toBe(true);
    expect(widthOf(cut, 10)).toBeLessThanOrEqual(80);
    for (const line of wrapped('one two three four five six seven', 50, 10, 5))
      expect(widthOf(line, 10)).toBeLessThanOrEqual(50);
    expect(wrapped('one two three four five six seven', 30, 10, 2)).toHaveLength(2);
  });

  test('letters that the fonts lack are named, and stand in the SVG', async () => {
    const shot = { ...puppet(), name: 'Łódź 日本' };
    const pages = pagesOf('contact', shot);
    const { lacking, bytes } = await pdfOf(pages, shot.name);
    expect(lacking).toEqual(['Ł', 'ź', '日', '本']);
    expect((await wordsOfPdf(bytes))[0]!.map(({ text }) => text)).toContain('?ód? ??');
    expect(wordsOfSvg(svgOf(pages, shot.name))).toContain('Łódź 日本');
  });

  test('an ellipse of a pen lies on its ellipse', () => {
    const pen = new PathPen();
    pen.ellipse(10, 20, 8, 3, 0.7);
    const numbers = String(pen)
      .match(/-?\d+(\.\d+)?/g)!
      .map(Number);
    // Ends of the cubics: every third point after the first.
    const points = Array.from(
      { length: numbers.length / 2 },
      (_, i) => [numbers[2 * i]!, numbers[2 * i + 1]!] as const,
    );
    for (const i of [0, 3, 6, 9, 12]) {
      const [x, y] = [points[i]![0] - 10, points[i]![1] - 20];
      const [u, v] = [x * Math.cos(0.7) + y * Math.sin(0.7), y * Math.cos(0.7) - x * Math.sin(0.7)];
      expect((u / 8) ** 2 + (v / 3) ** 2).toBeCloseTo(1, 1);
    }
  });
});
