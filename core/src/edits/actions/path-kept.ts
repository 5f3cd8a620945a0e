/** A flipped action whose way over the ground is not flipped: it goes where it went, and only the body is mirrored on it. */
import type { Curve } from '../../curve/curve.ts';
import { EMPTY_CURVE } from '../../curve/curve.ts';
import { CurveReader } from '../../curve/evaluate.ts';
import { framesOf } from '../../base/frame-range.ts';
import { rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { movedPlace, stanceOf } from '../../layers/placements/ground.ts';
import type { GroundMove } from '../../layers/placements/ground.ts';
import { carriedCurves, movedRoots } from '../placements/carry-on.ts';

type Curves = ReadonlyMap<ChannelId, Curve>;

const SIX = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'] as const;
/** Seconds, of the kernel below: what a body sways by from step to step, about once a second, is no way that it goes, and stays with the body. */
const SWAY = 0.55;

/** @param flipped, before its curves as flipped and as they were, from frame 0 @param length frames @param rate frames a second */
export function pathKept(shot: Shot, flipped: Curves, before: Curves, length: number, rate: number): Curves {
  const roots = movedRoots(shot, flipped);
  const main = rigOf(shot).indexOf(roots[0] ?? '');
  if (main < 0) return flipped;
  const frames = framesOf({ start: 0, end: Math.max(1, Math.ceil(length)) });
  const sway = SWAY * rate;
  const [was, is] = [before, flipped].map((curves) => smoothed(wayOf(shot, main, curves, frames), sway)) as [
    Way[],
    Way[],
  ];
  const moves = was.map((to, k): GroundMove => {
    const from = is[k]!;
    const turn = to.heading - from.heading;
    const [x, , z] = movedPlace({ turn, x: 0, z: 0 }, [from.x, 0, from.z]);
    return { turn, x: to.x - x, z: to.z - z };
  });
  const moveAt = (frame: number): GroundMove => {
    const at = Math.min(Math.max(frame, 0), moves.length - 1);
    const [p, q] = [moves[Math.floor(at)]!, moves[Math.ceil(at)]!];
    const mix = (a: number, b: number) => a + (at % 1) * (b - a);
    return { turn: mix(p.turn, q.turn), x: mix(p.x, q.x), z: mix(p.z, q.z) };
  };
  return carriedCurves(shot, roots, flipped, moveAt);
}

/** cm, and degrees about the upright that go on over a whole turn. */
interface Way {
  readonly x: number;
  readonly z: number;
  readonly heading: number;
}

function wayOf(shot: Shot, row: number, curves: Curves, frames: Float64Array): Way[] {
  const { id, rest, order } = rigOf(shot).nodes[row]!;
  const readers = SIX.map((name) => new CurveReader(curves.get(`${id}.${name}`) ?? EMPTY_CURVE));
  let last = 0;
  return Array.from(frames, (frame): Way => {
    const { place, turn } = stanceOf(
      readers.map((one) => one.at(frame)),
      rest,
      order,
    );
    const heading = (Math.atan2(turn[1], turn[3]) * 360) / Math.PI;
    last = heading - 360 * Math.round((heading - last) / 360);
    return { x: place[0], z: place[2], heading: last };
  });
}

/** With a Gaussian of the fourth order (Wand & Jones, Kernel Smoothing, 2.8; from memory), which leaves what is bent evenly where it is. Past its ends a way goes on turned about them. */
function smoothed(ways: readonly Way[], width: number): Way[] {
  const reach = Math.ceil(5 * width);
  const end = ways.length - 1;
  const at = (k: number, of: keyof Way): number => {
    if (k < 0) return 2 * ways[0]![of] - ways[Math.min(-k, end)]![of];
    if (k > end) return 2 * ways[end]![of] - ways[Math.max(2 * end - k, 0)]![of];
    return ways[k]![of];
  };
  const weights = Array.from({ length: 2 * reach + 1 }, (_, k) => {
    const square = ((k - reach) / width) ** 2;
    return (3 - square) * Math.exp(-square / 2);
  });
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = (k: number, of: keyof Way) =>
    weights.reduce((sum, weight, i) => sum + weight * at(k + i - reach, of), 0) / all;
  return ways.map((_, k) => ({ x: mean(k, 'x'), z: mean(k, 'z'), heading: mean(k, 'heading') }));
}
