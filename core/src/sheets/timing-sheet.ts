/**
 * A timing sheet: frame by frame downward, what of whom is keyed, how long until the next key, and where nothing moves: an exposure sheet to print (common
 * practice, no source).
 */
import { framesOf } from '../base/frame-range.ts';
import { markersOf, notesOf } from '../document/marks.ts';
import { timedCurves } from '../document/parts/parts.ts';
import { poseColumns } from '../document/pose-columns.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { channelValues } from '../evaluation/evaluation.ts';
import { A4, INK, MARGIN, PageMarks } from './page.ts';
import type { Page } from './page.ts';
import { headed, rangeOf, short } from './sheet.ts';
import type { Sheet } from './sheet.ts';
import { fitted, wrapped } from './words-on-page.ts';

const [WIDTH, HEIGHT] = [A4.short, A4.long];
const ROW = 11.5;
const FRAME_COLUMN = 30;
const NOTES_COLUMN = 150;
const WIDEST_TRACK = 62;
const MOST_TRACKS = 12;
const NOTE_SIZE = 7.5;
const NOTE_LINES = 4;

export const timingSheet: Sheet = {
  kind: 'timing',
  label: 'Timing sheet',
  takes: ['notes'],
  pages(shot, options) {
    const range = rangeOf(shot, options);
    const frames = [...framesOf(range)];
    const tracks = tracksOf(shot, frames);
    const perPage = Math.floor((HEIGHT - 2 * MARGIN - 60) / ROW);
    const count = Math.ceil(frames.length / perPage);
    return Array.from({ length: count }, (_, p) =>
      page(
        shot,
        frames,
        p * perPage,
        Math.min(frames.length, (p + 1) * perPage),
        tracks,
        options.notes,
        count > 1 ? ` · page ${p + 1} of ${count}` : '',
      ),
    );
  },
};

interface Track {
  readonly label: string;
  /** For each frame the part of its keyed controls that have a key there, 0…1. */
  readonly keyed: Float64Array;
  /** For each frame whether anything is another on the next. */
  readonly moves: Uint8Array;
}

/** Controls by character, part and side; those that are keyed or move. */
function tracksOf(shot: Shot, frames: readonly number[]): Track[] {
  const rig = rigOf(shot);
  const labels = shot.nodes.map(({ character, part, side, kind, id }) => {
    const who =
      shot.characters.length > 1 ? shot.characters.find((one) => one.id === character)?.name : undefined;
    const what =
      kind === 'camera'
        ? 'Camera'
        : character === null || part === 'prop'
          ? id
          : `${part}${side === 'centre' || !SIDED.has(part) ? '' : ` ${side[0]!}.`}`;
    return who ? `${who}: ${what}` : what;
  });
  const known = new Map<string, { nodes: Set<string>; keyed: Map<string, Set<number>>; moves: Uint8Array }>();
  shot.nodes.forEach(({ id }, row) => {
    const track = known.get(labels[row]!) ?? {
      nodes: new Set(),
      keyed: new Map(),
      moves: new Uint8Array(frames.length),
    };
    track.nodes.add(id);
    known.set(labels[row]!, track);
  });
  const trackOf = new Map(shot.nodes.map(({ id }, row) => [id, known.get(labels[row]!)!]));
  for (const { channel, curve } of timedCurves(shot)) {
    const found = channel === null ? undefined : rig.channels[rig.channelIndex(channel)];
    if (!found) continue;
    const { id } = shot.nodes[found.node]!;
    const keyed = trackOf.get(id)!.keyed;
    const own = keyed.get(id) ?? new Set<number>();
    for (const time of curve.times) own.add(Math.round(time));
    keyed.set(id, own);
  }
  const [before, after] = [new Float64Array(rig.channels.length), new Float64Array(rig.channels.length)];
  frames.forEach((frame, f) => {
    if (f === 0) return channelValues(shot, frame, before);
    channelValues(shot, frame, after);
    rig.channels.forEach(({ node }, c) => {
      if (Math.abs(after[c]! - before[c]!) > 1e-4) trackOf.get(shot.nodes[node]!.id)!.moves[f - 1] = 1;
    });
    before.set(after);
  });
  const tracks = [...known].flatMap(([label, { keyed, moves }]): Track[] => {
    if (keyed.size === 0 && !moves.includes(1)) return [];
    const share = Float64Array.from(frames, (frame) => {
      let count = 0;
      for (const own of keyed.values()) if (own.has(frame)) count += 1;
      return count / Math.max(1, keyed.size);
    });
    return [{ label, keyed: share, moves }];
  });
  if (tracks.length <= MOST_TRACKS) return tracks;
  // What is keyed least goes in one track.
  const ranked = [...tracks].sort((a, b) => keysIn(b) - keysIn(a));
  const kept = new Set(ranked.slice(0, MOST_TRACKS - 1));
  const rest = tracks.filter((track) => !kept.has(track));
  return [
    ...tracks.filter((track) => kept.has(track)),
    {
      label: `${rest.length} more`,
      keyed: Float64Array.from(frames, (_, f) => Math.max(...rest.map(({ keyed }) => keyed[f]!))),
      moves: Uint8Array.from(frames, (_, f) => Math.max(...rest.map(({ moves }) => moves[f]!))),
    },
  ];
}

const keysIn = ({ keyed }: Track) => keyed.reduce((sum, part) => sum + (part > 0 ? 1 : 0), 0);
const SIDED = new Set(['arm', 'hand', 'leg']);

function page(
  shot: Shot,
  frames: readonly number[],
  from: number,
  to: number,
  tracks: readonly Track[],
  withNotes: boolean,
  at: string,
): Page {
  const marks = new PageMarks();
  const top = headed(marks, shot, 'Timing sheet', WIDTH, at) + 16;
  const left = MARGIN + FRAME_COLUMN;
  const width = Math.min(
    WIDEST_TRACK,
    (WIDTH - 2 * MARGIN - FRAME_COLUMN - NOTES_COLUMN) / Math.max(1, tracks.length),
  );
  const right = left + width * tracks.length;
  const columns = new Set(poseColumns(shot).frames);
  const yOf = (f: number) => top + (f - from) * ROW;
  const bottom = yOf(to);
  for (let f = from; f < to; f += 1) {
    const frame = frames[f]!;
    if (columns.has(frame)) marks.box(MARGIN, yOf(f), WIDTH - 2 * MARGIN, ROW, INK.faint);
  }
  tracks.forEach(({ label, keyed, moves }, t) => {
    const x = left + (t + 0.5) * width;
    marks.text(fitted(label, width - 3, 7, true), x, top - 4, 7, { anchor: 'middle', isBold: true });
    marks.line(x - width / 2, top, x - width / 2, bottom);
    for (let f = from; f < to; f += 1) {
      const middle = yOf(f) + ROW / 2;
      // A line to the next frame where something moves; a bar where all is held.
      if (f + 1 < frames.length) {
        if (moves[f]) marks.line(x, middle, x, Math.min(middle + ROW, bottom), INK.black, 0.7);
        else marks.line(x - 2.5, middle + ROW / 2, x + 2.5, middle + ROW / 2, INK.soft, 0.6);
      }
      if (keyed[f]! > 0) marks.dot(x, middle, 1.4 + 1.8 * Math.sqrt(keyed[f]!), INK.mark);
      const gap = keyed[f]! > 0 ? nextKey(keyed, f) - f : 0;
      if (gap > 1 && width > 24) marks.text(String(gap), x + 6, middle + 2.4, 6.5, { colour: INK.soft });
    }
  });
  marks.line(right, top, right, bottom);
  for (let f = from; f <= to; f += 1) {
    const isSecond = f < to && Math.round(frames[f]!) % 12 === 0;
    marks.line(MARGIN, yOf(f), WIDTH - MARGIN, yOf(f), isSecond ? INK.soft : INK.rule, isSecond ? 0.6 : 0.25);
    if (f < to)
      marks.text(short(frames[f]!), left - 5, yOf(f) + ROW - 3, 7.5, {
        anchor: 'end',
        isBold: columns.has(frames[f]!),
      });
  }
  writeSaid(marks, shot, frames, from, to, right + 5, WIDTH - MARGIN - right - 6, yOf, withNotes);
  return { width: WIDTH, height: HEIGHT, marks: marks.marks };
}

function nextKey(keyed: Float64Array, from: number): number {
  for (let f = from + 1; f < keyed.length; f += 1) if (keyed[f]! > 0) return f;
  return from;
}

/** Markers and notes beside their frames; what would lie on what is said already goes one row down, what finds no row is counted at the end. */
function writeSaid(
  marks: PageMarks,
  shot: Shot,
  frames: readonly number[],
  from: number,
  to: number,
  x: number,
  width: number,
  yOf: (f: number) => number,
  withNotes: boolean,
): void {
  const first = frames[0]!;
  const said = [
    ...markersOf(shot).map(({ frame, name }) => ({
      at: Math.round(frame) - first,
      until: 0,
      text: name,
      isBold: true,
      done: false,
    })),
    ...(withNotes ? notesOf(shot) : []).map(({ start, end, text, by, done }) => ({
      at: Math.max(0, Math.round(start) - first),
      until: Math.round(end) - first,
      text: `${done ? '(done) ' : ''}${text}${by ? ` (${by})` : ''}`,
      isBold: false,
      done,
    })),
  ].sort((a, b) => a.at - b.at);
  let row = from;
  let left = 0;
  for (const { at, until, text, isBold, done } of said) {
    if (until > at && until >= from && at < to) {
      const [low, high] = [Math.max(at, from), Math.min(until + 1, to)];
      marks.line(x - 2.5, yOf(low) + 1, x - 2.5, yOf(high) - 1, done ? INK.soft : INK.mark, 1.2);
    }
    if (at < from || at >= to) continue;
    row = Math.max(row, at);
    if (row >= to) {
      left += 1;
      continue;
    }
    const colour = done ? INK.soft : isBold ? INK.black : INK.mark;
    for (const line of wrapped(text, width, NOTE_SIZE, Math.min(NOTE_LINES, to - row))) {
      marks.text(line, x + 2, yOf(row) + ROW - 3, NOTE_SIZE, { isBold, colour });
      row += 1;
    }
  }
  if (left > 0) marks.text(`and ${left} more`, x + 2, yOf(to) + 9, 7, { colour: INK.soft });
}
