/**
 * What a hand or a feed gave, on even times. Inputs come when they come, each with the time at which it was made; a page that drops pictures drops none
 * of them. Samples are asked of them at the shot's own rate, so that they are even however uneven the inputs were.
 */
import { bisectRight } from '../base/bisect.ts';

/** Numbers at a time, ms of any clock that does not jump. */
export interface Input {
  readonly time: number;
  readonly values: Readonly<Record<string, number>>;
}

/** The times of so many frames, from `began`. @param perFrame ms */
export const evenTimes = (began: number, perFrame: number, count: number): Float64Array =>
  Float64Array.from({ length: count }, (_, i) => began + i * perFrame);

/** A name's inputs with their times, rising; of several at one time the last counts. */
export class Trace {
  private readonly times: number[] = [];
  private readonly values: number[] = [];

  get end(): number {
    return this.times[this.times.length - 1] ?? -Infinity;
  }
  /** An input that comes late is put where it belongs. */
  push(time: number, value: number): void {
    const at = bisectRight(this.times, time);
    if (this.times[at - 1] === time) this.values[at - 1] = value;
    else {
      this.times.splice(at, 0, time);
      this.values.splice(at, 0, value);
    }
  }
  /** Straight from one input to the next; ahead of the first and past the last it holds. */
  at(time: number): number {
    const { times, values } = this;
    const next = bisectRight(times, time);
    if (next === 0) return values[0]!;
    if (next === times.length) return values[next - 1]!;
    const [from, to] = [times[next - 1]!, times[next]!];
    return values[next - 1]! + ((values[next]! - values[next - 1]!) * (time - from)) / (to - from);
  }
}

/** The traces of inputs, by name. */
export class Take {
  readonly traces = new Map<string, Trace>();

  push({ time, values }: Input): void {
    for (const [name, value] of Object.entries(values)) {
      if (!Number.isFinite(value) || !Number.isFinite(time)) continue;
      let trace = this.traces.get(name);
      if (!trace) this.traces.set(name, (trace = new Trace()));
      trace.push(time, value);
    }
  }
  /** Each name's values at these times. */
  sampled(times: Float64Array): Record<string, number[]> {
    return Object.fromEntries(
      [...this.traces].map(([name, trace]) => [name, Array.from(times, (time) => trace.at(time))]),
    );
  }
}
