/**
 * Stand: while a span lasts, a point of a limb's end lies where it lay on a frame of that span; what leads the limb is moved by as much as that asks for. The keys stay.
 *
 * All is said by where the point lies without it, so that nothing goes in a circle. Spans of one foot that overlap roll over each other: the later one stands where the earlier one
 * holds it when it begins, and takes over while both last. Ahead of a span and past it the shift comes over and goes in time.
 *
 * By choice its turn stands too: its heading alone, so that a foot rolls but does not twist on the ground, or all of it. The limb's end is turned about the point that stands.
 */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { imagesOf, placeIn, rampIn, shows } from '../../base/time-pieces.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply, power, rotate, slerp, unit } from '../../math/quaternion.ts';
import { pointIn } from '../body-point.ts';
import type { Node } from '../node.ts';
import { defineRelation } from './relation.ts';
import type { OtherTimes, WorldPose } from './relation.ts';

const number = z.number().min(-LIMITS.number).max(LIMITS.number);
const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

const span = z.object({
  node: z.string().describe('What stands'),
  at: z.tuple([number, number, number]).describe("The point, cm in that node's axes"),
  start: frame,
  end: frame,
  lies: frame.describe('It stands where it lies on this frame'),
  turn: z
    .enum(['heading', 'whole'])
    .optional()
    .describe('What of its turn stands: where it heads about the upright, or all; left out, none'),
  ramp: z.number().min(0).optional().describe('Frames in which it comes over and goes, where it has its own'),
});
type Span = z.output<typeof span>;

const settings = z.object({
  spans: z.array(span).max(LIMITS.contacts).default([]).meta({
    title: 'Spans',
    description: 'When it stands, and where.',
  }),
  ramp: z.number().min(0).max(10_000).default(4).meta({
    title: 'Ramp',
    unit: 'frames',
    description: 'How long it comes to where it stands, and goes from there.',
  }),
});

export const stand = defineRelation({
  kind: 'stand',
  title: 'Stands',
  summary: 'While its contacts last the end of a limb does not slide over the ground.',
  words: 'foot lock plant pin contact slide ground',
  ownEdit: true,
  settings,
  holds: ({ spans }) => (spans.some(({ turn }) => turn) ? ['place', 'turn'] : ['place']),
  looksElsewhere: true,
  time(given, pieces) {
    const spans = given.spans.flatMap((one): Span[] =>
      imagesOf(pieces, one).map(({ piece, start, end }) => ({
        ...one,
        start,
        end,
        lies: shows(piece, one.lies) ? placeIn(piece, one.lies) : (start + end) / 2,
        ramp: rampIn(piece, one.ramp ?? given.ramp),
      })),
    );
    return { ...given, spans };
  },
  hold({ rig, compiled, pose, weight, times }) {
    if (!times) return;
    const { node } = compiled;
    const { shift, turn } = wayAt(rig.indexOf, node, compiled.settings, times);
    if (turn) turnPlaced(pose, node, power(turn, weight));
    const m = node * 16 + 12;
    for (let axis = 0; axis < 3; axis += 1) pose.matrices[m + axis]! += weight * shift[axis]!;
  },
});

/** Turns a placed node about its own origin. */
function turnPlaced({ matrices, turns }: WorldPose, node: number, turn: Quaternion): void {
  for (let m = node * 16; m < node * 16 + 12; m += 4)
    matrices.set(rotate(turn, matrices[m]!, matrices[m + 1]!, matrices[m + 2]!), m);
  turns.set(unit(multiply(turn, turns.subarray(node * 4, node * 4 + 4))), node * 4);
}

type IndexOf = (node: Node['id']) => number;

/** How what leads the limb is moved: its origin's way, and how it is turned about that; null is not at all. */
interface Way {
  readonly shift: Triple;
  readonly turn: Quaternion | null;
}
const NO_TURN: Quaternion = [0, 0, 0, 1];

/** How the leading node is moved on the frame that is being worked out. @param edges whether what comes over and goes counts */
function wayAt(
  indexOf: IndexOf,
  mover: number,
  { spans: given, ramp }: z.output<typeof settings>,
  times: OtherTimes,
  edges = true,
): Way {
  const { frame: now, free } = times;
  const spans = [...given].sort((a, b) => a.start - b.start);
  const rampOf = (one: Span) => (edges ? (one.ramp ?? ramp) : 0);
  const near = spans.filter(
    (one) => indexOf(one.node) >= 0 && now >= one.start - rampOf(one) && now <= one.end + rampOf(one),
  );
  const inside = near.filter(({ start, end }) => now >= start && now <= end);
  const [first, ...later] = inside;
  const ask: Asked = { indexOf, mover, spans, free };
  if (first)
    return later.reduce(
      ({ way, end }, one) => ({
        way: between(way, wayOf(ask, one, now), eased((now - one.start) / (end - one.start || 1))),
        end: Math.max(end, one.end),
      }),
      { way: wayOf(ask, first, now), end: first.end },
    ).way;
  // What is not moved counts as one, a stand the more the nearer it is.
  let [x, y, z_, all] = [0, 0, 0, 1];
  let turn: Quaternion | null = null;
  for (const one of near) {
    const edge = now < one.start ? one.start : one.end;
    const part = eased(1 - Math.abs(now - edge) / rampOf(one));
    const way = wayAt(indexOf, mover, { spans, ramp }, { ...times, frame: edge }, false);
    // So near to it that it stands.
    if (part > 1 - 1e-9) return way;
    const [share, { shift }] = [part / (1 - part), way];
    [x, y, z_, all] = [x + share * shift[0], y + share * shift[1], z_ + share * shift[2], all + share];
    if (way.turn || turn) turn = slerp(turn ?? NO_TURN, way.turn ?? NO_TURN, share / all);
  }
  return { shift: [x / all, y / all, z_ / all], turn };
}

interface Asked {
  readonly indexOf: IndexOf;
  /** What leads the limb. */
  readonly mover: number;
  /** In the order of time. */
  readonly spans: readonly Span[];
  readonly free: (frame: number) => WorldPose;
}

/** From where a point lies without it to where it stands, and as it stands there. */
function wayOf(ask: Asked, one: Span, now: number): Way {
  const stands = standsAt(ask, one);
  const lies = placeOf(ask, one, now);
  if (!one.turn) return { shift: minus(stands.place, lies), turn: null };
  const whole = multiply(stands.turn, conjugate(turnOf(ask, one, now)));
  const turn = one.turn === 'whole' ? whole : aboutUpright(whole);
  const origin = originOf(ask, now);
  const arm = minus(lies, origin);
  return { shift: minus(minus(stands.place, rotate(turn, ...arm)), origin), turn };
}

/** Where and how it stands: as an earlier one that lasts when it begins holds it there (of two that begin together the first), else as it lies on its frame. */
function standsAt(ask: Asked, one: Span): { place: Triple; turn: Quaternion } {
  const at = ask.spans.indexOf(one);
  const before = ask.spans
    .slice(0, Math.max(at, 0))
    .findLast(({ start, end }) => start <= one.start && end >= one.start);
  if (!before) return { place: placeOf(ask, one, one.lies), turn: turnOf(ask, one, one.lies) };
  const { shift, turn } = wayOf(ask, before, one.start);
  const [lies, lie] = [placeOf(ask, one, one.start), turnOf(ask, one, one.start)];
  if (!turn) return { place: plus(lies, shift), turn: lie };
  const origin = originOf(ask, one.start);
  return {
    place: plus(plus(origin, shift), rotate(turn, ...minus(lies, origin))),
    turn: multiply(turn, lie),
  };
}

/** What of a turn goes about the upright (the twist of the swing-twist decomposition). */
function aboutUpright([, y, , w]: Readonly<Quaternion>): Quaternion {
  const size = Math.hypot(y, w);
  return size < 1e-9 ? NO_TURN : [0, y / size, 0, w / size];
}

const placeOf = ({ indexOf, free }: Asked, { node, at }: Span, now: number): Triple =>
  pointIn(free(now), { node: indexOf(node), at });

function turnOf({ indexOf, free }: Asked, { node }: Span, now: number): Quaternion {
  const row = 4 * indexOf(node);
  return [...free(now).turns.subarray(row, row + 4)] as Quaternion;
}

const originOf = ({ mover, free }: Asked, now: number): Triple =>
  pointIn(free(now), { node: mover, at: [0, 0, 0] });

const plus = (p: Readonly<Triple>, q: Readonly<Triple>): Triple => [p[0] + q[0], p[1] + q[1], p[2] + q[2]];
const minus = (p: Readonly<Triple>, q: Readonly<Triple>): Triple => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
const between = (p: Way, q: Way, part: number): Way => ({
  shift: [0, 1, 2].map((axis) => p.shift[axis]! + part * (q.shift[axis]! - p.shift[axis]!)) as Triple,
  turn: p.turn || q.turn ? slerp(p.turn ?? NO_TURN, q.turn ?? NO_TURN, part) : null,
});
const eased = (part: number): number => {
  const u = Math.min(Math.max(part, 0), 1);
  return u * u * (3 - 2 * u);
};
