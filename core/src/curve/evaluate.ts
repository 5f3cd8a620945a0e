/**
 * The value of a curve at a time, or at many.
 *
 * Segment between keys 0 and 1, Δ = t₁ − t₀: stepped holds v₀ until t₁, exclusive; linear is straight; cubic
 * is the Hermite segment of the two slopes; weighted is the Bézier segment with control points
 * (t₀, v₀), (t₀ + a, v₀ + a·m₀), (t₁ − b, v₁ − b·m₁), (t₁, v₁), solved for time.
 *
 * `sampleInto` walks sorted times with a cursor and keeps a segment's coefficients while it stays inside it; what that
 * brings is in docs/benchmarks.md.
 */
import { bezierParameter, bezierParameters } from '../math/bezier-time.ts';
import { bisectRight } from '../base/bisect.ts';
import { FLAG, isWeighted, SEGMENT } from './curve.ts';
import { edgeSlope, hasLead, leadPlace } from './lead.ts';
import type { LeadPlace } from './lead.ts';
import type { Curve } from './curve.ts';

const { stepped, linear } = SEGMENT;

const oneTime = new Float64Array(1);
const oneValue = new Float64Array(1);

/** The value at one time; `absent` for a curve without keys. */
export function evaluate(curve: Curve, time: number, absent = 0): number {
  oneTime[0] = time;
  sampleInto(oneValue, 0, 1, curve, oneTime, absent);
  return oneValue[0]!;
}

/**
 * Single questions of one curve, equal to `evaluate` to the bit. It keeps the piece in which the last one fell, since the next one mostly falls
 * there too: who reads a shot frame by frame asks each curve once for every frame.
 */
export class CurveReader {
  private readonly curve: Curve;
  /** What is kept holds from `from` up to `to`, exclusive; it is a polynomial in frames after `origin`. */
  private from = Infinity;
  private to = -Infinity;
  private row = -1;
  private origin = 0;
  private c0 = 0;
  private c1 = 0;
  private c2 = 0;
  private c3 = 0;

  constructor(curve: Curve) {
    this.curve = curve;
  }

  at(time: number): number {
    if (!(time >= this.from && time < this.to) && !this.move(time)) return evaluate(this.curve, time);
    const d = time - this.origin;
    return this.c0 + d * (this.c1 + d * (this.c2 + d * this.c3));
  }

  /** Goes to the piece in which a time falls; false where that is no polynomial in frames. */
  private move(time: number): boolean {
    const { curve } = this;
    const { times, values, slopesOut, slopesIn, segments, flags } = curve;
    const last = times.length - 1;
    if (last < 0 || Number.isNaN(time)) return false;
    // Who goes on from frame to frame comes to the next piece.
    const next = this.row + 1;
    const follows = next < last && time >= times[next]! && time < times[next + 1]!;
    const row = follows ? next : bisectRight(times, time) - 1;
    if (row < 0 || row >= last) {
      if (hasLead(curve)) return false;
      const key = row < 0 ? 0 : last;
      this.keep(row < 0 ? -Infinity : times[last]!, row < 0 ? times[0]! : Infinity, key, 0, 0, 0);
      return true;
    }
    const from = times[row]!;
    const to = times[row + 1]!;
    const scale = 1 / (to - from);
    const rise = values[row + 1]! - values[row]!;
    const kind = segments[row]!;
    if (kind === stepped) this.keep(from, to, row, 0, 0, 0);
    else if (kind === linear) this.keep(from, to, row, rise * scale, 0, 0);
    else if (((flags[row]! & FLAG.weightedOut) | (flags[row + 1]! & FLAG.weightedIn)) !== 0) return false;
    else {
      const c1 = slopesOut[row]!;
      const d1 = slopesIn[row + 1]!;
      const steep = rise * scale;
      this.keep(from, to, row, c1, (3 * steep - 2 * c1 - d1) * scale, (c1 + d1 - 2 * steep) * scale * scale);
    }
    return true;
  }

  private keep(from: number, to: number, row: number, c1: number, c2: number, c3: number): void {
    this.row = row;
    this.from = from;
    this.to = to;
    this.origin = this.curve.times[row]!;
    this.c0 = this.curve.values[row]!;
    this.c1 = c1;
    this.c2 = c2;
    this.c3 = c3;
  }
}

/** The slope in units per frame at one time, from the right side at a key; 0 outside the keys. */
export function slopeAt(curve: Curve, time: number): number {
  const { times, values, slopesOut, slopesIn, segments } = curve;
  const row = bisectRight(times, time) - 1;
  if (row < 0 || row + 1 >= times.length) {
    if (!hasLead(curve) || time === times[times.length - 1]) return 0;
    const ahead = time < times[0]!;
    const kind = ahead ? curve.leadIn : curve.leadOut;
    if (kind === 'slope') return edgeSlope(curve, ahead);
    if (kind === 'hold') return 0;
    const there: LeadPlace = { time: 0, offset: 0, backward: false };
    leadPlace(curve, time, there);
    return (there.backward ? -1 : 1) * slopeAt(curve, there.time);
  }
  if (segments[row] === SEGMENT.stepped) return 0;
  const gap = times[row + 1]! - times[row]!;
  const rise = values[row + 1]! - values[row]!;
  if (segments[row] === SEGMENT.linear) return rise / gap;
  const segment = segmentShape(curve, row);
  const x = (time - times[row]!) / gap;
  const u = isWeighted(curve, row) ? bezierParameter(segment.p, segment.q, x, x) : x;
  if (x <= 0) return slopesOut[row]!;
  if (x >= 1) return slopesIn[row + 1]!;
  const dValue = (3 * segment.c3 * u + 2 * segment.c2) * u + segment.c1;
  const dTime = (3 * segment.x3 * u + 2 * segment.x2) * u + segment.x1;
  return dTime > 1e-12 ? dValue / (dTime * gap) : Math.sign(dValue) * 1e6;
}

/** Power-form coefficients of value (c) and normalised time (x) over the Bézier parameter. */
interface SegmentShape {
  readonly c0: number;
  readonly c1: number;
  readonly c2: number;
  readonly c3: number;
  readonly x1: number;
  readonly x2: number;
  readonly x3: number;
  readonly p: number;
  readonly q: number;
}

/** The shape of a cubic or weighted segment. */
function segmentShape(curve: Curve, row: number): SegmentShape {
  const gap = curve.times[row + 1]! - curve.times[row]!;
  const v0 = curve.values[row]!;
  const v1 = curve.values[row + 1]!;
  const a = curve.lengthsOut[row]!;
  const b = curve.lengthsIn[row + 1]!;
  const c1 = 3 * a * curve.slopesOut[row]!;
  const d1 = 3 * b * curve.slopesIn[row + 1]!;
  const rise = v1 - v0;
  const p = a / gap;
  const q = 1 - b / gap;
  return {
    c0: v0,
    c1,
    c2: 3 * rise - 2 * c1 - d1,
    c3: c1 + d1 - 2 * rise,
    x1: 3 * p,
    x2: 3 * q - 6 * p,
    x3: 1 - 3 * q + 3 * p,
    p,
    q,
  };
}

/** Where the times of a weighted segment become parameters; grows to the longest run of them. */
let parameters = new Float64Array(256);

/**
 * Writes the values at sorted `times` to out[offset], out[offset + stride], …
 * @param times frames, rising; @param absent what a curve without keys gives
 */
export function sampleInto(
  out: Float64Array,
  offset: number,
  stride: number,
  curve: Curve,
  times: Float64Array,
  absent = 0,
): void {
  const keys = curve.times;
  const { values, slopesOut, slopesIn, segments, flags } = curve;
  const last = keys.length - 1;
  const count = times.length;
  let at = offset;
  let i = 0;
  if (last < 0) {
    for (; i < count; i += 1, at += stride) out[at] = absent;
    return;
  }
  const first = keys[0]!;
  const end = keys[last]!;
  const leads = hasLead(curve);
  if (leads && curve.leadIn !== 'hold') {
    for (; i < count && times[i]! < first; i += 1, at += stride) out[at] = valueInLead(curve, times[i]!);
  } else for (; i < count && times[i]! < first; i += 1, at += stride) out[at] = values[0]!;
  let row = i < count ? bisectRight(keys, times[i]!) - 1 : last;
  while (i < count) {
    const time = times[i]!;
    if (time >= end) {
      const more = leads && curve.leadOut !== 'hold';
      for (; i < count; i += 1, at += stride)
        out[at] = more && times[i]! > end ? valueInLead(curve, times[i]!) : values[last]!;
      return;
    }
    while (row + 1 < last && keys[row + 1]! <= time) row += 1;
    const weighted = ((flags[row]! & FLAG.weightedOut) | (flags[row + 1]! & FLAG.weightedIn)) !== 0;
    if (segments[row]! <= linear || weighted) {
      const done = sampleSegment(out, at, stride, curve, row, times, i);
      at += (done - i) * stride;
      i = done;
    } else {
      const t0 = keys[row]!;
      const t1 = keys[row + 1]!;
      const v0 = values[row]!;
      // In powers of frames, so that a sample costs three products.
      const scale = 1 / (t1 - t0);
      const rise = (values[row + 1]! - v0) * scale;
      const c1 = slopesOut[row]!;
      const d1 = slopesIn[row + 1]!;
      const c2 = (3 * rise - 2 * c1 - d1) * scale;
      const c3 = (c1 + d1 - 2 * rise) * scale * scale;
      for (; i < count; i += 1, at += stride) {
        const t = times[i]!;
        if (t >= t1) break;
        const d = t - t0;
        out[at] = v0 + d * (c1 + d * (c2 + d * c3));
      }
    }
    row += 1;
  }
}

const place: LeadPlace = { time: 0, offset: 0, backward: false };
const placeTime = new Float64Array(1);
const placeValue = new Float64Array(1);

/** The value outside the keys of a curve that does more than hold there. */
function valueInLead(curve: Curve, time: number): number {
  leadPlace(curve, time, place);
  const { offset } = place;
  placeTime[0] = place.time;
  // A place within the keys: this calls itself once and no deeper.
  sampleInto(placeValue, 0, 1, curve, placeTime);
  return placeValue[0]! + offset;
}

/** Samples within one stepped, straight or weighted segment, from times[from] on; returns the first place beyond it. */
function sampleSegment(
  out: Float64Array,
  offset: number,
  stride: number,
  curve: Curve,
  row: number,
  times: Float64Array,
  from: number,
): number {
  const t0 = curve.times[row]!;
  const t1 = curve.times[row + 1]!;
  const v0 = curve.values[row]!;
  const kind = curve.segments[row]!;
  const count = times.length;
  let at = offset;
  let i = from;
  if (kind === stepped) {
    for (; i < count && times[i]! < t1; i += 1, at += stride) out[at] = v0;
    return i;
  }
  const scale = 1 / (t1 - t0);
  const rise = curve.values[row + 1]! - v0;
  if (kind === linear) {
    const slope = rise * scale;
    for (; i < count && times[i]! < t1; i += 1, at += stride) out[at] = v0 + slope * (times[i]! - t0);
    return i;
  }
  const a = curve.lengthsOut[row]!;
  const b = curve.lengthsIn[row + 1]!;
  const c1 = 3 * a * curve.slopesOut[row]!;
  const d1 = 3 * b * curve.slopesIn[row + 1]!;
  const c2 = 3 * rise - 2 * c1 - d1;
  const c3 = c1 + d1 - 2 * rise;
  if (parameters.length < count) parameters = new Float64Array(count);
  for (; i < count && times[i]! < t1; i += 1) parameters[i - from] = (times[i]! - t0) * scale;
  bezierParameters(a * scale, 1 - b * scale, parameters, i - from);
  for (let k = 0; k < i - from; k += 1, at += stride) {
    const u = parameters[k]!;
    out[at] = v0 + u * (c1 + u * (c2 + u * c3));
  }
  return i;
}
