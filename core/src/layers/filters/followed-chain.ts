/** A chain of follow-through as signals: it is worked out when it is first asked, kept within the budget, and read between frames from the steps of its rods. */
import { holdDerived } from '../../base/derived-budget.ts';
import type { Holder } from '../../base/derived-budget.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { eulerFromQuat } from '../../math/euler.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply } from '../../math/quaternion.ts';
import { ChainTurns, followThrough } from '../../motion/chain-run.ts';
import type { Drive, Followed } from '../../motion/chain-run.ts';
import type { Rig } from '../../rig/rig.ts';
import { ComputedSignal } from '../signal.ts';
import type { Signal, Signals } from '../signal.ts';
import { linkOf } from './follow-drive.ts';
import type { Chain } from './follow-drive.ts';

/** Steps between frames whose angles are kept. */
const MOST_BETWEEN = 8;

/** What a chain did, with the angles of its links on whole frames. */
interface Done {
  /** Degrees between the end of a loop and its start. */
  readonly seam: number;
  readonly steps: number;
  readonly links: ChainTurns;
  readonly angles: Float64Array;
}

/** What a chain does over the frames of a filter, by channel. */
export class FollowedChain implements Holder {
  used = false;
  private done: Done | null = null;
  private readonly rig: Rig;
  private readonly below: Signals;
  private readonly chain: Chain;
  private readonly over: FrameRange;
  private readonly pace: number;
  private readonly given: Followed;
  private readonly driveOf: () => Drive;
  private readonly signals = new Map<number, Signal>();
  /** Of each link: what takes the rest pose off its turn. */
  private readonly back: readonly Quaternion[];
  /** Angles of steps between frames that were asked last: a time between two steps asks for both, once for each channel. */
  private readonly between = new Map<number, Float64Array>();

  constructor(
    rig: Rig,
    below: Signals,
    chain: Chain,
    over: FrameRange,
    pace: number,
    drive: () => Drive,
    given: Followed,
  ) {
    [this.rig, this.below, this.chain] = [rig, below, chain];
    [this.over, this.pace, this.given, this.driveOf] = [over, pace, given, drive];
    this.back = chain.map((row) => conjugate([...rig.nodes[row]!.rest.rotation] as Quaternion));
  }

  signal(link: number, axis: number): Signal {
    const known = this.signals.get(3 * link + axis);
    if (known) return known;
    const c = this.rig.slots[this.chain[link]! * 9 + 3 + axis]!;
    const made = new FollowedSignal(
      this.below[c]!,
      (frame) => this.angle(3 * link + axis, frame),
      this.over.start,
    );
    this.signals.set(3 * link + axis, made);
    return made;
  }

  get seam(): number {
    return (this.done ??= this.run()).seam;
  }

  drop(): boolean {
    this.done = null;
    this.between.clear();
    return true;
  }

  /** Past the end of a loop it goes on with its start; past any other end it stays as it is there. */
  private angle(place: number, frame: number): number {
    this.used = true;
    const done = (this.done ??= this.run());
    const along = (frame - this.over.start) * this.pace;
    const at = this.given.loop ? along % done.steps : Math.min(along, done.steps);
    const step = Math.floor(at + 1e-9);
    const value = this.anglesAt(done, step)[place]!;
    const part = at - step;
    if (part < 1e-9) return value;
    return value + part * (this.anglesAt(done, Math.min(step + 1, done.steps))[place]! - value);
  }

  private anglesAt(done: Done, step: number): Float64Array {
    const width = 3 * this.chain.length;
    const whole = Math.floor(step / this.pace);
    const near = done.angles.subarray(whole * width, (whole + 1) * width);
    if (step % this.pace === 0) return near;
    let angles = this.between.get(step);
    if (!angles) {
      angles = Float64Array.from(near);
      this.read(done.links.at(step), angles);
      if (this.between.size >= MOST_BETWEEN) this.between.clear();
      this.between.set(step, angles);
    }
    return angles;
  }

  /** Angles of turns, as near as can be to those that stand there. */
  private read(turns: Float64Array, angles: Float64Array): void {
    this.chain.forEach((node, i) => {
      const turn: Quaternion = [turns[4 * i]!, turns[4 * i + 1]!, turns[4 * i + 2]!, turns[4 * i + 3]!];
      const near: Triple = [angles[3 * i]!, angles[3 * i + 1]!, angles[3 * i + 2]!];
      angles.set(eulerFromQuat(multiply(this.back[i]!, turn), this.rig.nodes[node]!.order, near), 3 * i);
    });
  }

  private run(): Done {
    const { rig, chain, below, over, pace, given } = this;
    const drive = this.driveOf();
    const links = chain.map((row) => linkOf(rig, row, chain));
    const { ways, seam } = followThrough(links, drive, given);
    const turns = new ChainTurns(links, drive, ways);
    const width = 3 * chain.length;
    const frames = Math.ceil(drive.steps / pace);
    const angles = new Float64Array(width * (frames + 1));
    const now = new Float64Array(width);
    chain.forEach((node, i) =>
      [3, 4, 5].forEach((slot, axis) => {
        const c = rig.slots[node * 9 + slot]!;
        now[3 * i + axis] = c < 0 ? 0 : below[c]!.at(over.start);
      }),
    );
    for (let k = 0; k <= frames; k += 1) {
      this.read(turns.at(Math.min(k * pace, drive.steps)), now);
      angles.set(now, k * width);
    }
    holdDerived(this, angles.byteLength + ways.byteLength + drive.axes.byteLength + drive.turns.byteLength);
    return { seam: (seam * 180) / Math.PI, steps: drive.steps, links: turns, angles };
  }
}

class FollowedSignal extends ComputedSignal {
  private readonly below: Signal;
  private readonly own: (frame: number) => number;
  private readonly start: number;

  constructor(below: Signal, own: (frame: number) => number, start: number) {
    super();
    [this.below, this.own, this.start] = [below, own, start];
  }
  protected valueAt(frame: number): number {
    return frame < this.start ? this.below.at(frame) : this.own(frame);
  }
  /** Whatever drives it, what swings does not jump. */
  jumps(range: FrameRange): readonly number[] {
    const end = Math.min(range.end, this.start);
    return end < range.start ? [] : this.below.jumps({ start: range.start, end });
  }
}
