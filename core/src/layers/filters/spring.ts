/**
 * Spring: the channel follows its keys like a weight on a spring. With u the motion below, x what shows, ω = 2π·frequency, ζ the damping ratio:
 *
 *   x″ + 2ζω·(x′ − d·u′) + ω²·(x − u) = 0,   d = 0 damped by the air, d = 1 damped at the joint
 *
 * By the air a steady motion is followed late by 2ζ/ω, a step overshoots as every second-order system does (Ogata, Modern Control Engineering); at the
 * joint a steady motion is followed without lag and a shaken base is passed on with the transmissibility of Rao, Mechanical Vibrations.
 *
 * The input runs straight from frame to frame, and between frames the equation is solved exactly, so nothing depends on the rate: states are kept on
 * whole frames from the start on, and a value between frames goes on from the last one. It starts on the motion, at rest or as fast as that was; loop-aware, the state at the end is the
 * state at the start (what the motion has travelled meanwhile aside).
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { holdDerived } from '../../base/derived-budget.ts';
import { ComputedSignal } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { defineFilter } from './filter.ts';

const settings = z.object({
  frequency: z.number().min(0.01).max(60).default(2).meta({
    slider: true,
    title: 'Frequency',
    unit: 'Hz',
    step: 0.1,
    description: 'How fast it swings by itself: the stiffer, the faster.',
  }),
  damping: z.number().min(0).max(10).default(0.3).meta({
    title: 'Damping',
    step: 0.05,
    description: 'Below 1 it swings past and settles; at 1 it comes to rest without.',
  }),
  damped: z
    .enum(['air', 'joint'])
    .default('air')
    .meta({
      title: 'Damped',
      labels: { air: 'by the air', joint: 'at the joint' },
      description: 'By the air it drags behind a steady motion; at the joint it goes along with it.',
    }),
  starts: z
    .enum(['rest', 'moving'])
    .default('rest')
    .meta({
      title: 'It starts',
      when: { loop: false },
      labels: { rest: 'at rest', moving: 'moving' },
      description: 'Where the filter begins: at rest, or as fast as the motion is there, without a kick.',
    }),
  loop: z.boolean().default(false).meta({
    title: 'Loop-aware',
    description: 'It swings at the end of the range as at its start, so that the seam does not show.',
  }),
});

/** How far place and speed (per frame) at one time make those a while later. */
type Transition = readonly [xx: number, xv: number, vx: number, vv: number];

/** The free swing over `t` frames. @param omega in radians per frame */
function freeSwing(omega: number, zeta: number, t: number): Transition {
  const root = Math.sqrt(Math.abs(1 - zeta * zeta)) * omega;
  const decay = Math.exp(-zeta * omega * t);
  // Under critical damping, decay·cos and decay·sin/root; above it their hyperbolic twins, written so that nothing overflows.
  let [even, odd] = [decay, decay * t];
  if (root * t > 1e-6) {
    const [slow, fast] = [Math.exp((root - zeta * omega) * t), Math.exp((-root - zeta * omega) * t)];
    [even, odd] =
      zeta < 1
        ? [decay * Math.cos(root * t), (decay * Math.sin(root * t)) / root]
        : [(slow + fast) / 2, (slow - fast) / 2 / root];
  }
  return [even + zeta * omega * odd, odd, -omega * omega * odd, even - zeta * omega * odd];
}

class Sprung extends ComputedSignal {
  private readonly below: Signal;
  private readonly omega: number;
  private readonly zeta: number;
  /** How many frames it stays behind a steady motion. */
  private readonly lag: number;
  private readonly over: FrameRange;
  private readonly loop: boolean;
  private readonly moving: boolean;
  private readonly whole: Transition;
  /** Place and speed on each frame from the start of the range, and the input there. */
  private states: number[] = [];
  private inputs: number[] = [];
  private working = 0;

  constructor(
    below: Signal,
    omega: number,
    zeta: number,
    { air, loop, moving }: { readonly air: boolean; readonly loop: boolean; readonly moving: boolean },
    over: FrameRange,
  ) {
    super();
    [this.below, this.omega, this.zeta, this.over, this.loop] = [below, omega, zeta, over, loop];
    this.moving = moving;
    this.lag = air ? (2 * zeta) / omega : 0;
    this.whole = freeSwing(omega, zeta, 1);
  }

  protected valueAt(frame: number): number {
    const along = frame - this.over.start;
    if (along < 0) return this.below.at(frame);
    const k = Math.floor(along);
    this.working += 1;
    this.reach(k);
    const t = along - k;
    const value = t === 0 ? this.states[2 * k]! : this.moved(k, t, freeSwing(this.omega, this.zeta, t))[0];
    this.working -= 1;
    return value;
  }

  /** Whatever drives it, what swings does not jump. */
  jumps(range: FrameRange): readonly number[] {
    const end = Math.min(range.end, this.over.start);
    return end < range.start ? [] : this.below.jumps({ start: range.start, end });
  }

  /** Place and speed a part of a frame after frame `k`: the steady motion along the straight input, and the free swing about it. */
  private moved(k: number, t: number, [xx, xv, vx, vv]: Transition): [number, number] {
    const rate = this.input(k + 1) - this.input(k);
    const steady = this.input(k) - this.lag * rate;
    const [x, v] = [this.states[2 * k]! - steady, this.states[2 * k + 1]! - rate];
    return [steady + rate * t + xx * x + xv * v, rate + vx * x + vv * v];
  }

  private input(k: number): number {
    for (let i = this.inputs.length; i <= k; i += 1) this.inputs.push(this.below.at(this.over.start + i));
    return this.inputs[k]!;
  }

  /** Works out the states up to frame `k`. */
  private reach(k: number): void {
    const before = this.states.length;
    // Meanwhile nobody may take the states away.
    this.working += 1;
    if (before === 0) this.states = this.first();
    for (let i = this.states.length / 2 - 1; i < k; i += 1) this.states.push(...this.moved(i, 1, this.whole));
    this.working -= 1;
    if (this.working === 0 && this.states.length > before)
      holdDerived(this, 12 * (this.states.length - before));
  }

  override drop(): boolean {
    if (this.working > 0) return false;
    [this.states, this.inputs] = [[], []];
    return super.drop();
  }

  /** On the input, at rest or as fast as it was until then; loop-aware the one state from which a turn of the loop leads back to itself. */
  private first(): [number, number] {
    const start = this.input(0);
    const turns = Math.round(this.over.end - this.over.start);
    if (!this.loop || turns < 1) return [start, this.moving ? start - this.below.at(this.over.start - 1) : 0];
    this.states = [start, 0];
    this.reach(turns);
    const [x, v] = [this.states[2 * turns]!, this.states[2 * turns + 1]!];
    const [xx, xv, vx, vv] = freeSwing(this.omega, this.zeta, turns);
    // s = s₀ + e with e = A·e + r, where r is what is missing after a turn from s₀, travel aside.
    const missing = [x - start - (this.input(turns) - start), v];
    const determinant = (1 - xx) * (1 - vv) - xv * vx;
    // Without damping and with whole swings in a turn there is no such state: it stays at rest.
    if (Math.abs(determinant) < 1e-12) return [start, 0];
    return [
      start + ((1 - vv) * missing[0]! + xv * missing[1]!) / determinant,
      (vx * missing[0]! + (1 - xx) * missing[1]!) / determinant,
    ];
  }
}

export const spring = defineFilter({
  kind: 'spring',
  title: 'Spring',
  summary: 'Follows the motion like a weight on a spring: late, past it, and settling.',
  words: 'jiggle follow-through overlap bounce damped dynamics secondary',
  settings,
  // What swings does so in seconds, and never backward: it swings on as it does, and that is said.
  flip: 'asIs',
  spins: true,
  time: { is: 'inPiece', split: 'never', looksAround: true, inPiece: (given) => given },
  problem: ({ frequency }, { framesPerSecond }) =>
    frequency <= framesPerSecond / 2 ? null : finding('aboveNyquist', {}, frequency, framesPerSecond / 2),
  inputs: ({ frequency, damping, damped, starts, loop }, { over, cycle }, { framesPerSecond }) => [
    frequency,
    damping,
    damped,
    starts,
    loop,
    over.start,
    loop && cycle.end,
    framesPerSecond,
  ],
  filtered: ({ frequency, damping, damped, starts, loop }, below, { cycle }, { framesPerSecond }) =>
    new Sprung(
      below,
      (2 * Math.PI * frequency) / framesPerSecond,
      damping,
      { air: damped === 'air', loop, moving: starts === 'moving' },
      cycle,
    ),
  fresh: { starts: 'moving' },
});
