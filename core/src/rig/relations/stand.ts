/**
 * Stand: while a span lasts, a point of a limb's end lies where it lay on a frame of that span; what leads the limb is moved by as much as that asks for. The keys stay.
 *
 * All is said by where the point lies without it, so that nothing goes in a circle. Spans of one foot that overlap roll over each other: the later one stands where the earlier one
 * holds it when it begins, and takes over while both last. Ahead of a span and past it the shift comes over and goes in time.
 */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { imagesOf, placeIn, shows } from '../../base/time-pieces.ts';
import type { Triple } from '../../math/euler.ts';
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
  holds: () => ['place'],
  looksElsewhere: true,
  time(given, pieces) {
    const spans = given.spans.flatMap((one): Span[] =>
      imagesOf(pieces, one).map(({ piece, start, end }) => ({
        ...one,
        start,
        end,
        lies: shows(piece, one.lies) ? placeIn(piece, one.lies) : (start + end) / 2,
      })),
    );
    return { ...given, spans };
  },
  hold({ rig, compiled, pose, weight, times }) {
    if (!times) return;
    const shift = shiftAt(rig.indexOf, compiled.settings, times);
    const m = compiled.node * 16 + 12;
    for (let axis = 0; axis < 3; axis += 1) pose.matrices[m + axis]! += weight * shift[axis]!;
  },
});

type IndexOf = (node: Node['id']) => number;

/** By how much the point is moved on the frame that is being worked out. */
function shiftAt(
  indexOf: IndexOf,
  { spans: given, ramp }: z.output<typeof settings>,
  times: OtherTimes,
): Triple {
  const { frame: now, free } = times;
  const spans = [...given].sort((a, b) => a.start - b.start);
  const near = spans.filter(
    ({ node, start, end }) => indexOf(node) >= 0 && now >= start - ramp && now <= end + ramp,
  );
  const inside = near.filter(({ start, end }) => now >= start && now <= end);
  const [first, ...later] = inside;
  const ask: Asked = { indexOf, spans, free };
  if (first)
    return later.reduce(
      ({ shift, end }, one) => ({
        shift: between(shift, wayOf(ask, one, now), eased((now - one.start) / (end - one.start || 1))),
        end: Math.max(end, one.end),
      }),
      { shift: wayOf(ask, first, now), end: first.end },
    ).shift;
  // What is not moved counts as one, a stand the more the nearer it is.
  let [x, y, z_, all] = [0, 0, 0, 1];
  for (const one of near) {
    const edge = now < one.start ? one.start : one.end;
    const part = eased(1 - Math.abs(now - edge) / ramp);
    const shift = shiftAt(indexOf, { spans, ramp: 0 }, { ...times, frame: edge });
    // So near to it that it stands.
    if (part > 1 - 1e-9) return shift;
    const share = part / (1 - part);
    [x, y, z_, all] = [x + share * shift[0], y + share * shift[1], z_ + share * shift[2], all + share];
  }
  return [x / all, y / all, z_ / all];
}

interface Asked {
  readonly indexOf: IndexOf;
  /** In the order of time. */
  readonly spans: readonly Span[];
  readonly free: (frame: number) => WorldPose;
}

/** From where a point lies without it to where it stands. */
function wayOf(ask: Asked, one: Span, now: number): Triple {
  return minus(standsAt(ask, one), placeOf(ask, one, now));
}

/** Where it stands: as an earlier one that lasts when it begins holds it there, else as it lies on its frame. */
function standsAt(ask: Asked, one: Span): Triple {
  const at = ask.spans.indexOf(one);
  const before = ask.spans
    .slice(0, Math.max(at, 0))
    .findLast(({ start, end }) => start < one.start && end >= one.start);
  if (!before) return placeOf(ask, one, one.lies);
  const held = wayOf(ask, before, one.start);
  const lies = placeOf(ask, one, one.start);
  return [lies[0] + held[0], lies[1] + held[1], lies[2] + held[2]];
}

const placeOf = ({ indexOf, free }: Asked, { node, at }: Span, now: number): Triple =>
  pointIn(free(now), { node: indexOf(node), at });

const minus = (p: Readonly<Triple>, q: Readonly<Triple>): Triple => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
const between = (p: Readonly<Triple>, q: Readonly<Triple>, part: number): Triple =>
  [0, 1, 2].map((axis) => p[axis]! + part * (q[axis]! - p[axis]!)) as Triple;
const eased = (part: number): number => {
  const u = Math.min(Math.max(part, 0), 1);
  return u * u * (3 - 2 * u);
};
