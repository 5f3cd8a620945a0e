/**
 * Triangles for the solids that figures are made of, smooth-shaded, in the node's own axes, cm. The stage draws them
 * and glTF files carry them, so that both show the same figure.
 */
import type { Solid, Vector } from './node.ts';

export interface SolidMesh {
  /** Three numbers for each vertex. */
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  /** Three for each triangle, counter-clockwise from outside. */
  readonly indices: Uint16Array;
}

const AROUND = 20;
const CAP_RINGS = 5;

interface Ring {
  /** Place along the axis, radius, and the outward normal's parts along and across. */
  readonly along: number;
  readonly radius: number;
  readonly normalAlong: number;
  readonly normalAcross: number;
}

export function solidMesh(solid: Solid): SolidMesh {
  switch (solid.kind) {
    case 'capsule':
      return capsule(solid.from, solid.to, solid.radiusFrom, solid.radiusTo);
    case 'ellipsoid':
      return ellipsoid(solid.centre, solid.radii);
    case 'box':
      return box(solid.centre, solid.size);
  }
}

/** A cone with round ends that meets both spheres tangentially. */
function capsule(from: Vector, to: Vector, radiusFrom: number, radiusTo: number): SolidMesh {
  const axis: Vector = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const length = Math.hypot(...axis);
  // One sphere inside the other, or no length at all: the larger sphere is the capsule.
  if (length <= Math.abs(radiusFrom - radiusTo) + 1e-9) {
    const [centre, radius] = radiusFrom >= radiusTo ? [from, radiusFrom] : [to, radiusTo];
    return ellipsoid(centre, [radius, radius, radius]);
  }
  const tilt = Math.asin((radiusFrom - radiusTo) / length);
  const rings: Ring[] = [];
  for (let i = 0; i <= CAP_RINGS; i += 1) {
    const angle = -Math.PI / 2 + ((tilt + Math.PI / 2) * i) / CAP_RINGS;
    rings.push(sphereRing(0, radiusFrom, angle));
  }
  for (let i = 0; i <= CAP_RINGS; i += 1) {
    const angle = tilt + ((Math.PI / 2 - tilt) * i) / CAP_RINGS;
    rings.push(sphereRing(length, radiusTo, angle));
  }
  return lathe(rings, from, [axis[0] / length, axis[1] / length, axis[2] / length]);
}

const sphereRing = (centre: number, radius: number, angle: number): Ring => ({
  along: centre + radius * Math.sin(angle),
  radius: radius * Math.cos(angle),
  normalAlong: Math.sin(angle),
  normalAcross: Math.cos(angle),
});

function ellipsoid(centre: Vector, radii: Vector): SolidMesh {
  const rings = Array.from({ length: 2 * CAP_RINGS + 3 }, (_, i) =>
    sphereRing(0, 1, -Math.PI / 2 + (Math.PI * i) / (2 * CAP_RINGS + 2)),
  );
  const mesh = lathe(rings, [0, 0, 0], [0, 1, 0]);
  for (let v = 0; v < mesh.positions.length; v += 3) {
    const normal = [0, 1, 2].map((k) => mesh.normals[v + k]! / radii[k]!);
    const length = Math.hypot(...normal) || 1;
    for (let k = 0; k < 3; k += 1) {
      mesh.positions[v + k] = centre[k]! + mesh.positions[v + k]! * radii[k]!;
      mesh.normals[v + k] = normal[k]! / length;
    }
  }
  return mesh;
}

/** Rings of vertices about an axis, joined by triangles. */
function lathe(rings: readonly Ring[], origin: Vector, axis: Vector): SolidMesh {
  const side: Vector = Math.abs(axis[1]) < 0.9 ? unitCross([0, 1, 0], axis) : unitCross([1, 0, 0], axis);
  const other = unitCross(axis, side);
  const positions = new Float32Array(rings.length * AROUND * 3);
  const normals = new Float32Array(positions.length);
  rings.forEach((ring, r) => {
    for (let a = 0; a < AROUND; a += 1) {
      const angle = (2 * Math.PI * a) / AROUND;
      for (let k = 0; k < 3; k += 1) {
        const out = side[k]! * Math.cos(angle) + other[k]! * Math.sin(angle);
        const at = (r * AROUND + a) * 3 + k;
        positions[at] = origin[k]! + axis[k]! * ring.along + out * ring.radius;
        normals[at] = axis[k]! * ring.normalAlong + out * ring.normalAcross;
      }
    }
  });
  const indices: number[] = [];
  for (let r = 0; r + 1 < rings.length; r += 1) {
    for (let a = 0; a < AROUND; a += 1) {
      const next = (a + 1) % AROUND;
      const [p, q, s, t] = [r * AROUND + a, r * AROUND + next, (r + 1) * AROUND + a, (r + 1) * AROUND + next];
      // The rings at the poles have no width: half of their triangles would be slivers.
      if (rings[r]!.radius > 1e-9) indices.push(p, q, t);
      if (rings[r + 1]!.radius > 1e-9) indices.push(p, t, s);
    }
  }
  return { positions, normals, indices: Uint16Array.from(indices) };
}

function unitCross(a: Vector, b: Vector): Vector {
  const v: Vector = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const length = Math.hypot(...v) || 1;
  return [v[0] / length, v[1] / length, v[2] / length];
}

function box(centre: Vector, size: Vector): SolidMesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const indices: number[] = [];
  for (let axis = 0; axis < 3; axis += 1) {
    for (const sign of [-1, 1]) {
      const start = positions.length / 3;
      const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
      for (const [a, b] of [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const) {
        const place = [0, 0, 0];
        const normal = [0, 0, 0];
        place[axis] = centre[axis]! + (sign * size[axis]!) / 2;
        place[u] = centre[u]! + (a * size[u]!) / 2;
        place[v] = centre[v]! + (b * size[v]!) / 2;
        normal[axis] = sign;
        positions.push(...place);
        normals.push(...normal);
      }
      indices.push(...(sign > 0 ? [0, 1, 2, 0, 2, 3] : [0, 2, 1, 0, 3, 2]).map((i) => start + i));
    }
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    indices: Uint16Array.from(indices),
  };
}

/** The colours of solids, linear red, green, blue; themes may show others. */
export const SOLID_COLOURS: Readonly<Record<string, readonly [number, number, number]>> = {
  skin: [0.72, 0.42, 0.28],
  flour: [0.86, 0.82, 0.74],
  cloth: [0.1, 0.17, 0.24],
  apron: [0.8, 0.74, 0.62],
  crust: [0.52, 0.24, 0.08],
  white: [0.9, 0.88, 0.84],
  ink: [0.02, 0.02, 0.025],
  wood: [0.4, 0.22, 0.1],
  metal: [0.42, 0.43, 0.45],
  body: [0.5, 0.44, 0.38],
  left: [0.09, 0.27, 0.43],
  right: [0.6, 0.24, 0.05],
};
