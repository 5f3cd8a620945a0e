/**
 * The piece of a curve that a time lies in, repeats and all: one segment in absolute frames, as a Bézier segment whose first
 * control point is (start, value). What compares and draws curves asks this, so that it need not know of leads.
 */
import { bisectRight } from '../base/bisect.ts';
import { isWeighted, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { edgeSlope, leadPlace } from './lead.ts';
import type { LeadPlace } from './lead.ts';

export interface Piece {
  /** Frames; ±Infinity where nothing ends it. */
  start: number;
  end: number;
  /** Of its first end; where `start` is not finite, of frame 0. */
  value: number;
  rise: number;
  /** `rise` per frame for a straight piece, 0 for a level one. */
  slope: number;
  /** Whether it is straight: then only value and slope count. */
  straight: boolean;
  weighted: boolean;
  slopeOut: number;
  slopeIn: number;
  lengthOut: number;
  lengthIn: number;
}

export const newPiece = (): Piece => ({
  start: 0,
  end: 0,
  value: 0,
  rise: 0,
  slope: 0,
  straight: true,
  weighted: false,
  slopeOut: 0,
  slopeIn: 0,
  lengthOut: 0,
  lengthIn: 0,
});

const place: LeadPlace = { time: 0, offset: 0, backward: false };

/** A hair past a border, in frames: which of two pieces that meet is meant. */
const HAIR = 1e-9;

/** Writes the piece that begins at `time` or in which it lies to `out`. */
export function pieceAfter(curve: Curve, time: number, out: Piece): void {
  const { times, values } = curve;
  const last = times.length - 1;
  if (last < 0) return level(out, -Infinity, Infinity, 0);
  const first = times[0]!;
  const end = times[last]!;
  const inside = time + HAIR;
  if (inside >= first && inside < end) return segmentAt(curve, bisectRight(times, inside) - 1, out);
  const ahead = inside < first;
  const kind = last < 1 ? 'hold' : ahead ? curve.leadIn : curve.leadOut;
  const edge = values[ahead ? 0 : last]!;
  if (kind === 'hold') return level(out, ahead ? -Infinity : end, ahead ? first : Infinity, edge);
  if (kind === 'slope') {
    const slope = edgeSlope(curve, ahead);
    level(out, ahead ? -Infinity : end, ahead ? first : Infinity, ahead ? edge - slope * first : edge);
    out.slope = slope;
    return;
  }
  const length = end - first;
  const count = ahead ? curve.leadInCount : curve.leadOutCount;
  const away = ahead ? first - inside : inside - end;
  if (count > 0 && away >= count * length) {
    leadPlace(curve, ahead ? -Infinity : Infinity, place);
    const border = ahead ? first - count * length : end + count * length;
    const held = values[place.time === first ? 0 : last]! + place.offset;
    return level(out, ahead ? -Infinity : border, ahead ? border : Infinity, held);
  }
  leadPlace(curve, inside, place);
  const row = Math.min(bisectRight(times, place.time) - 1, last - 1);
  segmentAt(curve, row, out);
  out.value += place.offset;
  if (place.backward) turnRound(out, inside + place.time);
  else {
    out.start += inside - place.time;
    out.end += inside - place.time;
  }
}

function level(out: Piece, start: number, end: number, value: number): void {
  out.start = start;
  out.end = end;
  out.value = value;
  out.rise = out.slope = 0;
  out.straight = true;
  out.weighted = false;
}

function segmentAt(curve: Curve, row: number, out: Piece): void {
  const { times, values, segments } = curve;
  level(out, times[row]!, times[row + 1]!, values[row]!);
  if (segments[row] === SEGMENT.stepped) return;
  out.rise = values[row + 1]! - values[row]!;
  out.slope = out.rise / (out.end - out.start);
  if (segments[row] === SEGMENT.linear) return;
  out.straight = false;
  out.weighted = isWeighted(curve, row);
  out.slopeOut = curve.slopesOut[row]!;
  out.slopeIn = curve.slopesIn[row + 1]!;
  out.lengthOut = curve.lengthsOut[row]!;
  out.lengthIn = curve.lengthsIn[row + 1]!;
}

/** The piece over `sum` − t. */
function turnRound(out: Piece, sum: number): void {
  [out.start, out.end] = [sum - out.end, sum - out.start];
  out.value += out.rise;
  out.rise = -out.rise;
  out.slope = -out.slope;
  [out.slopeOut, out.slopeIn] = [-out.slopeIn, -out.slopeOut];
  [out.lengthOut, out.lengthIn] = [out.lengthIn, out.lengthOut];
}
