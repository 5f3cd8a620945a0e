/** Goals for limbs: where they and their poles must lie so that the joints stay where they are. */
import { mat4 } from 'gl-matrix';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { conjugate, multiply, rotate, rotationBetween, slerp } from '../../math/quaternion.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { worldAt, worldInto, worldsOver } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { partFor } from '../../rig/influence.ts';
import { newWorldPose } from '../../rig/pose.ts';
import type { Rig } from '../../rig/rig.ts';
import type { KeepWishes } from './keep-motion.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import type { WorldPose } from '../../rig/relations/relation.ts';
import { placeOn, seatFrom } from '../../rig/relations/seat.ts';
import type { Standing } from '../../rig/relations/seat.ts';

const place = (pose: WorldPose, row: number): Triple => [
  pose.matrices[row * 16 + 12]!,
  pose.matrices[row * 16 + 13]!,
  pose.matrices[row * 16 + 14]!,
];

/** Where goals and poles must lie, by the limb's place in the list and the frame. */
export interface LimbGoals {
  readonly goalAt: (limb: number, frame: number) => Standing;
  readonly poleAt: (limb: number, frame: number) => Standing;
}

/** Joints stray by more than the goals that lead them: fits of goals begin with this part of what is asked. */
export const GOALS_BEGIN = { distance: 0.35, angle: 0.7 };

/** Frames that are kept: all nodes that are written ask for the same. */
const MOST_KEPT = 150_000;
/** Numbers that are kept for a limb and a frame: the turn of its goal, the goal's place, the pole's. */
const WIDTH = 10;

/**
 * Where goals and poles must lie by frame so that the joints stay where they are: for each limb in the order of `chains`. The world is worked out once for a frame,
 * whoever asks. A limb that is straight has no plane: its pole lies where its hinge would bend it, unless that is the other way than it bends before and after; then it goes
 * over from the one to the other. Its goal lies a little out of its reach: short of straight by a hair, a middle joint stands aside by the root of that hair, so that a goal
 * fitted to the end itself would bend it.
 * @param wishes how near the joints are to be kept: a middle joint that is nearer to the straight line than that leaves counts as on it
 */
export function limbGoals(
  shot: Shot,
  chains: readonly CompiledChain[],
  range: FrameRange,
  { distance, angle }: KeepWishes,
): LimbGoals {
  // On the wrong side of the line it is twice as far off, and its bones, of about half the length, are turned by that.
  const nearOf = (length: number) => Math.min(distance / 2, 0.15 * ((angle * Math.PI) / 180) * length);
  const wayOf = ({ aside, length }: Bend): Triple | null => {
    const size = Math.hypot(...aside);
    return size > nearOf(length) ? scaled(aside, 1 / size) : null;
  };
  /** 1 on the straight line, 0 as soon as it counts as bent. */
  const straightness = ({ aside, length }: Bend) => Math.max(0, 1 - Math.hypot(...aside) / nearOf(length));
  const rig = rigOf(shot);
  const grid = framesOf(range);
  // The ways of the poles on whole frames, of straight limbs null at first, and those of their hinges.
  const ways: (Triple | null)[][] = chains.map(() => []);
  const hinged: Triple[][] = chains.map(() => []);
  const straight: number[][] = chains.map(() => []);
  const part = partFor(
    rig,
    chains.flatMap(({ root, middle, end }) => [root, middle, end]),
  );
  for (const { pose } of worldsOver(shot, Float64Array.from(grid), part))
    chains.forEach((chain, k) => {
      const bend = bendOf(chain, pose);
      ways[k]!.push(wayOf(bend));
      straight[k]!.push(straightness(bend));
      hinged[k]!.push(hingeWay(chain, pose));
    });
  const settled = chains.map((_, k) =>
    filledIn(ways[k]!).map((way, i) => {
      const hinge = hinged[k]![i]!;
      return !way || (!ways[k]![i] && dot(way, hinge) > 0) ? hinge : way;
    }),
  );
  // How far out of reach its goal lies, cm: where it stays straight, not where it only goes through. What stretches goes where its goal is.
  const beyond = chains.map(({ stretch }, k) =>
    straight[k]!.map((now, i, own) =>
      stretch ? 0 : (distance / 4) * Math.min(own[i - 1] ?? now, now, own[i + 1] ?? now),
    ),
  );
  const scene = { values: new Float64Array(rig.channels.length), pose: newWorldPose(rig) };
  const known = new Map<number, Float64Array>();
  const packed = (frame: number): Float64Array => {
    const found = known.get(frame);
    if (found) return found;
    worldInto(shot, frame, scene.values, scene.pose, false, part);
    const { pose } = scene;
    const made = new Float64Array(chains.length * WIDTH);
    chains.forEach((chain, k) => {
      const bend = bendOf(chain, pose);
      const at = Math.min(Math.max(frame - range.start, 0), grid.length - 1);
      const [before, after] = [Math.floor(at), Math.ceil(at)] as const;
      const way =
        wayOf(bend) ?? flattened(between(settled[k]![before]!, settled[k]![after]!, at % 1), bend.along);
      made.set(multiply(seatFrom(pose, chain.end).turn, conjugate(chain.endTurn)), k * WIDTH);
      const past = beyond[k]![before]! + (beyond[k]![after]! - beyond[k]![before]!) * (at % 1);
      made.set(plus(place(pose, chain.end), scaled(bend.along, past)), k * WIDTH + 4);
      made.set(poleBeside(bend, way), k * WIDTH + 7);
    });
    if (known.size >= MOST_KEPT) known.clear();
    known.set(frame, made);
    return made;
  };
  const tripleAt = (numbers: Float64Array, from: number): Triple => [
    numbers[from]!,
    numbers[from + 1]!,
    numbers[from + 2]!,
  ];
  return {
    goalAt: (limb, frame) => {
      const numbers = packed(frame);
      const at = tripleAt(numbers, limb * WIDTH + 4);
      return { at, turn: [...tripleAt(numbers, limb * WIDTH), numbers[limb * WIDTH + 3]!] };
    },
    poleAt: (limb, frame) => ({ at: tripleAt(packed(frame), limb * WIDTH + 7), turn: UNTURNED }),
  };
}

/** The controls that move goal and pole, and where each must lie; what hangs on others is moved by the nearest one that can be. */
export function goalMovers(
  shot: Shot,
  chains: readonly CompiledChain[],
  range: FrameRange,
  asked: KeepWishes,
): ReadonlyMap<string, (frame: number) => Standing> {
  const rig = rigOf(shot);
  const goals = limbGoals(shot, chains, range, asked);
  const wishes = chains.flatMap((chain, k) => [
    { row: chain.target, at: (frame: number) => goals.goalAt(k, frame) },
    { row: chain.pole, at: (frame: number) => goals.poleAt(k, frame) },
  ]);
  return new Map(
    wishes.flatMap(({ row, at }) => {
      const mover = moverOf(rig, row);
      if (mover < 0) return [];
      const { id } = rig.nodes[mover]!;
      return [[id, (frame: number) => carriedTo(at(frame), frame, shot, row, mover)] as const];
    }),
  );
}

/** The nearest at or above a row that can be moved, or −1. */
export function moverOf(rig: Rig, from: number): number {
  let row = from;
  while (row >= 0 && !rig.nodes[row]!.channels.includes('tx')) row = rig.parents[row]!;
  return row;
}

/** Where a control must lie so that what hangs on it lies there. */
function carriedTo(wish: Standing, frame: number, shot: Shot, row: number, mover: number): Standing {
  if (row === mover) return wish;
  const pose = worldAt(shot, frame);
  const [hanging, moving] = [seatFrom(pose, row), seatFrom(pose, mover)];
  const inverse = mat4.invert(new Float64Array(16), moving.matrix);
  if (!inverse) return { at: place(pose, mover), turn: [...moving.turn] as Quaternion };
  const turn = multiply(wish.turn, multiply(conjugate(hanging.turn), moving.turn));
  // Where it hangs in the mover's axes, turned as the mover will be: stretched and mirrored as it is now.
  const { scale } = rigOf(shot).nodes[mover]!.rest;
  const [x, y, z] = placeOn({ matrix: Float64Array.from(inverse), turn: moving.turn }, place(pose, row));
  const turned = rotate(multiply(conjugate(moving.turn), turn), x * scale[0], y * scale[1], z * scale[2]);
  const there = placeOn(moving, turned.map((value, axis) => value / scale[axis]!) as Triple);
  return { at: plus(wish.at as Triple, minus(place(pose, mover), there)), turn };
}

const UNTURNED: Quaternion = [0, 0, 0, 1];

/** How a limb bends: where its middle joint lies, the line from its root to its end, and how far aside of that the joint is, cm. */
interface Bend {
  readonly middle: Triple;
  readonly along: Triple;
  readonly aside: Triple;
  readonly length: number;
}

function bendOf({ root, middle, end }: CompiledChain, pose: WorldPose): Bend {
  const [a, b, c] = [place(pose, root), place(pose, middle), place(pose, end)];
  const reach = minus(c, a);
  const along = scaled(reach, 1 / (Math.hypot(...reach) || 1));
  const upper = minus(b, a);
  return {
    middle: b,
    along,
    aside: minus(upper, scaled(along, dot(upper, along))),
    length: Math.hypot(...upper) + Math.hypot(...minus(c, b)),
  };
}

const poleBeside = ({ middle, length }: Bend, way: Triple): Triple =>
  [0, 1, 2].map((axis) => middle[axis]! + way[axis]! * length * 0.6) as Triple;

/** The way in which the hinge of a limb would bend it: told in its own axes, since mirrored ones turn the other way about. */
function hingeWay({ root, hingeRoot, boneRoot }: CompiledChain, pose: WorldPose): Triple {
  const seat = seatFrom(pose, root);
  const way = minus(placeOn(seat, cross(hingeRoot, boneRoot)), placeOn(seat, [0, 0, 0]));
  return scaled(way, 1 / (Math.hypot(...way) || 1));
}

/** Ways with those that are missing between the nearest that there are; null where there is none at all. */
function filledIn(ways: readonly (Triple | null)[]): (Triple | null)[] {
  const filled = [...ways];
  const known = ways.flatMap((way, i) => (way ? [i] : []));
  let next = 0;
  for (let i = 0; i < filled.length; i += 1) {
    while (next < known.length && known[next]! < i) next += 1;
    if (filled[i]) continue;
    const [before, after] = [known[next - 1], known[next]];
    if (before === undefined && after === undefined) continue;
    filled[i] =
      before === undefined
        ? ways[after!]!
        : after === undefined
          ? ways[before]!
          : between(ways[before]!, ways[after]!, (i - before) / (after - before));
  }
  return filled;
}

/** From one direction to another, along the circle through both. */
function between(a: Triple, b: Triple, part: number): Triple {
  const turn = slerp([0, 0, 0, 1], rotationBetween(a, b), part);
  return rotate(turn, ...a);
}

/** A direction as near to the given one as lies across the limb. */
function flattened(way: Triple, along: Triple): Triple {
  const flat = minus(way, scaled(along, dot(way, along)));
  return scaled(flat, 1 / (Math.hypot(...flat) || 1));
}

const plus = (a: Triple, b: Triple): Triple => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
const minus = (a: Triple, b: Triple): Triple => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const scaled = (v: Triple, by: number): Triple => [v[0] * by, v[1] * by, v[2] * by];
const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
