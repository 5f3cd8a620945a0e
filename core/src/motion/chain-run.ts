/**
 * A chain of rods that follows through: driven by what carries it, sprung to what its own keys say, frame after frame. Knows numbers alone; whose they are is said by
 * `layers/filters/follow.ts`.
 */
import { putOut } from './obstacles.ts';
import type { Obstacles } from './obstacles.ts';
import { Rods } from './rods.ts';

/** A rod as a control: where it points in its own axes, and how long it is. */
export interface Link {
  /** In the link's axes, its own scale in it: unit length. */
  readonly bone: readonly [number, number, number];
  /** cm */
  readonly length: number;
  /** What its axes are scaled by. */
  readonly scale: readonly [number, number, number];
}

/** What drives a chain, on rows from one before its first step on. */
export interface Drive {
  /** How many steps there are; rows are three more: one before, one for the start, and one after. */
  readonly steps: number;
  /** Where the chain hangs, cm; three numbers a row. */
  readonly places: Float64Array;
  /** The axes of what carries it, columns; nine numbers a row. */
  readonly axes: Float64Array;
  /** How its links are turned in what carries them: four numbers for each link and row. */
  readonly turns: Float64Array;
  /** What is in its way. */
  readonly obstacles: Obstacles | null;
}

export interface Followed {
  /** Hz at which the first link swings by itself with all that hangs on it; 0 is free. */
  readonly frequency: number;
  /** Against critical damping. */
  readonly damping: number;
  /** By how much each link is looser than the one above it, 0…1. */
  readonly growth: number;
  /** cm/s² downward. */
  readonly gravity: number;
  /** Whether the weight hangs on top of the pose; else the pose is meant with it. */
  readonly sags: boolean;
  /** What the air takes of a rod's speed, a second. */
  readonly drag: number;
  /** The air's speed over the ground, cm/s, by seconds from the start. */
  readonly wind: (seconds: number) => readonly [number, number, number];
  /** Whether it starts as its keys move; else at rest. */
  readonly moving: boolean;
  /** Whether the end leads over to the start. */
  readonly loop: boolean;
  /** Seconds of a step. */
  readonly step: number;
}

/** Turns until a loop closes, at most; and radians that are no difference. */
const [MOST_TURNS, CLOSED] = [40, 1e-5];

/** What a chain did: where its rods pointed on each step, three numbers each; and the seam of a loop, radians. */
export interface Course {
  readonly ways: Float64Array;
  readonly seam: number;
}

/** The chain from its start on. */
export function followThrough(links: readonly Link[], drive: Drive, given: Followed): Course {
  const n = links.length;
  const { step: h } = given;
  const run = new ChainRun(links, drive, given);
  const ways = new Float64Array(3 * n * (drive.steps + 1));
  run.start();
  let seam = 0;
  for (let turn = 0; turn < (given.loop ? MOST_TURNS : 1); turn += 1) {
    ways.set(run.rods.ways, 0);
    for (let k = 0; k < drive.steps; k += 1) {
      run.advance(k, k * h);
      ways.set(run.rods.ways, 3 * n * (k + 1));
    }
    seam = 0;
    for (let i = 0; i < 3 * n; i += 1) seam = Math.max(seam, Math.abs(ways[i]! - run.rods.ways[i]!));
    if (seam < CLOSED) break;
  }
  return { ways, seam };
}

/** How the links are turned in what carries them so that their rods point as they did on a step: four numbers each. */
export class ChainTurns {
  private readonly walk: Walk;
  private readonly rods: Float64Array;
  private readonly ways: Float64Array;
  readonly turns: Float64Array;

  constructor(links: readonly Link[], drive: Drive, ways: Float64Array) {
    this.walk = new Walk(links, drive);
    this.ways = ways;
    this.rods = new Float64Array(3 * links.length);
    this.turns = new Float64Array(4 * links.length);
  }

  /** Works them out. */
  at(step: number): Float64Array {
    const width = this.rods.length;
    this.rods.set(this.ways.subarray(step * width, (step + 1) * width));
    this.walk.look(step + 1, 0);
    this.walk.down(this.rods, null, this.turns);
    return this.turns;
  }
}

class ChainRun {
  readonly rods: Rods;
  private readonly walk: Walk;
  private readonly drive: Drive;
  private readonly given: Followed;
  private readonly lengths: readonly number[];
  /** What pulls at all mass beside gravity, and the air's speed against what it hangs on. */
  private readonly pull = new Float64Array(3);
  private readonly air = new Float64Array(3);

  constructor(links: readonly Link[], drive: Drive, given: Followed) {
    [this.walk, this.drive, this.given] = [new Walk(links, drive), drive, given];
    const lengths = (this.lengths = links.map(({ length }) => length));
    // As thick everywhere.
    const masses = lengths;
    const inertia = lengths.map((_, i) => inertiaFrom(lengths, masses, i));
    const omega = lengths.map((_, i) => 2 * Math.PI * given.frequency * (1 - given.growth) ** i);
    this.rods = new Rods({
      ...{ lengths, masses, step: given.step },
      stiffness: omega.map((value, i) => value * value * inertia[i]!),
      damping: omega.map((value, i) => 2 * given.damping * value * inertia[i]!),
      drag: masses.map((mass) => mass * given.drag),
    });
  }

  start(): void {
    const { rods, given, walk } = this;
    const [aims, later] = [new Float64Array(3 * rods.count), new Float64Array(3 * rods.count)];
    rods.begin();
    walk.look(1, 0);
    walk.down(null, aims, null);
    rods.ways.set(aims);
    rods.speeds.fill(0);
    if (!given.moving) return;
    walk.look(0, 0);
    walk.down(null, aims, null);
    walk.look(2, 0);
    walk.down(null, later, null);
    rods.speeds.set(later.map((value, i) => (value - aims[i]!) / (2 * given.step)));
  }

  /** From step k to the next. */
  advance(k: number, seconds: number): void {
    const { places, steps, obstacles } = this.drive;
    const { step: h, gravity, loop, frequency, sags } = this.given;
    const wind = this.given.wind(seconds + h / 2);
    // Rows begin one before the first step; round a loop the ends lead over, its travel aside.
    const [first, last] = [loop && k === 0, loop && k === steps - 1];
    const [before, after] = [3 * (first ? steps : k), 3 * (last ? 2 : Math.min(k + 3, steps + 2))];
    const { pull, air } = this;
    for (let axis = 0; axis < 3; axis += 1) {
      const travel = places[3 * (steps + 1) + axis]! - places[3 + axis]!;
      const [was, is] = [places[3 * (k + 1) + axis]!, places[3 * (k + 2) + axis]!];
      const came = places[before + axis]! - (first ? travel : 0);
      const goes = places[after + axis]! + (last ? travel : 0);
      pull[axis] = -(goes - is - was + came) / (2 * h * h);
      air[axis] = wind[axis]! - (is - was) / h;
    }
    this.walk.look(k + 1, 0.5);
    this.rods.held = !sags && frequency > 0 ? gravity : 0;
    this.rods.step(pull[0]!, pull[1]! - gravity, pull[2]!, air[0]!, air[1]!, air[2]!, this.aim);
    const { ways, speeds } = this.rods;
    if (obstacles) putOut({ ways, speeds, lengths: this.lengths }, obstacles, k + 2, places, h);
  }

  private readonly aim = (rods: Float64Array, out: Float64Array): void => this.walk.down(rods, out, null);
}

/** The way down a chain at a row of its drive, or between that and the next. */
class Walk {
  private readonly links: readonly Link[];
  private readonly drive: Drive;
  private readonly frame = new Float64Array(9);
  private readonly turned = new Float64Array(9);
  private readonly own = new Float64Array(4);
  private readonly bone = new Float64Array(3);
  private row = 0;
  private part = 0;

  constructor(links: readonly Link[], drive: Drive) {
    [this.links, this.drive] = [links, drive];
  }

  look(row: number, part: number): void {
    [this.row, this.part] = [row, part];
    const { axes } = this.drive;
    for (let k = 0; k < 9; k += 1) {
      const value = axes[9 * row + k]!;
      this.frame[k] = part === 0 ? value : value + part * (axes[9 * (row + 1) + k]! - value);
    }
  }

  /**
   * Each link is turned as its keys say in what carries it, and from there the shortest way to where its rod points.
   * @param rods where they point; null as keyed @param aims is written where each link points before that last turn @param turns is written how each is turned after it
   */
  down(rods: Float64Array | null, aims: Float64Array | null, turns: Float64Array | null): void {
    const { links, drive, frame, turned, own, bone } = this;
    const n = links.length;
    for (let i = 0; i < n; i += 1) {
      const { bone: b, scale } = links[i]!;
      const next = this.part === 0 ? -1 : 4 * ((this.row + 1) * n + i);
      keyedTurn(own, drive.turns, 4 * (this.row * n + i), next, this.part);
      turnInto(bone, own, b[0], b[1], b[2]);
      if (aims) {
        const x = frame[0]! * bone[0]! + frame[3]! * bone[1]! + frame[6]! * bone[2]!;
        const y = frame[1]! * bone[0]! + frame[4]! * bone[1]! + frame[7]! * bone[2]!;
        const z = frame[2]! * bone[0]! + frame[5]! * bone[1]! + frame[8]! * bone[2]!;
        const size = Math.sqrt(x * x + y * y + z * z) || 1;
        aims[3 * i] = x / size;
        aims[3 * i + 1] = y / size;
        aims[3 * i + 2] = z / size;
      }
      if (i === n - 1 && !turns) return;
      if (rods) towardRod(own, bone, frame, rods, 3 * i);
      if (turns) for (let k = 0; k < 4; k += 1) turns[4 * i + k] = own[k]!;
      if (i === n - 1) return;
      carryOn(turned, frame, own, scale);
      for (let k = 0; k < 9; k += 1) frame[k] = turned[k]!;
    }
  }
}

/** The moment of inertia of a straight chain of rods about its joint i. */
function inertiaFrom(lengths: readonly number[], masses: readonly number[], i: number): number {
  let [sum, away] = [0, 0];
  for (let k = i; k < lengths.length; k += 1) {
    const length = lengths[k]!;
    sum += masses[k]! * (away * away + away * length + (length * length) / 3);
    away += length;
  }
  return sum;
}

function keyedTurn(out: Float64Array, turns: Float64Array, at: number, next: number, part: number): void {
  let turned = 0;
  for (let k = 0; k < 4; k += 1) {
    out[k] = turns[at + k]!;
    if (next >= 0) turned += Math.abs(turns[next + k]! - turns[at + k]!);
  }
  if (turned === 0) return;
  for (let k = 0; k < 4; k += 1) out[k]! += part * (turns[next + k]! - turns[at + k]!);
  const size = Math.sqrt(out[0]! ** 2 + out[1]! ** 2 + out[2]! ** 2 + out[3]! ** 2) || 1;
  for (let k = 0; k < 4; k += 1) out[k]! /= size;
}

function turnInto(out: Float64Array, q: Float64Array, x: number, y: number, z: number): void {
  const qx = q[0]!;
  const qy = q[1]!;
  const qz = q[2]!;
  const qw = q[3]!;
  const tx = 2 * (qy * z - qz * y);
  const ty = 2 * (qz * x - qx * z);
  const tz = 2 * (qx * y - qy * x);
  out[0] = x + qw * tx + qy * tz - qz * ty;
  out[1] = y + qw * ty + qz * tx - qx * tz;
  out[2] = z + qw * tz + qx * ty - qy * tx;
}

/** Turns `own`, with which a bone points as `bone` in the frame, the shortest way to where the rod points. */
function towardRod(
  own: Float64Array,
  bone: Float64Array,
  f: Float64Array,
  rods: Float64Array,
  at: number,
): void {
  // The rod in the frame's axes, whatever scales those: Cramer's rule.
  const x = rods[at]!;
  const y = rods[at + 1]!;
  const z = rods[at + 2]!;
  const c0 = f[4]! * f[8]! - f[5]! * f[7]!;
  const c1 = f[5]! * f[6]! - f[3]! * f[8]!;
  const c2 = f[3]! * f[7]! - f[4]! * f[6]!;
  const whole = f[0]! * c0 + f[1]! * c1 + f[2]! * c2;
  if (Math.abs(whole) < 1e-12) return;
  let u = (x * c0 + y * c1 + z * c2) / whole;
  let v =
    (x * (f[2]! * f[7]! - f[1]! * f[8]!) +
      y * (f[0]! * f[8]! - f[2]! * f[6]!) +
      z * (f[1]! * f[6]! - f[0]! * f[7]!)) /
    whole;
  let w =
    (x * (f[1]! * f[5]! - f[2]! * f[4]!) +
      y * (f[2]! * f[3]! - f[0]! * f[5]!) +
      z * (f[0]! * f[4]! - f[1]! * f[3]!)) /
    whole;
  const size = Math.sqrt(u * u + v * v + w * w) || 1;
  const length = Math.sqrt(bone[0]! ** 2 + bone[1]! ** 2 + bone[2]! ** 2) || 1;
  u /= size;
  v /= size;
  w /= size;
  const a = bone[0]! / length;
  const b = bone[1]! / length;
  const c = bone[2]! / length;
  let ax = b * w - c * v;
  let ay = c * u - a * w;
  let az = a * v - b * u;
  let aw = 1 + a * u + b * v + c * w;
  // Half a turn: about any axis across the bone.
  if (aw < 1e-9) [ax, ay, az, aw] = Math.abs(a) < 0.9 ? [0, -c, b, 0] : [c, 0, -a, 0];
  const norm = Math.sqrt(ax * ax + ay * ay + az * az + aw * aw);
  ax /= norm;
  ay /= norm;
  az /= norm;
  aw /= norm;
  const ox = own[0]!;
  const oy = own[1]!;
  const oz = own[2]!;
  const ow = own[3]!;
  own[0] = aw * ox + ax * ow + ay * oz - az * oy;
  own[1] = aw * oy + ay * ow + az * ox - ax * oz;
  own[2] = aw * oz + az * ow + ax * oy - ay * ox;
  own[3] = aw * ow - ax * ox - ay * oy - az * oz;
}

/** The frame of what a link carries. */
function carryOn(out: Float64Array, f: Float64Array, q: Float64Array, scale: readonly number[]): void {
  const x = q[0]!;
  const y = q[1]!;
  const z = q[2]!;
  const w = q[3]!;
  const [s, t, u] = scale as readonly [number, number, number];
  column(out, 0, f, s * (1 - 2 * (y * y + z * z)), s * 2 * (x * y + z * w), s * 2 * (x * z - y * w));
  column(out, 3, f, t * 2 * (x * y - z * w), t * (1 - 2 * (x * x + z * z)), t * 2 * (y * z + x * w));
  column(out, 6, f, u * 2 * (x * z + y * w), u * 2 * (y * z - x * w), u * (1 - 2 * (x * x + y * y)));
}

/** A column of a frame times what its axes are mixed by. */
function column(out: Float64Array, at: number, f: Float64Array, a: number, b: number, c: number): void {
  out[at] = f[0]! * a + f[3]! * b + f[6]! * c;
  out[at + 1] = f[1]! * a + f[4]! * b + f[7]! * c;
  out[at + 2] = f[2]! * a + f[5]! * b + f[8]! * c;
}
