/**
 * The solids of a figure from its skin: for each joint a capsule about what it leads, and for each node that carries a mesh of its own one about that, along their principal axes, so that the
 * figure, its pictures and its weight are those of what is seen.
 */
import { mat4, vec3 } from 'gl-matrix';
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Accessor, Document, Node as GltfNode, Skin } from '@gltf-transform/core';
import { numbersIn } from './numbers-in.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Node, Solid, Vector } from '../../rig/node.ts';

const CM_PER_METRE = 100;
/** What leads fewer vertices is drawn from its neighbours. */
const FEWEST = 4;
/** Vertices that say what a solid is like: more are taken in even steps. */
const MOST = 4000;
/** The part of its radius by which a round end stays behind the end of the cloud. */
const ROUND = 0.75;
/** The part of what a joint leads that its solid holds. */
const HELD = 0.97;

/** @param nodes of the file, in its order; @returns those with solids, null where no mesh says how they look */
export function skinSolids(
  document: Document,
  nodes: readonly Node[],
  findings: Finding[],
): readonly Node[] | null {
  const clouds = new Map<number, number[]>();
  const rows = new Map(
    document
      .getRoot()
      .listNodes()
      .map((node, row) => [node, row]),
  );
  for (const [node, row] of rows) {
    const mesh = node.getMesh();
    if (!mesh) continue;
    const skin = node.getSkin();
    const name = mesh.getName() || nodes[row]!.id;
    let wrong = 0;
    for (const primitive of mesh.listPrimitives()) {
      const positions = primitive.getAttribute('POSITION');
      if (!positions) continue;
      const sets = skin ? weightSets(primitive) : [];
      if (skin && sets.length > 0) wrong += addLed(clouds, rows, positions, skin, sets);
      else addOwn(cloudOf(clouds, row), positions);
    }
    if (wrong > 0) findings.push(finding('skinWeightsOff', {}, wrong, name));
  }
  const made = nodes.map((node, row): Node => {
    const solid = solidOf(clouds.get(row) ?? [], node);
    return solid ? { ...node, solids: [solid] } : node;
  });
  return made.some(({ solids }) => solids.length > 0) ? made : null;
}

const cloudOf = (clouds: Map<number, number[]>, row: number): number[] => {
  const cloud = clouds.get(row) ?? [];
  clouds.set(row, cloud);
  return cloud;
};

function addOwn(cloud: number[], positions: Accessor): void {
  const places = numbersIn(positions);
  for (let at = 0; at + 2 < places.length; at += 3) {
    const [x, y, z] = [places[at]!, places[at + 1]!, places[at + 2]!];
    if (Number.isFinite(x + y + z)) cloud.push(x, y, z);
  }
}

interface WeightSet {
  readonly joints: ArrayLike<number>;
  readonly weights: ArrayLike<number>;
}

/** Joints and weights, four by four (glTF 2.0, 3.7.3.3). */
function weightSets(primitive: { getAttribute(name: string): Accessor | null }): WeightSet[] {
  const sets: WeightSet[] = [];
  for (let k = 0; ; k += 1) {
    const [joints, weights] = [primitive.getAttribute(`JOINTS_${k}`), primitive.getAttribute(`WEIGHTS_${k}`)];
    if (!joints || !weights) return sets;
    sets.push({ joints: numbersIn(joints), weights: numbersIn(weights) });
  }
}

/** Weights add up to 1 within this (glTF 2.0, 3.7.3.3, leaves the bound to the number of weights and their rounding). */
const SUM = 0.02;

/** Puts each vertex to the joint that leads it, in the joint's own axes; returns how many have weights that are none. */
function addLed(
  clouds: Map<number, number[]>,
  rows: ReadonlyMap<GltfNode, number>,
  positions: Accessor,
  skin: Skin,
  sets: readonly WeightSet[],
): number {
  const joints = skin.listJoints();
  const binds = skin.getInverseBindMatrices();
  const bind = joints.map((_, j) => {
    const matrix = binds && j < binds.getCount() ? binds.getElement(j, new Array<number>(16)) : mat4.create();
    return matrix;
  });
  const clouded = joints.map((joint) => cloudOf(clouds, rows.get(joint)!));
  const places = numbersIn(positions);
  const place = vec3.create();
  let wrong = 0;
  for (let i = 0; i * 3 + 2 < places.length; i += 1) {
    let [sum, most, leader, isRight] = [0, 0, -1, true];
    for (const { joints: jointsOf, weights } of sets) {
      for (let k = 0; k < 4; k += 1) {
        const weight = weights[i * 4 + k] ?? NaN;
        if (!(weight >= 0)) isRight = false;
        if (!(weight > 0)) continue;
        sum += weight;
        const joint = jointsOf[i * 4 + k]!;
        if (joint >= joints.length) isRight = false;
        else if (weight > most) [most, leader] = [weight, joint];
      }
    }
    if (!isRight || Math.abs(sum - 1) > SUM) wrong += 1;
    if (leader < 0) continue;
    vec3.set(place, places[i * 3]!, places[i * 3 + 1]!, places[i * 3 + 2]!);
    vec3.transformMat4(place, place, bind[leader]!);
    if (Number.isFinite(place[0] + place[1] + place[2])) clouded[leader]!.push(place[0], place[1], place[2]);
  }
  return wrong;
}

/** The middle of points, and the first of their principal axes. */
function longestAxis(points: readonly Vector[]): { readonly middle: Vector; readonly along: Vector } {
  const mean = (of: (point: Vector) => number) =>
    points.reduce((sum, point) => sum + of(point), 0) / points.length;
  const middle: Vector = [mean(([x]) => x), mean(([, y]) => y), mean(([, , z]) => z)];
  const spread = Matrix.zeros(3, 3);
  for (let i = 0; i < 3; i += 1)
    for (let j = 0; j < 3; j += 1)
      spread.set(
        i,
        j,
        mean((point) => (point[i]! - middle[i]!) * (point[j]! - middle[j]!)),
      );
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(spread, {
    assumeSymmetric: true,
  });
  const first = realEigenvalues.indexOf(Math.max(...realEigenvalues));
  return { middle, along: eigenvectorMatrix.getColumn(first) as unknown as Vector };
}

/** A capsule along the longest of the cloud's principal axes, as thick at each end as what lies there. */
function solidOf(cloud: readonly number[], node: Node): Solid | null {
  const count = cloud.length / 3;
  if (count < FEWEST) return null;
  const step = Math.max(1, Math.ceil(count / MOST));
  const points: Vector[] = [];
  for (let i = 0; i < count; i += step)
    points.push([
      cloud[i * 3]! * CM_PER_METRE,
      cloud[i * 3 + 1]! * CM_PER_METRE,
      cloud[i * 3 + 2]! * CM_PER_METRE,
    ]);
  const { middle, along } = longestAxis(points);
  const from = (point: Vector) => point.map((part, k) => part - middle[k]!) as unknown as Vector;
  const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const places = points.map((point) => {
    const away = from(point);
    const at = dot(away, along);
    return { at, off: Math.sqrt(Math.max(0, dot(away, away) - at * at)) };
  });
  const sorted = places.map(({ at }) => at).sort((a, b) => a - b);
  const [low, high] = [sorted[0]!, sorted[sorted.length - 1]!];
  const half = (low + high) / 2;
  const size = high - low;
  if (!(size > 0)) return null;
  const radiusOf = (isNear: (at: number) => boolean) => {
    const offs = places.flatMap(({ at, off }) => (isNear(at) ? [off] : [])).sort((a, b) => a - b);
    return offs[Math.min(offs.length - 1, Math.floor(HELD * offs.length))] ?? 0;
  };
  const least = 0.02 * size;
  const [radiusFrom, radiusTo] = [
    Math.max(
      least,
      radiusOf((at) => at <= half),
    ),
    Math.max(
      least,
      radiusOf((at) => at >= half),
    ),
  ];
  const at = (distance: number): Vector =>
    [0, 1, 2].map((k) => middle[k]! + along[k]! * distance) as unknown as Vector;
  const colour = node.side === 'left' ? 'left' : node.side === 'right' ? 'right' : 'body';
  // Round ends reach a little farther than the cloud, whose corners they cut off.
  const [start, end] = [
    low + ROUND * Math.min(radiusFrom, size / 2),
    high - ROUND * Math.min(radiusTo, size / 2),
  ];
  return {
    ...{ kind: 'capsule', from: at(Math.min(start, half)), to: at(Math.max(end, half)) },
    ...{ radiusFrom, radiusTo, colour },
  };
}
