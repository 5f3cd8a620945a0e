/**
 * A signal: one channel over time, as the layers below make it. Signals never change, so whoever needs one may keep it, and what is computed from
 * the same signals with the same inputs is the same object (`shared`): one changed key makes new signals for that channel only.
 */
import { holdDerived } from '../base/derived-budget.ts';
import type { Holder } from '../base/derived-budget.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { CurveReader, sampleInto } from '../curve/evaluate.ts';
import type { Curve } from '../curve/curve.ts';
import { jumpsOfCurve } from '../curve/jumps.ts';
import { samplesOf } from '../curve/samples.ts';
import type { FrameGrid } from '../curve/samples.ts';

export interface Signal {
  /** The value at any time, in frames. */
  at(frame: number): number;
  /** The values on a grid of whole frames, equal to single questions; shared, do not write to it. */
  column(grid: FrameGrid): Float64Array;
  /** Writes the values at rising frames to out[offset], out[offset + stride], … */
  into(out: Float64Array, offset: number, stride: number, frames: Float64Array): void;
  /**
   * Times in a range, rising, at which it may jump: just before or just after, it may be another than on the frame. Whoever writes keys from what
   * shows cuts there (`curve/curve-through.ts`); none but these are jumps.
   */
  jumps(range: FrameRange): readonly number[];
  /** Whether it is the same at all times because nothing is keyed. */
  readonly still: boolean;
}

/** One for each of the rig's channels. */
export type Signals = readonly Signal[];

/** Single answers that a signal keeps, a power of two. */
const KEPT_ANSWERS = 256;

/**
 * Keeps the last column that was asked for, and single answers: a layer may ask the one below it more than once for one frame, and a stack of
 * forty would else ask the lowest two to the fortieth times.
 */
export abstract class ComputedSignal implements Signal, Holder {
  used = false;
  private kept: { readonly grid: FrameGrid; readonly column: Float64Array } | null = null;
  /** Frames and their values in turn, each at the place that its frame gives; NaN is none. */
  private answers: Float64Array | null = null;
  readonly still: boolean = false;

  /** Works the value out. */
  protected abstract valueAt(frame: number): number;
  abstract jumps(range: FrameRange): readonly number[];

  at(frame: number): number {
    this.used = true;
    // What it keeps may be let go of while it is worked out.
    const answers = this.answers ?? this.freshAnswers();
    const whole = Math.floor(frame);
    const place = 2 * ((whole ^ (7 * Math.floor(64 * (frame - whole)))) & (KEPT_ANSWERS - 1));
    if (answers[place] === frame) return answers[place + 1]!;
    const value = this.valueAt(frame);
    answers[place] = frame;
    answers[place + 1] = value;
    return value;
  }

  private freshAnswers(): Float64Array {
    this.answers = new Float64Array(2 * KEPT_ANSWERS).fill(NaN);
    holdDerived(this, 16 * KEPT_ANSWERS);
    return this.answers;
  }

  drop(): boolean {
    this.answers = this.kept = null;
    return true;
  }

  column(grid: FrameGrid): Float64Array {
    const { kept } = this;
    this.used = true;
    if (kept && kept.grid.start === grid.start && kept.grid.count === grid.count) return kept.column;
    const column = new Float64Array(grid.count);
    this.fill(grid, column);
    this.kept = { grid, column };
    holdDerived(this, column.byteLength);
    return column;
  }

  into(out: Float64Array, offset: number, stride: number, frames: Float64Array): void {
    for (let i = 0; i < frames.length; i += 1) out[offset + i * stride] = this.at(frames[i]!);
  }

  /** Where whole columns are cheaper than single questions, this is where it is said. */
  protected fill(grid: FrameGrid, column: Float64Array): void {
    for (let i = 0; i < grid.count; i += 1) column[i] = this.valueAt(grid.start + i);
  }
}

class CurveSignal implements Signal {
  readonly still = false;
  private readonly curve: Curve;
  private readonly reader: CurveReader;

  constructor(curve: Curve) {
    this.curve = curve;
    this.reader = new CurveReader(curve);
  }
  at(frame: number): number {
    return this.reader.at(frame);
  }
  column(grid: FrameGrid): Float64Array {
    return samplesOf(this.curve, grid);
  }
  into(out: Float64Array, offset: number, stride: number, frames: Float64Array): void {
    sampleInto(out, offset, stride, this.curve, frames);
  }
  jumps(range: FrameRange): readonly number[] {
    return jumpsOfCurve(this.curve, range);
  }
}

class ConstantSignal extends ComputedSignal {
  override readonly still = true;
  private readonly value: number;

  constructor(value: number) {
    super();
    this.value = value;
  }
  override at(): number {
    return this.value;
  }
  protected valueAt(): number {
    return this.value;
  }
  jumps(): readonly number[] {
    return [];
  }
  protected override fill(_: FrameGrid, column: Float64Array): void {
    column.fill(this.value);
  }
}

const ofCurves = new WeakMap<Curve, Signal>();
const constants = new WeakMap<object, Signal>();

export function signalOf(curve: Curve): Signal {
  let known = ofCurves.get(curve);
  if (!known) ofCurves.set(curve, (known = new CurveSignal(curve)));
  return known;
}

/** What a channel without keys is. @param owner whose value it is: its signals are shared by nobody else */
export function constantSignal(owner: object, value: number): Signal {
  let known = constants.get(owner);
  if (known?.at(0) !== value) constants.set(owner, (known = new ConstantSignal(value)));
  return known;
}

interface Made {
  readonly inputs: readonly unknown[];
  readonly value: unknown;
}
const made = new WeakMap<object, Made[]>();
/** So many different things may be made from one: as many layers as lie over it in a few versions of the stack. */
const MOST_KEPT = 8;

/**
 * What was made from `from` with the same inputs before, or what `make` makes now.
 * @param inputs all that the result depends on beside `from`, compared one by one; the first names who makes it
 */
export function shared<Value>(from: object, inputs: readonly unknown[], make: () => Value): Value {
  const known = made.get(from) ?? [];
  const found = known.find(
    (one) =>
      one.inputs.length === inputs.length && one.inputs.every((input, i) => Object.is(input, inputs[i])),
  );
  if (found) return found.value as Value;
  const value = make();
  made.set(from, [{ inputs, value }, ...known].slice(0, MOST_KEPT));
  return value;
}
