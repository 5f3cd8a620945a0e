/** How points of bodies move with channels, frame by frame: by the joints' axes where a node turns all that it moves as one, else by differences. */
import { quatFromEuler } from '../../math/euler.ts';
import type { PointMass } from '../../motion/body.ts';
import { movedBy } from '../../rig/influence.ts';
import { computeWorld, newWorldPose } from '../../rig/pose.ts';
import type { WorldPose } from '../../rig/pose.ts';
import { writesOf } from '../../rig/relations/reads-and-writes.ts';
import type { Rig } from '../../rig/rig.ts';

interface Stencil {
  /** Degrees, or cm, by which a channel is moved where only differences say what it does. */
  readonly step: number;
  /** How many of them, and what each counts. */
  readonly looks: readonly (readonly [steps: number, weight: number])[];
}

const CENTRAL: Stencil = {
  step: 1e-4,
  looks: [
    [1, 1 / 2],
    [-1, -1 / 2],
  ],
};
/** A limb under scales closes to 1e-9, and smaller steps would be its noise: larger ones, of the fourth order. */
const COARSE: Stencil = {
  step: 5e-4,
  looks: [
    [1, 2 / 3],
    [-1, -2 / 3],
    [2, -1 / 12],
    [-2, 1 / 12],
  ],
};

/** How points move with channels, frame by frame. */
export class Kinematics {
  private readonly rig: Rig;
  private readonly channels: readonly number[];
  private readonly tracked: readonly PointMass[];
  private readonly scratch: WorldPose;
  private readonly held: WorldPose[] = [];
  private readonly values: Float64Array[] = [];
  private readonly stencil: Stencil;
  private readonly axes = new Float64Array(3);
  /** By the channel's place in the list: which axis it is, whether it moves, and which turns come before it. */
  private readonly plans: readonly {
    readonly node: number;
    readonly at: number;
    readonly isMove: boolean;
    readonly before: readonly boolean[];
  }[];
  /** By row, three numbers each. */
  private readonly forces: Float64Array;
  private readonly torques: Float64Array;
  /** By the channel's place in the list: whether its node turns all that it moves as one. */
  private readonly plain: readonly boolean[];
  /** Rows that a channel's node moves, in the rig's order, and the points on them. */
  private readonly moved: readonly { readonly order: Int32Array; readonly points: readonly number[] }[];

  constructor(rig: Rig, channels: readonly number[], tracked: readonly PointMass[]) {
    [this.rig, this.channels, this.tracked] = [rig, channels, tracked];
    this.scratch = newWorldPose(rig);
    this.stencil = rig.chains.some(({ scales }) => scales) ? COARSE : CENTRAL;
    [this.forces, this.torques] = [0, 1].map(() => new Float64Array(rig.nodes.length * 3)) as [
      Float64Array,
      Float64Array,
    ];
    const parentOf = (id: string) => rig.nodes[rig.indexOf(id)]?.parent ?? null;
    const placed = new Set(rig.shotRelations.flatMap((one) => writesOf(one, parentOf)).map(rig.indexOf));
    const scales = (row: number): boolean => {
      for (let up = row; up >= 0; up = rig.parents[up]!) {
        const { rest, channels: names } = rig.nodes[up]!;
        if (names.some((name) => /^s[xyz]$/.test(name))) return true;
        if (rest.scale.some((part) => part !== 1)) return true;
      }
      return false;
    };
    const byNode = new Map<number, { plain: boolean; order: Int32Array; points: number[] }>();
    const of = channels.map((c) => {
      const { node } = rig.channels[c]!;
      let known = byNode.get(node);
      if (!known) {
        const flags = movedBy(rig, [node]);
        const order = rig.order.filter((row) => flags[row] === 1);
        const points = tracked.flatMap(({ row }, p) => (flags[row] === 1 ? [p] : []));
        const onTree = (row: number) => {
          for (let up = row; up >= 0; up = rig.parents[up]!) if (up === node) return true;
          return false;
        };
        const plain = [...order].every((row) => !placed.has(row) && onTree(row)) && !scales(node);
        byNode.set(node, (known = { plain, order, points }));
      }
      return known;
    });
    this.plans = channels.map((c) => {
      const { node, name } = rig.channels[c]!;
      const { order } = rig.nodes[node]!;
      const axis = name[1]!;
      return {
        ...{ node, at: 'xyz'.indexOf(axis), isMove: name[0] === 't' },
        before: ['x', 'y', 'z'].map((other) => order.indexOf(other) < order.indexOf(axis)),
      };
    });
    this.plain = of.map(({ plain }) => plain);
    this.moved = of;
  }

  /** The poses of all frames, with these channels as they are shown. */
  poses(still: readonly Float64Array[], shown: readonly Float64Array[], count: number): readonly WorldPose[] {
    for (let f = 0; f < count; f += 1) {
      const pose = (this.held[f] ??= newWorldPose(this.rig));
      const values = (this.values[f] ??= new Float64Array(still[f]!.length));
      values.set(still[f]!);
      this.channels.forEach((c, k) => (values[c] = shown[k]![f]!));
      computeWorld(this.rig, values, pose);
    }
    return this.held;
  }

  placesInto(places: readonly Float64Array[], poses: readonly WorldPose[], f: number): void {
    this.tracked.forEach((point, p) => placeInto(places[p]!, 3 * f, poses[f]!, point));
  }

  /** Adds to each channel's column what a unit of it costs on a frame. @param pulls what a unit of each place costs, by point */
  pullBack(
    poses: readonly WorldPose[],
    pulls: readonly Float64Array[],
    f: number,
    out: readonly Float64Array[],
  ): void {
    const { rig, channels } = this;
    const pose = poses[f]!;
    this.gather(pose, pulls, f);
    for (let k = 0; k < channels.length; k += 1) {
      const c = channels[k]!;
      const { points, order } = this.moved[k]!;
      if (points.length === 0) continue;
      if (!this.plain[k]) {
        out[k]![f]! += this.byDifferences(c, order, points, pulls, f);
        continue;
      }
      const { node, name } = rig.channels[c]!;
      const axis = this.axisOf(pose, this.values[f]!, k);
      const [ax, ay, az] = [axis[0]!, axis[1]!, axis[2]!];
      const i = 3 * node;
      const [fx, fy, fz] = [this.forces[i]!, this.forces[i + 1]!, this.forces[i + 2]!];
      if (name[0] === 't') {
        out[k]![f]! += ax * fx + ay * fy + az * fz;
        continue;
      }
      const m = node * 16 + 12;
      const [ox, oy, oz] = [pose.matrices[m]!, pose.matrices[m + 1]!, pose.matrices[m + 2]!];
      const sum =
        ax * (this.torques[i]! - (oy * fz - oz * fy)) +
        ay * (this.torques[i + 1]! - (oz * fx - ox * fz)) +
        az * (this.torques[i + 2]! - (ox * fy - oy * fx));
      out[k]![f]! += (sum * Math.PI) / 180;
    }
  }

  /** What pulls at each node and at all that hangs on it: as forces, and as torques about the world's middle. */
  private gather(pose: WorldPose, pulls: readonly Float64Array[], f: number): void {
    const { rig, tracked, forces, torques } = this;
    forces.fill(0);
    torques.fill(0);
    tracked.forEach((point, p) => {
      const pull = pulls[p]!;
      const [gx, gy, gz] = [pull[3 * f]!, pull[3 * f + 1]!, pull[3 * f + 2]!];
      if (gx === 0 && gy === 0 && gz === 0) return;
      placeInto(spot, 0, pose, point);
      const [x, y, z] = [spot[0]!, spot[1]!, spot[2]!];
      const i = 3 * point.row;
      forces[i]! += gx;
      forces[i + 1]! += gy;
      forces[i + 2]! += gz;
      torques[i]! += y * gz - z * gy;
      torques[i + 1]! += z * gx - x * gz;
      torques[i + 2]! += x * gy - y * gx;
    });
    for (let k = rig.order.length - 1; k >= 0; k -= 1) {
      const row = rig.order[k]!;
      const parent = rig.parents[row]!;
      if (parent < 0) continue;
      for (let axis = 0; axis < 3; axis += 1) {
        forces[3 * parent + axis]! += forces[3 * row + axis]!;
        torques[3 * parent + axis]! += torques[3 * row + axis]!;
      }
    }
  }

  /** About what, or along what, a channel moves its node, in the world; it is good until the next one is asked for. */
  private axisOf(pose: WorldPose, values: Float64Array, k: number): Float64Array {
    const { rig, axes } = this;
    const { node, at, isMove, before } = this.plans[k]!;
    const parent = rig.parents[node]!;
    const turn = parent < 0 ? UNTURNED : pose.turns.subarray(parent * 4, parent * 4 + 4);
    if (isMove) return turned(axes, turn, at);
    // Turns that come before this one in the order carry its axis.
    const slot = node * 9 + 3;
    const angle = (axis: number) => (before[axis] ? (values[rig.slots[slot + axis]!] ?? 0) : 0);
    const { order, rest } = rig.nodes[node]!;
    quatFromEuler(own, 0, angle(0), angle(1), angle(2), order);
    product(carried, turn, rest.rotation);
    product(carried, carried, own);
    return turned(axes, carried, at);
  }

  private byDifferences(
    c: number,
    order: Int32Array,
    points: readonly number[],
    pulls: readonly Float64Array[],
    f: number,
  ): number {
    const { rig, scratch, tracked } = this;
    const values = this.values[f]!;
    const was = values[c]!;
    const pose = this.held[f]!;
    scratch.matrices.set(pose.matrices);
    scratch.turns.set(pose.turns);
    let sum = 0;
    const { step, looks } = this.stencil;
    for (const [steps, weight] of looks) {
      values[c] = was + steps * step;
      computeWorld(rig, values, scratch, null, order);
      for (const p of points) {
        placeInto(spot, 0, scratch, tracked[p]!);
        const pull = pulls[p]!;
        sum += weight * (spot[0]! * pull[3 * f]! + spot[1]! * pull[3 * f + 1]! + spot[2]! * pull[3 * f + 2]!);
      }
    }
    values[c] = was;
    return sum / step;
  }
}

const spot = new Float64Array(3);
const own = new Float64Array(4);
const carried = new Float64Array(4);
const UNTURNED = Float64Array.of(0, 0, 0, 1);

/** One turn after another, written without making anything; `out` may be one of them. */
function product(out: Float64Array, a: ArrayLike<number>, b: ArrayLike<number>): void {
  const [ax, ay, az, aw] = [a[0]!, a[1]!, a[2]!, a[3]!];
  const [bx, by, bz, bw] = [b[0]!, b[1]!, b[2]!, b[3]!];
  out[0] = aw * bx + ax * bw + ay * bz - az * by;
  out[1] = aw * by - ax * bz + ay * bw + az * bx;
  out[2] = aw * bz + ax * by - ay * bx + az * bw;
  out[3] = aw * bw - ax * bx - ay * by - az * bz;
}

/** A unit axis as a turn carries it. */
function turned(out: Float64Array, turn: ArrayLike<number>, axis: number): Float64Array {
  const [x, y, z, w] = [turn[0]!, turn[1]!, turn[2]!, turn[3]!];
  const columns = [
    [1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)],
    [2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)],
    [2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)],
  ];
  out.set(columns[axis]!);
  return out;
}

function placeInto(
  out: Float64Array,
  at: number,
  { matrices }: WorldPose,
  { row, at: [a, b, c] }: PointMass,
): void {
  const m = row * 16;
  for (let axis = 0; axis < 3; axis += 1)
    out[at + axis] =
      matrices[m + axis]! * a +
      matrices[m + 4 + axis]! * b +
      matrices[m + 8 + axis]! * c +
      matrices[m + 12 + axis]!;
}
