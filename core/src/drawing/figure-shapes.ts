/**
 * A figure as flat shapes: each of its solids becomes a rounded one. Cards, pose columns and the touchable figure draw them on a canvas, sheets as paths; what is farther away
 * is drawn first (`far-to-near.ts`).
 */
import type { Node, Solid } from '../rig/node.ts';
import type { Overlapping } from './far-to-near.ts';

/** What a shape is drawn with: a part of a canvas's path. */
export interface Pen {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  arc(x: number, y: number, radius: number, from: number, to: number): void;
  ellipse(x: number, y: number, long: number, short: number, turn: number, from: number, to: number): void;
  closePath(): void;
}

export interface FlatView {
  /** Turn about the upright axis, degrees; 0 looks at the face. */
  readonly turn: number;
  /** Pixels per cm, and the pixel where (0, 0, 0) lies. */
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

export interface Shape extends Overlapping {
  readonly draw: (pen: Pen) => void;
  readonly colour: string;
}

/** A point of the world on the canvas; z is towards the eye. */
export function project(view: FlatView, x: number, y: number, z: number): [number, number, number] {
  const angle = (view.turn * Math.PI) / 180;
  const cosine = Math.cos(angle);
  const sine = Math.sin(angle);
  return [view.x + (x * cosine - z * sine) * view.scale, view.y - y * view.scale, x * sine + z * cosine];
}

type Matrices = ArrayLike<number>;

function apply(
  matrices: Matrices,
  at: number,
  v: readonly [number, number, number],
): [number, number, number] {
  const row = (i: number) =>
    matrices[i]! * v[0] + matrices[i + 4]! * v[1] + matrices[i + 8]! * v[2] + matrices[i + 12]!;
  return [row(at), row(at + 1), row(at + 2)];
}

/** All solids as shapes on a picture. */
export const shapesOf = (
  nodes: readonly Pick<Node, 'solids'>[],
  matrices: Matrices,
  view: FlatView,
): readonly Shape[] =>
  nodes.flatMap((node, i) => node.solids.map((solid) => shapeOf(solid, matrices, i * 16, view)));

function shapeOf(solid: Solid, matrices: Matrices, at: number, view: FlatView): Shape {
  switch (solid.kind) {
    case 'capsule':
      return capsule(solid, matrices, at, view);
    case 'ellipsoid':
      return ellipse(solid.centre, solid.radii, solid.colour, matrices, at, view);
    case 'box':
      return box(solid, matrices, at, view);
  }
}

function capsule(
  solid: Extract<Solid, { kind: 'capsule' }>,
  matrices: Matrices,
  at: number,
  view: FlatView,
): Shape {
  const [x0, y0, z0] = project(view, ...apply(matrices, at, solid.from));
  const [x1, y1, z1] = project(view, ...apply(matrices, at, solid.to));
  const r0 = solid.radiusFrom * view.scale;
  const r1 = solid.radiusTo * view.scale;
  const angle = Math.atan2(y1 - y0, x1 - x0);
  const length = Math.hypot(x1 - x0, y1 - y0);
  const tilt = length > Math.abs(r0 - r1) ? Math.acos((r0 - r1) / length) : Math.PI / 2;
  const [dx, dy] = [x1 - x0, y1 - y0];
  return {
    depth: (z0 + z1) / 2 + Math.max(solid.radiusFrom, solid.radiusTo) * 0.5,
    far: Math.min(z0 - solid.radiusFrom, z1 - solid.radiusTo),
    near: Math.max(z0 + solid.radiusFrom, z1 + solid.radiusTo),
    left: Math.min(x0 - r0, x1 - r1),
    right: Math.max(x0 + r0, x1 + r1),
    top: Math.min(y0 - r0, y1 - r1),
    bottom: Math.max(y0 + r0, y1 + r1),
    // As far along it as the place is, or seen from its end the end that is nearer.
    nearAt: (x, y) => {
      const along = length < 1e-6 ? (z1 > z0 ? 1 : 0) : ((x - x0) * dx + (y - y0) * dy) / length ** 2;
      const part = Math.min(Math.max(along, 0), 1);
      const radius = solid.radiusFrom + part * (solid.radiusTo - solid.radiusFrom);
      const off = Math.hypot(x - x0 - part * dx, y - y0 - part * dy) / view.scale;
      return off > radius ? null : z0 + part * (z1 - z0) + Math.sqrt(radius * radius - off * off);
    },
    colour: solid.colour,
    draw: (pen) => {
      pen.arc(x0, y0, r0, angle + tilt, angle - tilt + 2 * Math.PI);
      pen.arc(x1, y1, r1, angle - tilt, angle + tilt);
      pen.closePath();
    },
  };
}

/** The outline of an ellipsoid: an ellipse, from the projected half-axes (singular values of a 2×3 matrix). */
function ellipse(
  centre: readonly [number, number, number],
  radii: readonly [number, number, number],
  colour: string,
  matrices: Matrices,
  at: number,
  view: FlatView,
): Shape {
  const middle = apply(matrices, at, centre);
  const [x, y, z] = project(view, ...middle);
  let a = 0;
  let b = 0;
  let c = 0;
  const axes: [number, number, number][] = [];
  let deep = 0;
  for (let axis = 0; axis < 3; axis += 1) {
    const tip = [...centre] as [number, number, number];
    tip[axis]! += radii[axis]!;
    const [tx, ty, tz] = project(view, ...apply(matrices, at, tip));
    a += (tx - x) ** 2;
    b += (tx - x) * (ty - y);
    c += (ty - y) ** 2;
    deep += (tz - z) ** 2;
    axes.push([tx - x, ty - y, tz - z]);
  }
  const area = a * c - b * b;
  const [xz, yz] = axes.reduce(([m, n], [ax, ay, az]) => [m + ax * az, n + ay * az], [0, 0]);
  // Over a place of the canvas: how its middle surface leans there, and the half of it that is nearer; what of the depth no way over the canvas explains.
  const [leanX, leanY] = [(c * xz - b * yz) / area, (a * yz - b * xz) / area];
  const rest = Math.max(0, deep - leanX * xz - leanY * yz);
  const nearAt = (px: number, py: number) => {
    const dx = px - x;
    const dy = py - y;
    const within = (c * dx * dx - 2 * b * dx * dy + a * dy * dy) / area;
    return within <= 1 ? z + leanX * dx + leanY * dy + Math.sqrt(rest * (1 - within)) : null;
  };
  const half = Math.sqrt(((a - c) / 2) ** 2 + b * b);
  const long = Math.sqrt(Math.max((a + c) / 2 + half, 0));
  const short = Math.sqrt(Math.max((a + c) / 2 - half, 0));
  const turn = Math.atan2(2 * b, a - c) / 2;
  return {
    depth: z + Math.sqrt(deep) * 0.5,
    far: z - Math.sqrt(deep),
    near: z + Math.sqrt(deep),
    left: x - Math.sqrt(a),
    right: x + Math.sqrt(a),
    top: y - Math.sqrt(c),
    bottom: y + Math.sqrt(c),
    nearAt,
    colour,
    draw: (pen) => pen.ellipse(x, y, long, short, turn, 0, 2 * Math.PI),
  };
}

function box(solid: Extract<Solid, { kind: 'box' }>, matrices: Matrices, at: number, view: FlatView): Shape {
  const corners = [-1, 1].flatMap((sx) =>
    [-1, 1].flatMap((sy) =>
      [-1, 1].map((sz) =>
        project(
          view,
          ...apply(matrices, at, [
            solid.centre[0] + (sx * solid.size[0]) / 2,
            solid.centre[1] + (sy * solid.size[1]) / 2,
            solid.centre[2] + (sz * solid.size[2]) / 2,
          ]),
        ),
      ),
    ),
  );
  const outline = hull(corners.map(([x, y]) => [x, y]));
  const middle = corners.reduce((sum, [, , z]) => sum + z, 0) / 8;
  return {
    depth: middle,
    far: middle,
    near: middle,
    left: Math.min(...corners.map(([x]) => x)),
    right: Math.max(...corners.map(([x]) => x)),
    top: Math.min(...corners.map(([, y]) => y)),
    bottom: Math.max(...corners.map(([, y]) => y)),
    // Flat pieces of scenery: as deep as they are in their middle.
    nearAt: () => middle,
    colour: solid.colour,
    draw: (pen) => {
      outline.forEach(([x, y], i) => (i === 0 ? pen.moveTo(x, y) : pen.lineTo(x, y)));
      pen.closePath();
    },
  };
}

/** The convex outline of points (Andrew's monotone chain, 1979). */
function hull(points: [number, number][]): [number, number][] {
  const sorted = [...points].sort((p, q) => p[0] - q[0] || p[1] - q[1]);
  const half = (list: [number, number][]) => {
    const chain: [number, number][] = [];
    for (const point of list) {
      while (chain.length > 1 && turns(chain[chain.length - 2]!, chain[chain.length - 1]!, point) <= 0)
        chain.pop();
      chain.push(point);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

const turns = (o: [number, number], a: [number, number], b: [number, number]) =>
  (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);

/** The box that the figure fills on screen in a pose, for fitting it into a picture. */
export function flatExtent(nodes: readonly Pick<Node, 'solids'>[], poses: readonly Matrices[], turn: number) {
  const view: FlatView = { turn, scale: 1, x: 0, y: 0 };
  const extent = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
  for (const matrices of poses) {
    nodes.forEach((node, i) => {
      for (const solid of node.solids) {
        const radius = radiusOf(solid);
        for (const place of solid.kind === 'capsule' ? [solid.from, solid.to] : [solid.centre]) {
          const [x, y] = project(view, ...apply(matrices, i * 16, place));
          extent.left = Math.min(extent.left, x - radius);
          extent.right = Math.max(extent.right, x + radius);
          extent.top = Math.min(extent.top, y - radius);
          extent.bottom = Math.max(extent.bottom, y + radius);
        }
      }
    });
  }
  if (!Number.isFinite(extent.left)) return { left: -50, right: 50, top: -100, bottom: 0 };
  const margin = Math.max(extent.right - extent.left, extent.bottom - extent.top) * 0.03;
  return {
    left: extent.left - margin,
    right: extent.right + margin,
    top: extent.top - margin,
    bottom: extent.bottom + margin,
  };
}

/** Half of the widest way through a solid, or through an end of a capsule. */
function radiusOf(solid: Solid): number {
  if (solid.kind === 'capsule') return Math.max(solid.radiusFrom, solid.radiusTo);
  return solid.kind === 'box' ? Math.max(...solid.size) / 2 : Math.max(...solid.radii);
}

/** The view that fits an extent into a picture. */
export function fitView(
  extent: ReturnType<typeof flatExtent>,
  width: number,
  height: number,
  turn: number,
): FlatView {
  const scale = Math.min(width / (extent.right - extent.left), height / (extent.bottom - extent.top));
  return {
    turn,
    scale,
    x: width / 2 - ((extent.left + extent.right) / 2) * scale,
    y: height / 2 - ((extent.top + extent.bottom) / 2) * scale,
  };
}
