/** A contact sheet: the poses of a shot side by side, with their frames, how long each lasts, and what was said about them. */
import { framesOf } from '../base/frame-range.ts';
import { rising } from '../base/frames.ts';
import { refuse } from '../base/finding.ts';
import { notesOf } from '../document/marks.ts';
import { poseColumns } from '../document/pose-columns.ts';
import type { Note, Shot } from '../document/shot.ts';
import { farToNear } from '../drawing/far-to-near.ts';
import { flatExtent, shapesOf } from '../drawing/figure-shapes.ts';
import { solidFill } from '../drawing/solid-fills.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { A4, INK, MARGIN, PageMarks, PathPen } from './page.ts';
import type { Page } from './page.ts';
import { headed, rangeOf, short } from './sheet.ts';
import type { Sheet, SheetOptions } from './sheet.ts';
import { wrapped } from './words-on-page.ts';

const [WIDTH, HEIGHT] = [A4.long, A4.short];
const MOST_ACROSS = 6;
const MOST_DOWN = 3;
/** Where a shot has no poses that stand out, so many frames of it are shown. */
const EVENLY = 12;
const NOTE_SIZE = 7.5;
const NOTE_LINES = 3;
const CAPTION = 16;

export const contactSheet: Sheet = {
  kind: 'contact',
  label: 'Contact sheet',
  takes: ['frames', 'turn', 'notes'],
  pages(shot, options) {
    const frames = shownFrames(shot, options);
    const perPage = MOST_ACROSS * MOST_DOWN;
    const count = Math.ceil(frames.length / perPage);
    const scale = figuresOf(shot, frames, options.turn);
    return Array.from({ length: count }, (_, p) => {
      const shown = frames.slice(p * perPage, (p + 1) * perPage);
      return page(shot, frames, shown, scale, options, count > 1 ? ` · page ${p + 1} of ${count}` : '');
    });
  },
};

/** The frames asked for; else pose columns, else evenly spaced ones. Frames with notes are among them. */
function shownFrames(shot: Shot, options: SheetOptions): number[] {
  const range = rangeOf(shot, options);
  const within = (frame: number) => frame >= range.start && frame <= range.end;
  if (options.frames) {
    const asked = rising(options.frames).filter(within);
    if (asked.length === 0) refuse('noFramesAsked', {}, range.start, range.end);
    return asked;
  }
  const columns = poseColumns(shot).frames.filter(within);
  const last = framesOf(range).length - 1;
  const evenly = Array.from(
    { length: Math.min(EVENLY, last + 1) },
    (_, i) => range.start + Math.round((i * last) / Math.max(1, Math.min(EVENLY, last + 1) - 1)),
  );
  const noted = options.notes
    ? notesOf(shot)
        .map(({ start }) => Math.round(start))
        .filter(within)
    : [];
  return rising(columns.length > 1 ? columns : evenly, noted);
}

interface Figures {
  readonly nodes: Shot['nodes'];
  readonly rows: readonly number[];
  /** cm: the widest and the highest of all poses. */
  readonly wide: number;
  readonly high: number;
}

/** What is drawn, and how much room the largest pose needs: all are drawn in one size. */
function figuresOf(shot: Shot, frames: readonly number[], turn: number): Figures {
  const drawn = shot.nodes.flatMap(({ part, channels, solids }, row) =>
    solids.length > 0 && (part !== 'prop' || channels.length > 0) ? [row] : [],
  );
  const nodes = drawn.map((row) => shot.nodes[row]!);
  let [wide, high] = [1, 1];
  for (const frame of frames) {
    const { left, right, top, bottom } = flatExtent(nodes, [posed(shot, drawn, frame)], turn);
    wide = Math.max(wide, right - left);
    high = Math.max(high, bottom - top);
  }
  return { nodes, rows: drawn, wide, high };
}

function posed(shot: Shot, rows: readonly number[], frame: number): Float64Array {
  const { matrices } = worldAt(shot, frame);
  const own = new Float64Array(rows.length * 16);
  rows.forEach((row, i) => own.set(matrices.subarray(row * 16, row * 16 + 16), i * 16));
  return own;
}

function page(
  shot: Shot,
  all: readonly number[],
  shown: readonly number[],
  figures: Figures,
  options: SheetOptions,
  at: string,
): Page {
  const marks = new PageMarks();
  const top = headed(marks, shot, 'Contact sheet', WIDTH, at);
  const across = Math.min(MOST_ACROSS, Math.max(3, Math.ceil(Math.sqrt(shown.length * 1.6))));
  const down = Math.ceil(shown.length / across);
  const notes = options.notes ? notesOf(shot) : [];
  const under = CAPTION + (notes.length > 0 ? NOTE_LINES * (NOTE_SIZE + 2) + 4 : 0);
  const [w, h] = [(WIDTH - 2 * MARGIN) / across, Math.min((HEIGHT - MARGIN - top) / down, 220)];
  const scale = Math.min((w - 10) / figures.wide, (h - under - 8) / figures.high);
  shown.forEach((frame, i) => {
    const x = MARGIN + (i % across) * w;
    const y = top + Math.floor(i / across) * h;
    const floor = y + h - under - 4;
    marks.line(x + 4, floor + 2, x + w - 4, floor + 2);
    figure(marks, shot, figures, frame, options.turn, { x: x + w / 2, floor, scale });
    const next = all[all.indexOf(frame) + 1];
    marks.text(short(frame), x + 5, floor + CAPTION - 2, 10.5, { isBold: true });
    if (next !== undefined)
      marks.text(`+${short(next - frame)}`, x + w - 5, floor + CAPTION - 2, 8.5, {
        anchor: 'end',
        colour: INK.soft,
      });
    const said = notes.filter(
      ({ start, end }) =>
        start < (next ?? Infinity) && Math.max(end, start) >= frame && (start >= frame || frame === all[0]),
    );
    writeNotes(marks, said, x + 5, floor + CAPTION + NOTE_SIZE, w - 10);
  });
  return { width: WIDTH, height: HEIGHT, marks: marks.marks };
}

function figure(
  marks: PageMarks,
  shot: Shot,
  { nodes, rows }: Figures,
  frame: number,
  turn: number,
  { x, floor, scale }: { readonly x: number; readonly floor: number; readonly scale: number },
): void {
  const matrices = posed(shot, rows, frame);
  const { left, right, bottom } = flatExtent(nodes, [matrices], turn);
  const view = { turn, scale, x: x - ((left + right) / 2) * scale, y: floor - Math.max(bottom, 0) * scale };
  const shapes = shapesOf(nodes, matrices, view);
  for (const row of farToNear(shapes)) {
    const pen = new PathPen();
    shapes[row]!.draw(pen);
    marks.path(String(pen), solidFill(shapes[row]!.colour), INK.black, 0.35);
  }
}

/** As many as have room; how many more there are is said. */
function writeNotes(marks: PageMarks, notes: readonly Note[], x: number, y: number, width: number): void {
  const lines = notes.flatMap(({ text, done, by, start, end }) => {
    const when = start === end ? short(start) : `${short(start)}–${short(end)}`;
    const said = `${when}${done ? ' (done)' : ''}${by ? ` ${by}` : ''}: ${text}`;
    return wrapped(said, width, NOTE_SIZE, NOTE_LINES).map((line) => ({ line, done }));
  });
  const more = lines.length > NOTE_LINES;
  lines.slice(0, more ? NOTE_LINES - 1 : NOTE_LINES).forEach(({ line, done }, i) => {
    marks.text(line, x, y + i * (NOTE_SIZE + 2), NOTE_SIZE, { colour: done ? INK.soft : INK.mark });
  });
  if (more)
    marks.text(
      `… ${notes.length > 1 ? `${notes.length} notes` : 'goes on'}`,
      x,
      y + (NOTE_LINES - 1) * (NOTE_SIZE + 2),
      NOTE_SIZE,
      {
        colour: INK.soft,
      },
    );
}
