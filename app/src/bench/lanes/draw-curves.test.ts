/** What is drawn in the curves lane, read from the strokes that a canvas would get. */
import { beforeAll, describe, expect, test } from '@jest/globals';
import { evaluate, FLAG, rebuild, SEGMENT, TANGENT } from '@kneader/core';
import type { Curve } from '@kneader/core';
import { curve } from '../../../../core/src/testing/shot-literals.ts';
import { PALETTES } from '../../theme/palette.ts';
import { channelHue } from './channel-hue.ts';
import { handlePlace, valueToY } from './curve-view.ts';
import { drawCurves } from './draw-curves.ts';
import type { CurveScene } from './draw-curves.ts';
import { frameToX } from './time-axis.ts';

type Point = readonly [number, number];
interface Drawn {
  readonly kind: 'stroke' | 'fill' | 'text' | 'rect' | 'fillRect';
  readonly style: string;
  readonly alpha: number;
  readonly width: number;
  readonly dash: readonly number[];
  readonly points: readonly Point[];
  readonly shapes: readonly string[];
  readonly text?: string;
  readonly at?: Point;
}

/** A path, and what it is made of. */
class Path {
  points: Point[] = [];
  shapes: string[] = [];
  moveTo(x: number, y: number) {
    this.points.push([x, y]);
  }
  lineTo(x: number, y: number) {
    this.points.push([x, y]);
  }
  arc(x: number, y: number, r: number, from: number, to: number) {
    this.shapes.push(`${to - from > 4 ? 'circle' : 'half'} ${Math.round(x)} ${Math.round(y)} ${r}`);
  }
  ellipse(x: number, y: number) {
    this.shapes.push(`ellipse ${Math.round(x)} ${Math.round(y)}`);
  }
  rect(x: number, y: number, w: number, h: number) {
    this.shapes.push(`rect ${Math.round(x + w / 2)} ${Math.round(y + h / 2)} ${w}`);
  }
  roundRect(x: number, y: number, w: number, h: number) {
    this.shapes.push(`round ${Math.round(x + w / 2)} ${Math.round(y + h / 2)}`);
  }
  closePath() {
    this.shapes.push('closed');
  }
}

/** Stands for a canvas: keeps what is drawn. */
class Recorder extends Path {
  drawn: Drawn[] = [];
  strokeStyle = '';
  fillStyle = '';
  globalAlpha = 1;
  lineWidth = 1;
  lineJoin = '';
  font = '';
  private dash: readonly number[] = [];
  setLineDash(dash: readonly number[]) {
    this.dash = dash;
  }
  beginPath() {
    this.points = [];
    this.shapes = [];
  }
  private note(kind: Drawn['kind'], path: Path, more: Partial<Drawn> = {}) {
    const style = kind === 'stroke' || kind === 'rect' ? this.strokeStyle : this.fillStyle;
    const { points, shapes } = path;
    this.drawn.push({
      kind,
      style,
      alpha: this.globalAlpha,
      width: this.lineWidth,
      dash: this.dash,
      points: [...points],
      shapes: [...shapes],
      ...more,
    });
  }
  stroke(path: Path = this) {
    this.note('stroke', path);
  }
  fill(path: Path = this) {
    this.note('fill', path);
  }
  strokeRect(x: number, y: number, w: number, h: number) {
    this.note('rect', new Path(), {
      points: [
        [x, y],
        [x + w, y + h],
      ],
    });
  }
  fillRect(x: number, y: number, w: number, h: number) {
    this.note('fillRect', new Path(), {
      points: [
        [x, y],
        [x + w, y + h],
      ],
    });
  }
  fillText(text: string, x: number, y: number) {
    this.note('text', new Path(), { text, at: [x, y] });
  }
  measureText(text: string) {
    return { width: text.length * 6 };
  }
}

beforeAll(() => {
  Object.assign(globalThis, { Path2D: Path });
});

const palette = PALETTES.flour;
const axis = { from: 0, to: 40, width: 400 };
const view = { axis, low: -10, high: 30, height: 400 };
const wave = curve([0, 0, 10, 12, 20, -4, 40, 20]);
function drawn(curves: CurveScene['curves'], more: Partial<CurveScene> = {}): Drawn[] {
  const recorder = new Recorder();
  drawCurves(recorder as unknown as CanvasRenderingContext2D, {
    view,
    curves,
    ghosts: new Map(),
    shows: new Map(),
    chosen: {},
    palette,
    theme: 'flour',
    ...more,
  });
  return recorder.drawn;
}
const shown = (of: Curve, channel = 'hips.ty') => [{ channel, curve: of }];
const lines = (all: readonly Drawn[], style: string) =>
  all.filter(({ kind, style: own, points }) => kind === 'stroke' && own === style && points.length > 20);
const hue = channelHue('ty', 'flour');

describe('the line of a curve', () => {
  test('lies where the curve is, a point for each pixel', () => {
    const [line] = lines(drawn(shown(wave)), hue);
    expect(line!.points).toHaveLength(401);
    for (const [x, y] of line!.points) expect(y).toBeCloseTo(valueToY(view, evaluate(wave, x / 10)), 9);
  });

  test('is dashed by its kind, and thinner where there are many', () => {
    expect(lines(drawn(shown(wave)), hue)[0]!.dash).toEqual([7, 3]);
    expect(lines(drawn(shown(wave, 'hips.ry')), channelHue('ry', 'flour'))[0]!.dash).toEqual([]);
    expect(lines(drawn(shown(wave)), hue)[0]!.width).toBe(1.5);
    const many = Array.from({ length: 9 }, () => shown(wave)[0]!);
    expect(lines(drawn(many), hue)[0]!.width).toBe(1);
  });

  test('as it was lies pale behind it, where it differs', () => {
    const before = curve([0, 5, 40, 5]);
    const all = drawn(shown(wave), { ghosts: new Map([['hips.ty', before]]) });
    const [ghost] = lines(all, palette.soft);
    expect([ghost!.alpha, ghost!.points[200]![1]]).toEqual([0.45, valueToY(view, 5)]);
    expect(all.indexOf(ghost!)).toBeLessThan(all.indexOf(lines(all, hue)[0]!));
    expect(lines(drawn(shown(wave), { ghosts: new Map([['hips.ty', wave]]) }), palette.soft)).toEqual([]);
  });

  test('out of sight, or without keys, is not drawn', () => {
    expect(lines(drawn(shown(curve([0, 500, 40, 600]))), hue)).toEqual([]);
    expect(lines(drawn(shown(curve([]))), hue)).toEqual([]);
  });

  test('repeats are drawn in a lighter hand', () => {
    const looped = { ...curve([10, 0, 20, 8, 30, 0]), leadOut: 'loop', leadIn: 'loop' } as const;
    const parts = drawn(shown(looped)).filter(
      ({ kind, style, points }) => kind === 'stroke' && style === hue && points.length > 20,
    );
    expect(parts.map(({ alpha }) => alpha)).toEqual([1, 0.45, 0.45]);
    expect(parts[0]!.points[0]![0]).toBeCloseTo(100, 0);
    expect(parts[0]!.points.at(-1)![0]).toBeCloseTo(301, 0);
  });

  test('of more keys than pixels shows every spike', () => {
    const dense = curve(Array.from({ length: 4001 }, (_, i) => [i / 100, i === 1777 ? 25 : 0]).flat());
    const [line] = lines(drawn(shown(dense)), hue);
    expect(Math.min(...line!.points.map(([, y]) => y))).toBeCloseTo(valueToY(view, 25), 9);
    expect(line!.points.length).toBeLessThan(900);
  });
});

describe('keys', () => {
  const beads = (of: Curve, more: Partial<CurveScene> = {}) =>
    drawn(shown(of), more).filter(({ kind, shapes }) => kind === 'fill' && shapes.length > 0);
  const at = (frame: number, value: number) => `${frame * 10} ${Math.round(valueToY(view, value))}`;

  test('are beads on their places; chosen ones larger, dark, and last', () => {
    expect(beads(wave)[0]!.shapes).toEqual(
      [
        [0, 0],
        [10, 12],
        [20, -4],
        [40, 20],
      ].map(([f, v]) => `circle ${at(f!, v!)} 4`),
    );
    const [plain, , chosen] = beads(wave, { chosen: { 'hips.ty': [2] } });
    expect(plain!.shapes).toHaveLength(3);
    expect([chosen!.style, chosen!.shapes]).toEqual([palette.ink, [`circle ${at(10, 12)} 5`]]);
  });

  test('say their tangents by their outline, and a lock by a frame', () => {
    const outline = (change: (columns: Parameters<NonNullable<Parameters<typeof rebuild>[2]>>[0]) => void) =>
      beads(rebuild(wave, null, change))[0]!;
    const kinds = (kind: number) =>
      outline((columns) => {
        columns.tangentsIn.fill(kind);
        columns.tangentsOut.fill(kind);
      }).shapes[1];
    expect(kinds(TANGENT.flat)).toMatch(/^ellipse 100/);
    expect(kinds(TANGENT.steady)).toMatch(/^round 100/);
    expect(kinds(TANGENT.linear)).toBe('closed');
    expect(outline((columns) => columns.segments.fill(SEGMENT.stepped)).shapes[0]).toMatch(/^half 0/);
    expect(outline((columns) => columns.segments.fill(SEGMENT.linear)).shapes[1]).toBe('closed');
    expect(outline((columns) => (columns.flags[1] = FLAG.locked)).shapes).toContain(`rect ${at(10, 12)} 14`);
    const y = valueToY(view, 12);
    const split = outline((columns) => (columns.flags[1] = FLAG.broken)).points;
    expect(split).toContainEqual([100, y - 6]);
    expect(split).toContainEqual([100, y + 6]);
  });

  test('that crowd are dots, and nothing where they would run together', () => {
    const every = (frames: number) =>
      curve(Array.from({ length: Math.floor(40 / frames) }, (_, i) => [i * frames, i % 2]).flat());
    expect(beads(every(0.6))[0]!.shapes[0]).toMatch(/^rect 0 \d+ 2$/);
    expect(beads(every(0.4))).toEqual([]);
    expect(beads(every(0.8))[0]!.shapes[0]).toMatch(/^circle/);
  });

  test('chosen ones are at most one dot for each column of pixels, however many, and reach as far as they did', () => {
    const many = curve(Array.from({ length: 8000 }, (_, i) => [i / 200, 10 + 9 * Math.sin(i)]).flat());
    const dots = drawn(shown(many), { chosen: { 'hips.ty': [...many.ids] } }).filter(
      ({ kind, style }) => kind === 'fill' && style === palette.ink,
    );
    const shapes = dots.flatMap((one) => one.shapes);
    expect(shapes.length).toBeLessThanOrEqual(axis.width + 1);
    expect(shapes.length).toBeGreaterThan(axis.width / 2);
    // Between pixels at whole numbers, the middle of what swings by nine about ten.
    const middles = shapes.map((shape) => Number(shape.split(' ')[2]));
    expect(Math.abs(middles[200]! - valueToY(view, 10))).toBeLessThan(3);
  });

  test('chosen ones wear handles: round, or square with a length of their own; none where there are too many', () => {
    const weighted = rebuild(wave, null, (columns) => {
      columns.flags[1] = FLAG.weightedOut;
      columns.lengthsOut[1] = 4;
    });
    const knobs = (of: Curve, ids: readonly number[]) =>
      drawn(shown(of), { chosen: { 'hips.ty': ids } }).find(
        ({ kind, style, shapes }) =>
          kind === 'fill' && style === palette.ink && shapes.some((shape) => /2\.8$|6$/.test(shape)),
      );
    const place = (side: 'in' | 'out') => handlePlace(view, weighted, 1, side).map(Math.round).join(' ');
    expect(knobs(weighted, [2])!.shapes).toEqual([`circle ${place('in')} 2.8`, `rect ${place('out')} 6`]);
    const dense = curve(Array.from({ length: 61 }, (_, i) => [i, 0]).flat());
    expect(knobs(dense, [...dense.ids])).toBeUndefined();
    expect(knobs(dense, [...dense.ids].slice(1))).toBeDefined();
  });
});

describe('around the curves', () => {
  const texts = (all: readonly Drawn[]) => all.flatMap(({ text }) => text ?? []);

  test('lines and numbers at even values, parts in percent where each has its own measure', () => {
    expect(texts(drawn([]))).toEqual(['-5', '0', '5', '10', '15', '20', '25']);
    const measured = [{ channel: 'hips.ty', curve: wave, span: { low: 0, high: 20 } }];
    expect(texts(drawn(measured, { view: { ...view, low: 0, high: 1 } }))).toContain('50 %');
    const grid = drawn([])[0]!;
    expect([grid.style, grid.alpha]).toEqual([palette.rule, 0.6]);
    expect(grid.points).toContainEqual([Math.round(frameToX(axis, 10)) + 0.5, 0]);
  });

  test('names at the right end, kept apart, with their control where there are several; none of many', () => {
    const names = (curves: CurveScene['curves']) =>
      drawn(curves).filter(({ text }) => text !== undefined && /[a-z]/.test(text));
    const near = [shown(wave)[0]!, { channel: 'hips.tx', curve: wave }, { channel: 'arm_l.rz', curve: wave }];
    const three = names(near);
    expect(three.map(({ text }) => text)).toEqual(['hips ty', 'hips tx', 'arm_l rz']);
    const heights = three.map((label) => label.at![1]);
    expect([heights[1]! - heights[0]!, heights[2]! - heights[1]!]).toEqual([14, 14]);
    expect(names(shown(wave)).map(({ text }) => text)).toEqual(['ty']);
    expect(names(Array.from({ length: 17 }, () => near[0]!))).toEqual([]);
  });

  test('the box with its eight grips', () => {
    const all = drawn([], { box: { left: 100, right: 300, top: 50, bottom: 250 } });
    const frame = all.find(({ kind }) => kind === 'rect')!;
    expect(frame.points).toEqual([
      [90.5, 40.5],
      [310.5, 260.5],
    ]);
    expect(all.filter(({ kind, shapes }) => kind === 'fill' && shapes[0]?.endsWith(' 4'))).toHaveLength(8);
  });
});
