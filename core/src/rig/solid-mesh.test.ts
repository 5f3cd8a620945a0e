/**
 * Solids against their formulas: volumes of ellipsoid, box and tapered capsule, and every vertex on the surface (Weisstein, MathWorld,
 * “Ellipsoid”, “Conical Frustum”, “Spherical Cap”; from memory).
 */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Solid, Vector } from './node.ts';
import { solidMesh } from './solid-mesh.ts';

const place = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -20, max: 20, noNaN: true }))) as fc.Arbitrary<
  [number, number, number]
>;
const size = fc.double({ min: 0.5, max: 12, noNaN: true });
const ellipsoids = fc.record({
  kind: fc.constant('ellipsoid' as const),
  centre: place,
  radii: fc.tuple(size, size, size),
  colour: fc.constant('skin'),
});
const boxes = fc.record({
  kind: fc.constant('box' as const),
  centre: place,
  size: fc.tuple(size, size, size),
  colour: fc.constant('wood'),
});
const capsules = fc.record({
  kind: fc.constant('capsule' as const),
  from: place,
  to: place,
  radiusFrom: size,
  radiusTo: size,
  colour: fc.constant('cloth'),
});

const minus = (a: ArrayLike<number>, b: ArrayLike<number>) => [0, 1, 2].map((k) => a[k]! - b[k]!);
const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, x, k) => sum + x * b[k]!, 0);
const cross = (a: readonly number[], b: readonly number[]) => [
  a[1]! * b[2]! - a[2]! * b[1]!,
  a[2]! * b[0]! - a[0]! * b[2]!,
  a[0]! * b[1]! - a[1]! * b[0]!,
];

function meshOf(solid: Solid) {
  const { positions, normals, indices } = solidMesh(solid);
  const three = (from: Float32Array, i: number) => Array.from(from.subarray(i * 3, i * 3 + 3));
  const vertices = Array.from({ length: positions.length / 3 }, (_, i) => ({
    at: three(positions, i),
    normal: three(normals, i),
  }));
  const triangles = Array.from(
    { length: indices.length / 3 },
    (_, i) => [0, 1, 2].map((k) => indices[i * 3 + k]!) as [number, number, number],
  );
  return { vertices, triangles };
}

/** By the divergence theorem; positive only where triangles turn counter-clockwise from outside. */
function volumeOf({ vertices, triangles }: ReturnType<typeof meshOf>, about: Vector): number {
  return triangles.reduce((sum, corners) => {
    const [a, b, c] = corners.map((i) => minus(vertices[i]!.at, about)) as [number[], number[], number[]];
    return sum + dot(a, cross(b, c)) / 6;
  }, 0);
}

/** Every edge is walked once each way, by place: nothing gapes and nothing lies double. */
function openEdges({ vertices, triangles }: ReturnType<typeof meshOf>): number {
  const name = (i: number) => vertices[i]!.at.map((x) => Math.round(x * 2000)).join(' ');
  const walked = new Map<string, number>();
  for (const corners of triangles)
    corners.forEach((from, k) => {
      const [a, b] = [name(from), name(corners[(k + 1) % 3]!)];
      if (a === b) return;
      const key = a < b ? `${a}|${b}` : `${b}|${a}`;
      walked.set(key, (walked.get(key) ?? 0) + (a < b ? 1 : -1));
    });
  return [...walked.values()].filter((count) => count !== 0).length;
}

const worst = (gaps: readonly number[]) => Math.max(...gaps.map(Math.abs));

function checkNormals({ vertices, triangles }: ReturnType<typeof meshOf>): void {
  expect(worst(vertices.map(({ normal }) => Math.hypot(...normal) - 1))).toBeLessThan(1e-5);
  let inward = 0;
  for (const corners of triangles) {
    const [a, b, c] = corners.map((i) => vertices[i]!) as [
      { at: number[]; normal: number[] },
      { at: number[]; normal: number[] },
      { at: number[]; normal: number[] },
    ];
    const face = cross(minus(b.at, a.at), minus(c.at, a.at));
    // Slivers at the poles have no direction in single precision.
    if (Math.hypot(...face) > 1e-3)
      for (const { normal } of [a, b, c]) if (!(dot(face, normal) > 0)) inward += 1;
  }
  expect(inward).toBe(0);
}

describe('an ellipsoid', () => {
  test('lies on its surface with its gradient as normal, closed, a little less than its volume', () => {
    fc.assert(
      fc.property(ellipsoids, (solid) => {
        const mesh = meshOf(solid);
        const gaps = mesh.vertices.flatMap(({ at, normal }) => {
          const away = minus(at, solid.centre).map((x, k) => x / solid.radii[k]!);
          const gradient = away.map((x, k) => x / solid.radii[k]!);
          return [Math.hypot(...away) - 1, dot(gradient, normal) / Math.hypot(...gradient) - 1];
        });
        expect(worst(gaps)).toBeLessThan(1e-4);
        checkNormals(mesh);
        expect(openEdges(mesh)).toBe(0);
        const exact = (4 / 3) * Math.PI * solid.radii.reduce((a, b) => a * b);
        const share = volumeOf(mesh, solid.centre) / exact;
        expect(share).toBeLessThan(1);
        expect(share).toBeGreaterThan(0.94);
      }),
      { numRuns: 40 },
    );
  });
});

test('a box has just its volume, square corners and six flat sides', () => {
  fc.assert(
    fc.property(boxes, (solid) => {
      const mesh = meshOf(solid);
      expect(mesh.vertices).toHaveLength(24);
      expect(mesh.triangles).toHaveLength(12);
      const gaps = mesh.vertices.flatMap(({ at }) =>
        minus(at, solid.centre).map((x, k) => Math.abs(x) - solid.size[k]! / 2),
      );
      expect(worst(gaps)).toBeLessThan(1e-4);
      checkNormals(mesh);
      expect(openEdges(mesh)).toBe(0);
      const exact = solid.size.reduce((a, b) => a * b);
      expect(volumeOf(mesh, solid.centre) / exact).toBeCloseTo(1, 4);
    }),
    { numRuns: 40 },
  );
});

describe('a capsule', () => {
  const lengthOf = ({ from, to }: { from: Vector; to: Vector }) => Math.hypot(...minus(to, from));

  test('keeps within both spheres and the cone that touches them, closed, near its volume', () => {
    fc.assert(
      fc.property(capsules, (solid) => {
        const length = lengthOf(solid);
        fc.pre(length > Math.abs(solid.radiusFrom - solid.radiusTo) + 0.1);
        const mesh = meshOf(solid);
        const sine = (solid.radiusFrom - solid.radiusTo) / length;
        const cosine = Math.sqrt(1 - sine * sine);
        const gaps = mesh.vertices.map(({ at, normal }) => {
          // Each vertex is on one of the spheres, and its normal is that sphere's.
          const [near, far] = [
            { centre: solid.from, radius: solid.radiusFrom },
            { centre: solid.to, radius: solid.radiusTo },
          ].map(({ centre, radius }) =>
            Math.hypot(
              ...minus(
                minus(at, centre),
                normal.map((x) => x * radius),
              ),
            ),
          );
          return Math.min(near!, far!);
        });
        expect(worst(gaps)).toBeLessThan(1e-4);
        checkNormals(mesh);
        expect(openEdges(mesh)).toBe(0);
        // Caps of both spheres and the frustum between the circles where the cone touches them.
        const cap = (radius: number, height: number) =>
          (Math.PI * height * height * (3 * radius - height)) / 3;
        const [a, b] = [solid.radiusFrom * cosine, solid.radiusTo * cosine];
        const high = length - solid.radiusFrom * sine + solid.radiusTo * sine;
        const exact =
          cap(solid.radiusFrom, solid.radiusFrom * (1 + sine)) +
          cap(solid.radiusTo, solid.radiusTo * (1 - sine)) +
          (Math.PI * high * (a * a + a * b + b * b)) / 3;
        const share = volumeOf(mesh, solid.from) / exact;
        expect(share).toBeLessThan(1.0001);
        expect(share).toBeGreaterThan(0.93);
      }),
      { numRuns: 60 },
    );
  });

  test.each([
    ['no length', 3, 2, 0],
    ['the first within the second', 1, 5, 2],
    ['the second within the first', 5, 1, 2],
  ])('with %s is the larger sphere', (_, radiusFrom, radiusTo, length) => {
    const to: Vector = [1 + length, 2, 3];
    const mesh = meshOf({ kind: 'capsule', from: [1, 2, 3], to, radiusFrom, radiusTo, colour: 'skin' });
    const centre = radiusFrom >= radiusTo ? [1, 2, 3] : to;
    const radius = Math.max(radiusFrom, radiusTo);
    const gaps = mesh.vertices.map(({ at }) => Math.hypot(...minus(at, centre)) - radius);
    expect(worst(gaps)).toBeLessThan(1e-4);
  });

  test('twenty vertices around, five rings on each cap', () => {
    const mesh = meshOf({
      kind: 'capsule',
      from: [0, 0, 0],
      to: [0, 9, 0],
      radiusFrom: 2,
      radiusTo: 1,
      colour: 'skin',
    });
    expect(mesh.vertices).toHaveLength(20 * 12);
    // Two triangles for each of the 11 strips, but for the two at the poles, which have one.
    expect(mesh.triangles).toHaveLength(20 * (2 * 11 - 2));
  });
});
