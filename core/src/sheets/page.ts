/**
 * A page of a sheet: shapes and words in points (1/72 inch), from its upper left corner. Sheets draw on pages; pages become SVG, PDF or, in a browser, PNG.
 */
import { pathRound } from 'd3-path';
import type { Pen } from '../drawing/figure-shapes.ts';

interface PathMark {
  readonly kind: 'path';
  /** As in SVG (W3C, SVG 2, section 9.3). */
  readonly d: string;
  readonly fill: string | null;
  readonly line: string | null;
  readonly lineWidth: number;
}

export interface TextMark {
  readonly kind: 'text';
  readonly text: string;
  readonly x: number;
  /** Of the line on which the letters stand. */
  readonly y: number;
  readonly size: number;
  readonly anchor: 'start' | 'middle' | 'end';
  readonly isBold: boolean;
  readonly colour: string;
}

export type Mark = PathMark | TextMark;

export interface Page {
  readonly width: number;
  readonly height: number;
  readonly marks: readonly Mark[];
}

/** ISO 216 A4, in points. */
export const A4 = { short: 595.28, long: 841.89 };
export const MARGIN = 36;

/** The inks of sheets, which are printed on white. */
export const INK = { black: '#241c15', soft: '#6f6257', rule: '#d8cfc4', faint: '#f1ebe3', mark: '#a8431f' };

/** Writes what a pen draws as a path. */
export class PathPen implements Pen {
  private readonly path = pathRound(2);
  moveTo(x: number, y: number): void {
    this.path.moveTo(x, y);
  }
  lineTo(x: number, y: number): void {
    this.path.lineTo(x, y);
  }
  arc(x: number, y: number, radius: number, from: number, to: number): void {
    this.path.arc(x, y, Math.max(radius, 0), from, to);
  }
  /** Whole ellipses only: as four cubics, which stray by 0.03 % of the radius (common practice, no source). */
  ellipse(x: number, y: number, long: number, short: number, turn: number): void {
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const at = (u: number, v: number): [number, number] => [
      x + u * long * c - v * short * s,
      y + u * long * s + v * short * c,
    ];
    const k = (4 / 3) * (Math.SQRT2 - 1);
    this.path.moveTo(...at(1, 0));
    for (const [p, q, end] of [
      [at(1, k), at(k, 1), at(0, 1)],
      [at(-k, 1), at(-1, k), at(-1, 0)],
      [at(-1, -k), at(-k, -1), at(0, -1)],
      [at(k, -1), at(1, -k), at(1, 0)],
    ] as const)
      this.path.bezierCurveTo(...p, ...q, ...end);
    this.path.closePath();
  }
  closePath(): void {
    this.path.closePath();
  }
  toString(): string {
    return this.path.toString();
  }
}

const two = (value: number) => Number(value.toFixed(2));

/** Gathers the marks of a page. */
export class PageMarks {
  readonly marks: Mark[] = [];

  path(d: string, fill: string | null, line: string | null = null, lineWidth = 0.5): void {
    if (d !== '') this.marks.push({ kind: 'path', d, fill, line, lineWidth });
  }
  line(x0: number, y0: number, x1: number, y1: number, line: string = INK.rule, lineWidth = 0.5): void {
    this.path(`M${two(x0)},${two(y0)}L${two(x1)},${two(y1)}`, null, line, lineWidth);
  }
  box(x: number, y: number, width: number, height: number, fill: string): void {
    this.path(`M${two(x)},${two(y)}h${two(width)}v${two(height)}h${two(-width)}Z`, fill);
  }
  dot(x: number, y: number, radius: number, fill: string): void {
    const pen = new PathPen();
    pen.ellipse(x, y, radius, radius, 0);
    this.path(String(pen), fill);
  }
  text(
    text: string,
    x: number,
    y: number,
    size: number,
    {
      anchor = 'start',
      isBold = false,
      colour = INK.black,
    }: Partial<Pick<TextMark, 'anchor' | 'isBold' | 'colour'>> = {},
  ): void {
    this.marks.push({ kind: 'text', text, x: two(x), y: two(y), size, anchor, isBold, colour });
  }
}
