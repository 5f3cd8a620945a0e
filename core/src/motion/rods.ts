/**
 * Rods that hang from one another, the first from a place that moves: what ears, tails and strings are to follow-through.
 *
 * A rod is the unit vector d along it. With M the constant matrix of how much of the chain hangs on which rods, the motion is
 *
 *   Σⱼ Mᵢⱼ d″ⱼ = Pᵢ (g − a) + (drag) + κᵢ (spring) + cᵢ (damper) + λᵢ dᵢ,   |dᵢ| = 1
 *
 * (Lagrange's equations of the first kind; Goldstein, Classical Mechanics). It is stepped by the implicit midpoint rule, which keeps the energy of what is not damped, with the springs and
 * dampers of the joints taken implicitly as far as they are linear: the matrix of a step is constant, and no stiffness blows it up. The λ are found so that each rod stays as long as it is.
 */
import { assert } from '../base/assert.ts';
import { dot, normalise } from './packed-vectors.ts';

export interface RodsMake {
  /** cm, each above 0. */
  readonly lengths: readonly number[];
  /** In any unit: only their proportions count, and those to stiffness, damping and drag. */
  readonly masses: readonly number[];
  /** Whether a rod's mass lies at its far end, and not evenly along it. */
  readonly bobs?: boolean;
  /** Mass · cm² / s² for each radian between a joint and what it is sprung to. */
  readonly stiffness: readonly number[];
  /** Mass · cm² / s for each radian a second. */
  readonly damping: readonly number[];
  /** Mass / s: what the air takes of each rod's speed. */
  readonly drag: readonly number[];
  /** Seconds of a step. */
  readonly step: number;
}

/** Where a joint's spring is at rest, asked in the middle of a step. @param rods as they are then, three numbers each @param out the same of what they are sprung to */
export type Aim = (rods: Float64Array, out: Float64Array) => void;

/** Rounds in which the rods' lengths are met. */
const ROUNDS = 3;
/** A rod that grows by less than this part of itself in a step is met. */
const MET = 1e-5;

export class Rods {
  readonly count: number;
  /** Unit vectors, three numbers each; and their speeds, a second. */
  readonly ways: Float64Array;
  readonly speeds: Float64Array;
  private readonly make: RodsMake;
  private readonly pulls: Float64Array;
  private readonly airs: Float64Array;
  /** Springs and dampers between neighbours, and all that slows down, dense. */
  private readonly springs: Float64Array;
  /** What makes momenta over a step of speeds: of the masses alone, and with what dampers take. */
  private readonly momentaAlone: Float64Array;
  private readonly momenta: Float64Array;
  /** What makes speeds in the middle of a step of momenta. */
  private readonly inverse: Float64Array;
  private readonly aims: Float64Array;
  private readonly lastAims: Float64Array;
  private aimed = false;
  /** What pulls downward at all mass and is in the pose already that the joints are sprung to: it turns no rod that lies as aimed, cm/s². */
  held = 0;
  private readonly middle: Float64Array;
  private readonly force: Float64Array;
  private readonly pushed: Float64Array;
  private readonly free: Float64Array;
  private readonly mean: Float64Array;
  private readonly lengths: Float64Array;
  private readonly lambdas: Float64Array;
  /** The speeds a step ago. */
  private readonly before: Float64Array;

  constructor(make: RodsMake) {
    const n = (this.count = make.lengths.length);
    assert(n > 0 && make.lengths.every((length) => length > 0), 'rods have a length');
    this.make = make;
    const bobs = make.bobs ?? false;
    const masses = hanging(make.lengths, make.masses, bobs);
    this.pulls = pullsOf(make.lengths, make.masses, bobs);
    const drags = hanging(make.lengths, make.drag, false);
    this.airs = pullsOf(make.lengths, make.drag, false);
    this.springs = between(make.stiffness);
    const dampers = between(make.damping);
    const matrix = new Float64Array(n * n);
    const h = make.step;
    for (let k = 0; k < n * n; k += 1) {
      matrix[k] = (2 * masses[k]!) / h + dampers[k]! + drags[k]! + (h / 2) * this.springs[k]!;
    }
    this.inverse = inverted(matrix, n);
    this.momentaAlone = masses.map((mass) => (2 * mass) / h);
    this.momenta = this.momentaAlone.map((mass, k) => mass + dampers[k]!);
    [this.ways, this.speeds] = [new Float64Array(3 * n), new Float64Array(3 * n)];
    [this.aims, this.lastAims] = [new Float64Array(3 * n), new Float64Array(3 * n)];
    [this.middle, this.force] = [new Float64Array(3 * n), new Float64Array(3 * n)];
    [this.free, this.mean] = [new Float64Array(3 * n), new Float64Array(3 * n)];
    [this.lengths, this.lambdas] = [new Float64Array(n * n), new Float64Array(n)];
    [this.before, this.pushed] = [new Float64Array(3 * n), new Float64Array(3 * n)];
  }

  /** Forgets what its joints were sprung to a step ago: before a state is set. */
  begin(): void {
    this.aimed = false;
  }

  /**
   * One step.
   * @param x, y, z what pulls at all mass: gravity less the acceleration of the place that they hang from, cm/s², in the middle of the step
   * @param ax, ay, az the air's speed against that place, cm/s
   * @param aim what its joints are sprung to; null where nothing springs them
   */
  step(x: number, y: number, z: number, ax: number, ay: number, az: number, aim: Aim | null): void {
    const { count: n, ways, speeds, middle, force, make } = this;
    const h = make.step;
    for (let k = 0; k < 3 * n; k += 1) middle[k] = ways[k]! + (h / 2) * speeds[k]!;
    for (let i = 0; i < n; i += 1) normalise(middle, 3 * i);
    for (let i = 0; i < n; i += 1) {
      force[3 * i] = this.pulls[i]! * x + this.airs[i]! * ax;
      force[3 * i + 1] = this.pulls[i]! * y + this.airs[i]! * ay;
      force[3 * i + 2] = this.pulls[i]! * z + this.airs[i]! * az;
    }
    if (aim) this.sprung(aim);
    // Momenta, and what the implicit part takes off again.
    const { springs, pushed } = this;
    times(aim ? this.momenta : this.momentaAlone, n, speeds, pushed);
    for (let i = 0; i < n; i += 1) {
      const row = 3 * i;
      for (let a = row; a < row + 3; a += 1) force[a]! += pushed[a]!;
      // Only neighbours spring each other.
      for (let j = aim ? Math.max(0, i - 1) : n; j < n && j <= i + 1; j += 1) {
        const s = springs[i * n + j]!;
        const from = 3 * j;
        force[row]! += s * (middle[from]! - ways[from]!);
        force[row + 1]! += s * (middle[from + 1]! - ways[from + 1]!);
        force[row + 2]! += s * (middle[from + 2]! - ways[from + 2]!);
      }
    }
    times(this.inverse, n, force, this.free);
    this.constrained();
    for (let k = 0; k < 3 * n; k += 1) {
      ways[k]! += h * this.mean[k]!;
      speeds[k] = 2 * this.mean[k]! - speeds[k]!;
    }
    for (let i = 0; i < n; i += 1) normalise(ways, 3 * i);
  }

  /** Adds the torques of springs and dampers, on each rod and back on the one that it hangs on. */
  private sprung(aim: Aim): void {
    const { count: n, middle, speeds, force, aims, lastAims, make } = this;
    aim(middle, aims);
    if (!this.aimed) lastAims.set(aims);
    this.aimed = true;
    const h = make.step;
    for (let i = 0; i < n; i += 1) {
      const a = 3 * i;
      const dx = middle[a]!;
      const dy = middle[a + 1]!;
      const dz = middle[a + 2]!;
      const tx = aims[a]!;
      const ty = aims[a + 1]!;
      const tz = aims[a + 2]!;
      // How fast what it is sprung to goes, and how fast it goes itself.
      const wx = (tx - lastAims[a]!) / h;
      const wy = (ty - lastAims[a + 1]!) / h;
      const wz = (tz - lastAims[a + 2]!) / h;
      const vx = speeds[a]!;
      const vy = speeds[a + 1]!;
      const vz = speeds[a + 2]!;
      if (this.held !== 0) {
        // The weight across the aim, taken off again.
        const pull = this.pulls[i]! * this.held;
        force[a]! -= pull * ty * tx;
        force[a + 1]! += pull * (1 - ty * ty);
        force[a + 2]! -= pull * ty * tz;
      }
      const k = make.stiffness[i]!;
      const r = make.damping[i]!;
      const px = k * (dy * tz - dz * ty) - r * (dy * vz - dz * vy - (ty * wz - tz * wy));
      const py = k * (dz * tx - dx * tz) - r * (dz * vx - dx * vz - (tz * wx - tx * wz));
      const pz = k * (dx * ty - dy * tx) - r * (dx * vy - dy * vx - (tx * wy - ty * wx));
      force[a]! += py * dz - pz * dy;
      force[a + 1]! += pz * dx - px * dz;
      force[a + 2]! += px * dy - py * dx;
      if (i === 0) continue;
      const ux = middle[a - 3]!;
      const uy = middle[a - 2]!;
      const uz = middle[a - 1]!;
      force[a - 3]! -= py * uz - pz * uy;
      force[a - 2]! -= pz * ux - px * uz;
      force[a - 1]! -= px * uy - py * ux;
    }
    lastAims.set(aims);
  }

  /** The speeds in the middle of the step with which no rod grows: (d + h/2 v) · v = 0 for each. */
  private constrained(): void {
    const { count: n, ways, speeds, before, middle, free, mean, make } = this;
    const h = make.step;
    // As they would go on, half a step ahead: mostly the first round meets them then.
    for (let k = 0; k < 3 * n; k += 1) middle[k] = ways[k]! + (h / 4) * (3 * speeds[k]! - before[k]!);
    before.set(speeds);
    for (let round = 0; round < ROUNDS; round += 1) {
      this.across(middle, this.inverse, free, mean);
      let grown = 0;
      for (let i = 0; i < n; i += 1) {
        for (let k = 3 * i; k < 3 * i + 3; k += 1) middle[k] = ways[k]! + (h / 2) * mean[k]!;
        grown = Math.max(grown, Math.abs(2 * h * dot(middle, 3 * i, mean, 3 * i)));
      }
      if (grown < MET) break;
    }
  }

  /** Speeds changed along the rods until none goes along its own. @param weights what makes speeds of such a push */
  private across(rods: Float64Array, weights: Float64Array, from: Float64Array, to: Float64Array): void {
    const { count: n, lengths, lambdas, pushed } = this;
    for (let i = 0, row = 0; i < n; i += 1, row += n) {
      for (let j = 0; j <= i; j += 1) lengths[row + j] = weights[row + j]! * dot(rods, 3 * i, rods, 3 * j);
      lambdas[i] = -dot(rods, 3 * i, from, 3 * i);
    }
    solveSymmetric(lengths, lambdas, n);
    for (let i = 0, at = 0; i < n; i += 1, at += 3) {
      const push = lambdas[i]!;
      pushed[at] = push * rods[at]!;
      pushed[at + 1] = push * rods[at + 1]!;
      pushed[at + 2] = push * rods[at + 2]!;
    }
    times(weights, n, pushed, to);
    for (let k = 0; k < 3 * n; k += 1) to[k]! += from[k]!;
  }
}

/** A square matrix times vectors that stand one behind the other: where nearly all of the time goes. */
function times(matrix: Float64Array, n: number, from: Float64Array, to: Float64Array): void {
  for (let i = 0, row = 0; i < n; i += 1, row += n) {
    let x = 0;
    let y = 0;
    let z = 0;
    for (let j = 0, at = 0; j < n; j += 1, at += 3) {
      const weight = matrix[row + j]!;
      x += weight * from[at]!;
      y += weight * from[at + 1]!;
      z += weight * from[at + 2]!;
    }
    to[3 * i] = x;
    to[3 * i + 1] = y;
    to[3 * i + 2] = z;
  }
}

/** How much hangs on two rods together: Lᵢ Lⱼ × (what hangs below both, and of the lower one its half, or its third where they are one). */
function hanging(lengths: readonly number[], masses: readonly number[], bobs: boolean): Float64Array {
  const n = lengths.length;
  const matrix = new Float64Array(n * n);
  for (let i = 0; i < n; i += 1)
    for (let j = 0; j < n; j += 1) {
      const low = Math.max(i, j);
      const own = bobs ? 1 : i === j ? 1 / 3 : 1 / 2;
      matrix[i * n + j] = lengths[i]! * lengths[j]! * (below(masses, low) + own * masses[low]!);
    }
  return matrix;
}

const pullsOf = (lengths: readonly number[], masses: readonly number[], bobs: boolean) =>
  Float64Array.from(lengths, (length, i) => length * (below(masses, i) + (bobs ? 1 : 1 / 2) * masses[i]!));

const below = (masses: readonly number[], i: number) =>
  masses.slice(i + 1).reduce((sum, mass) => sum + mass, 0);

/** Of what acts between each rod and the one that it hangs on. */
function between(strengths: readonly number[]): Float64Array {
  const n = strengths.length;
  const matrix = new Float64Array(n * n);
  strengths.forEach((strength, i) => {
    matrix[i * n + i]! += strength;
    if (i === 0) return;
    matrix[(i - 1) * n + i - 1]! += strength;
    matrix[i * n + i - 1]! -= strength;
    matrix[(i - 1) * n + i]! -= strength;
  });
  return matrix;
}

/** Solves S x = b in place, S symmetric and positive, its lower half given (L D Lᵀ; where D stood, one over it stands then: to divide is slow). */
function solveSymmetric(s: Float64Array, b: Float64Array, n: number): void {
  for (let i = 0, row = 0; i < n; i += 1, row += n) {
    let rest = s[row + i]!;
    let value = b[i]!;
    for (let j = 0, above = 0; j < i; j += 1, above += n) {
      // Until the row is done it is L times D.
      let sum = s[row + j]!;
      for (let k = 0; k < j; k += 1) sum -= s[row + k]! * s[above + k]!;
      s[row + j] = sum;
    }
    for (let j = 0, above = 0; j < i; j += 1, above += n) {
      const part = s[row + j]!;
      const scaled = part * s[above + j]!;
      rest -= part * scaled;
      value -= scaled * b[j]!;
      s[row + j] = scaled;
    }
    s[row + i] = 1 / rest;
    b[i] = value;
  }
  for (let i = n - 1; i >= 0; i -= 1) {
    let sum = b[i]! * s[i * n + i]!;
    for (let k = i + 1; k < n; k += 1) sum -= s[k * n + i]! * b[k]!;
    b[i] = sum;
  }
}

function inverted(matrix: Float64Array, n: number): Float64Array {
  const result = new Float64Array(n * n);
  for (let column = 0; column < n; column += 1) {
    const unit = new Float64Array(n);
    unit[column] = 1;
    solveSymmetric(matrix.slice(), unit, n);
    for (let row = 0; row < n; row += 1) result[row * n + column] = unit[row]!;
  }
  return result;
}
