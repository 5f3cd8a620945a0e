/** Angular momentum of a body about its centre of mass, its segments taken as thin rods: m (r × v) summed. In the air nothing can change it. */
import type { Triple } from '../math/euler.ts';

/** A segment by frame: where its two ends are, and where between them its centre lies; a point has both ends in one place. */
export interface Rod {
  /** Of the whole mass, 0…1. */
  readonly share: number;
  /** From the first end to the second, 0…1. */
  readonly centre: number;
  readonly from: readonly Readonly<Triple>[];
  readonly to: readonly Readonly<Triple>[];
}

/** A thin rod turns as half its mass at so much of its length on either side of its centre: l²/12 = r² (physics texts). */
const GYRATION = 1 / Math.sqrt(12);

/**
 * By frame, about the centre of all; masses are shares, so that it is in units² a second for the whole mass.
 * @param rate frames a second; speeds are central differences, at the ends those beside them
 */
export function angularMomentum(rods: readonly Rod[], rate: number): Triple[] {
  const frames = rods[0]?.from.length ?? 0;
  const whole = rods.reduce((sum, { share }) => sum + share, 0);
  if (frames < 3 || !(whole > 0)) return Array.from({ length: frames }, () => [0, 0, 0]);
  const points = rods.flatMap(({ share, centre, from, to }) =>
    [-GYRATION, GYRATION].map((off) => ({
      share: share / whole / 2,
      at: from.map((a, f) => between(a, to[f]!, centre + off)),
    })),
  );
  const middle = Array.from({ length: frames }, (_, f) =>
    points.reduce<Triple>(
      ([x, y, z], { share, at }) => [x + share * at[f]![0], y + share * at[f]![1], z + share * at[f]![2]],
      [0, 0, 0],
    ),
  );
  return middle.map((_, f) => {
    const k = Math.min(Math.max(f, 1), frames - 2);
    const sum: Triple = [0, 0, 0];
    for (const { share, at } of points) {
      const r = minus(at[f]!, middle[f]!);
      const [later, earlier] = [minus(at[k + 1]!, middle[k + 1]!), minus(at[k - 1]!, middle[k - 1]!)];
      const v = minus(later, earlier).map((way) => (way * rate) / 2) as Triple;
      sum[0] += share * (r[1] * v[2] - r[2] * v[1]);
      sum[1] += share * (r[2] * v[0] - r[0] * v[2]);
      sum[2] += share * (r[0] * v[1] - r[1] * v[0]);
    }
    return sum;
  });
}

/** Where it changes most from one frame to the next, and by which part of the greatest that it is. @returns null where nothing turns */
export function greatestChange(
  momentum: readonly Readonly<Triple>[],
): { readonly place: number; readonly part: number } | null {
  const most = Math.max(0, ...momentum.map((of) => Math.hypot(...of)));
  if (!(most > 0)) return null;
  let [place, part] = [0, 0];
  momentum.slice(1).forEach((of, f) => {
    const change = Math.hypot(...minus(of, momentum[f]!)) / most;
    if (change > part) [place, part] = [f + 1, change];
  });
  return { place, part };
}

const minus = (p: Readonly<Triple>, q: Readonly<Triple>): Triple => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
const between = (a: Readonly<Triple>, b: Readonly<Triple>, part: number): Triple => [
  a[0] + part * (b[0] - a[0]),
  a[1] + part * (b[1] - a[1]),
  a[2] + part * (b[2] - a[2]),
];
