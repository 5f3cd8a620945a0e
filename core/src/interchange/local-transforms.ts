/**
 * Local transforms for files that know nothing of relations: from the world that evaluation gives, seen from the node's parent as the file will place
 * it. Where nothing but its parent carries a node they are its own channels over its rest pose. What a parent's uneven scale shears cannot be said by
 * place, orientation and size: the nearest is, what hangs on it is placed anew from there, and how far it strays is measured (`strayed`).
 */
import { mat4 } from 'gl-matrix';
import { multiplyAffine } from '../math/affine.ts';
import { decomposed } from '../math/decompose.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply } from '../math/quaternion.ts';
import { newWorldPose } from '../rig/pose.ts';
import { writesOf } from '../rig/relations/reads-and-writes.ts';
import { rotationColumns } from '../rig/relations/seat.ts';
import type { Rig } from '../rig/rig.ts';
import { worldInto } from '../evaluation/evaluation.ts';
import { LOOKS_PER_FRAME, worldDifference } from '../evaluation/measure.ts';
import type { WorldDifference } from '../evaluation/measure.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

/** Nodes that relations place, by row: what they are is not their channels alone. */
export function relatedNodes(shot: Shot): ReadonlySet<number> {
  const rig = rigOf(shot);
  const parentOf = (id: string) => rig.nodes[rig.indexOf(id)]?.parent ?? null;
  return new Set(shot.relations.flatMap((relation) => writesOf(relation, parentOf).map(rig.indexOf)));
}

/** The local transforms of all nodes at a frame; written anew each time. */
export class LocalTransforms {
  /** 3, 4 and 3 numbers for each node: cm, a quaternion, sizes. */
  readonly translations: Float64Array;
  readonly turns: Float64Array;
  readonly scales: Float64Array;
  /** Where a reader places the nodes, 16 numbers for each. */
  readonly matrices: Float64Array;
  private readonly shot: Shot;
  private readonly rig: Rig;
  private readonly related: ReadonlySet<number>;
  private readonly order: readonly number[];
  private readonly values: Float64Array;
  private readonly pose;
  /** Nodes that stand elsewhere than in the shot, at the last frame. */
  private readonly astray: Uint8Array;

  constructor(shot: Shot) {
    this.shot = shot;
    this.rig = rigOf(shot);
    const count = this.rig.nodes.length;
    this.related = relatedNodes(shot);
    this.order = parentsFirst(this.rig);
    this.values = new Float64Array(this.rig.channels.length);
    this.pose = newWorldPose(this.rig);
    this.translations = new Float64Array(count * 3);
    this.turns = new Float64Array(count * 4);
    this.scales = new Float64Array(count * 3);
    this.matrices = new Float64Array(count * 16);
    this.astray = new Uint8Array(count);
  }

  /** Works them out. @returns the world as the shot has it */
  at(frame: number): Float64Array {
    worldInto(this.shot, frame, this.values, this.pose, true);
    for (const node of this.order) {
      const parent = this.rig.parents[node]!;
      const own = !this.related.has(node) && (parent < 0 || this.astray[parent] === 0);
      if (own) this.fromChannels(node, parent);
      else this.fromWorld(node, parent);
    }
    return this.pose.matrices;
  }

  /** Whether a reader places a node elsewhere than the shot does, at the frame that was asked for last. */
  isAstray(node: number): boolean {
    return this.astray[node] === 1;
  }

  private fromChannels(node: number, parent: number): void {
    const { rig, values, pose } = this;
    const { rest } = rig.nodes[node]!;
    for (let axis = 0; axis < 3; axis += 1) {
      const t = rig.slots[node * 9 + axis]!;
      const s = rig.slots[node * 9 + 6 + axis]!;
      this.translations[node * 3 + axis] = rest.translation[axis]! + (t < 0 ? 0 : values[t]!);
      this.scales[node * 3 + axis] = rest.scale[axis]! * (s < 0 ? 1 : values[s]!);
    }
    const own = turnAt(pose.turns, node);
    this.turns.set(parent < 0 ? own : multiply(conjugate(turnAt(pose.turns, parent)), own), node * 4);
    this.matrices.set(pose.matrices.subarray(node * 16, node * 16 + 16), node * 16);
    this.astray[node] = 0;
  }

  private fromWorld(node: number, parent: number): void {
    const world = this.pose.matrices.subarray(node * 16, node * 16 + 16);
    const above = parent < 0 ? null : this.matrices.subarray(parent * 16, parent * 16 + 16);
    const inverse = new Float64Array(16);
    const local = new Float64Array(16);
    if (above && mat4.invert(inverse, above)) multiplyAffine(local, inverse, 0, world);
    else local.set(world);
    const usual = [...this.rig.nodes[node]!.rest.scale] as Triple;
    const found = decomposed(local, usual);
    const turn = found?.turn ?? ([0, 0, 0, 1] as Quaternion);
    const scale = found?.scale ?? ([0, 0, 0] as Triple);
    this.translations.set(local.subarray(12, 15), node * 3);
    this.turns.set(turn, node * 4);
    this.scales.set(scale, node * 3);
    const axes = rotationColumns(turn);
    for (let axis = 0; axis < 3; axis += 1)
      for (let row = 0; row < 3; row += 1) local[axis * 4 + row] = axes[axis * 3 + row]! * scale[axis]!;
    const placed = this.matrices.subarray(node * 16, node * 16 + 16);
    if (above) multiplyAffine(placed, above, 0, local);
    else placed.set(local);
    const size = Math.max(...world.map(Math.abs));
    this.astray[node] = placed.some((value, i) => Math.abs(value - world[i]!) > 1e-9 * (1 + size)) ? 1 : 0;
  }
}

const turnAt = (turns: Float64Array, row: number): Quaternion => [
  turns[row * 4]!,
  turns[row * 4 + 1]!,
  turns[row * 4 + 2]!,
  turns[row * 4 + 3]!,
];

function parentsFirst({ parents }: Rig): number[] {
  const order: number[] = [];
  const seen = new Uint8Array(parents.length);
  for (let row = 0; row < parents.length; row += 1) {
    const above: number[] = [];
    for (let at = row; at >= 0 && seen[at] === 0; at = parents[at]!) {
      seen[at] = 1;
      above.push(at);
    }
    order.push(...above.reverse());
  }
  return order;
}

/** Whole frames and fifths of a range, both ends among them. */
export function* looksOver({ start, end }: Shot['range']): Generator<number> {
  const looks = Math.floor((end - start) * LOOKS_PER_FRAME + 1e-9);
  for (let i = 0; i <= looks; i += 1) yield start + i / LOOKS_PER_FRAME;
  if (start + looks / LOOKS_PER_FRAME < end) yield end;
}

/** How far a reader is off by what local transforms cannot say; null where nothing places nodes but their parents. */
export function strayed(shot: Shot): WorldDifference | null {
  if (shot.relations.length === 0) return null;
  const locals = new LocalTransforms(shot);
  return worldDifference(
    rigOf(shot),
    (frame) => locals.at(frame),
    () => locals.matrices,
    looksOver(shot.range),
  );
}
