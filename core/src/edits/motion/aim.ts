/**
 * Throw and catch: what one node holds is let go, flies as gravity says, and is caught by another. Release and catch are switches of its relation, so that it goes with
 * either hand to the bit; in between it is in the world, on a parabola of two keys. Its speed is that of the hand which lets it go, or the one that meets the other.
 */
import { z } from 'zod';
import { finding, InputError, refuse } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import type { Curve } from '../../curve/curve.ts';
import { curveOf, framesPerSecond, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Triple } from '../../math/euler.ts';
import { placeOn, topAt } from '../../motion/flight.ts';
import { TRANSFORM } from '../../rig/node.ts';
import { NO_OFFSET } from '../../rig/relations/relation.ts';
import type { Relation, Seat } from '../../rig/relations/relation.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { related } from '../spaces/add-relation.ts';
import { heldAhead } from '../spaces/kept-within.ts';
import { keepMotion } from '../spaces/keep-motion.ts';
import type { Rewrite } from '../spaces/keep-motion.ts';
import { withTargets } from '../spaces/set-relation.ts';
import { spansOf, switchThrough, withTarget } from '../spaces/switch-curve.ts';
import { apart, strayOf } from './flight-report.ts';
import type { FlightDrawn } from './flight.ts';
import { carrierAt, followsOf, placeOf, thrownBy } from './thrown.ts';
import type { Thrown } from './thrown.ts';

const named = (title: string, description: string) =>
  z.string().meta({ title, control: 'node', description });

export const aim = defineEdit({
  id: 'motion.aim',
  title: 'Throw and catch',
  summary: 'A prop is let go by one hand, flies as gravity says, and is caught by the other.',
  words: 'toss juggle ball prop release hand over aim projectile parabola gravity pass space switch',
  group: 'motion',
  locks: 'none',
  options: z.object({
    control: named('What is thrown', 'A control that can be moved: a ball, a tray.'),
    from: named('Thrown by', 'The control that carries it until it is let go.'),
    to: named('Caught by', 'The control that carries it from the catch on.'),
    release: frameOption('Let go at', 'The frame on which it leaves: here it still is where the hand is.'),
    catch: frameOption('Caught at', 'The first frame on which it goes with what catches it.'),
    until: frameOption('Held until', '').nullable().default(null).meta({
      title: 'Held until',
      unit: 'frame',
      description: 'The last frame on which it is held; null: until it is switched again, or to the end.',
    }),
    speed: z
      .enum(['aimed', 'hand'])
      .default('aimed')
      .meta({
        title: 'Speed',
        labels: { aimed: 'that meets the catch', hand: 'that the hand has' },
        description: 'Found so that it comes where it is caught; or that of the hand, and the miss is said.',
      }),
    turn: z
      .enum(['keeps', 'still'])
      .default('keeps')
      .meta({
        title: 'In the air',
        labels: { keeps: 'turns as its keys say', still: 'does not turn' },
        description: 'How it is turned while it flies.',
      }),
    gravity: z.number().min(0).max(100).default(1).meta({
      title: 'Gravity',
      unit: 'g',
      step: 0.1,
      description: '1 is 9.80665 m/s² at the height of the character that throws; the moon has 0.17.',
    }),
  }),
  *run(shot, selection, given): Work<Outcome, Shot> {
    const { control } = given;
    const plan = planned(shot, given);
    const { thrown, made, carried, held, isHeld, later } = plan;
    const { air, row, unit } = thrown;
    const by = made.relation.switch;
    const place = (node: string | null) => made.relation.targets.findIndex((target) => target.node === node);
    const flown = { start: air.start, end: air.end - 1 };
    let spaces = curveOf(made.shot, null, by);
    for (const [range, node] of [
      [carried, given.from],
      [flown, null],
      [held, given.to],
    ] as const)
      if (range) spaces = switchThrough(withTarget(spaces, shot.range, range, place(node)));
    const switched = withCurves(made.shot, null, new Map([[by, spaces]]));
    const rewrites: Rewrite[] = [
      ...(carried ? [{ node: control, range: carried, keys: 'existing' as const }] : []),
      { node: control, range: flown, keys: given.turn === 'keeps' ? 'needed' : [flown.start, flown.end] },
      // What it does in the hand that has it already stays; else it goes with that hand from there on.
      ...(isHeld ? [] : [{ node: control, range: held, keys: 'hold' as const }]),
      ...(later ? [{ node: control, range: later, keys: 'existing' as const }] : []),
    ];
    const wanted = (_: string, frame: number): Seat | null => {
      if (frame < air.start || frame > held.end) return null;
      const { matrix, turn } = thrown.lay(given.turn === 'still' ? air.start : frame);
      const at = Float64Array.from(matrix);
      at.set(flownAt(shot, thrown, Math.min(frame, air.end)), 12);
      return { matrix: at, turn };
    };
    const kept = yield* keepMotion(shot, switched, rewrites, EXACTLY, wanted);
    const overwritten = keysWithin(shot, row, { start: air.start, end: isHeld ? flown.end : held.end });
    const after = thrownBy(kept.shot, given, true);
    const miss = 10 * unit * apart(placeOf(after.lay(air.end)), thrown.goal);
    const strays = strayOf(
      (frame) => placeOf(after.lay(frame)),
      flown,
      (frame) => flownAt(shot, thrown, frame),
    );
    const starts = [carried, flown, held, later].flatMap((range) => (range ? [range.start] : []));
    const speed = metresASecond(thrown.flight.speed, unit);
    const hand = metresASecond(thrown.hand, unit);
    return outcome(shot, kept.shot, selection, {
      touched: [by, ...kept.touched],
      findings: [
        finding(
          'thrownAt',
          { node: control, frame: air.start },
          speed,
          hand,
          between(thrown.flight.speed, thrown.hand),
        ),
        ...(miss > WORTH_SAYING
          ? [finding('catchMissed', { node: control, frame: air.end }, given.to, miss, air.end)]
          : []),
        ...(10 * unit * strays.greatest > WORTH_SAYING
          ? [
              finding(
                'flightStrays',
                { node: control, frame: strays.frame },
                10 * unit * strays.greatest,
                strays.frame,
              ),
            ]
          : []),
        ...(overwritten > 0 ? [finding('keysOverwritten', { node: control }, overwritten)] : []),
        ...kept.findings,
        ...heldAhead(shot, kept.shot, control, starts),
      ],
      measures: [
        { name: 'speed', value: speed, before: hand, unit: 'm/s' },
        { name: 'off the catch', value: miss, unit: 'mm' },
        {
          name: 'off the parabola',
          value: 10 * unit * strays.greatest,
          unit: 'mm',
          where: { frame: strays.frame },
        },
        { name: 'top', value: topOf(shot, thrown)[1], unit: 'cm' },
        { name: 'keys written', value: kept.keys, unit: '' },
      ],
    });
  },
});

type Given = z.output<typeof aim.options>;

/** mm: what is less meets. */
const WORTH_SAYING = 1;
/** cm and degrees within which turns of the prop, and all that no two keys say, are kept. */
const EXACTLY = { distance: 0.01, angle: 0.05 };

type Switched = Relation & { readonly switch: string };

interface Planned {
  readonly thrown: Thrown;
  readonly made: { readonly shot: Shot; readonly relation: Switched };
  /** Frames on which it comes to be carried by what throws it; null where it is already. */
  readonly carried: FrameRange | null;
  readonly held: FrameRange;
  /** Frames past that on which the world carries it from now on, where something else did; null where it is carried as it was. */
  readonly later: FrameRange | null;
  /** Whether it is in the other hand when it is caught, before this. */
  readonly isHeld: boolean;
}

function planned(shot: Shot, given: Given): Planned {
  const { control, from, to, release } = given;
  if (from === control || to === control) refuse('onlyTargets', {});
  const present = followsOf(shot, control);
  const by = present?.switch == null ? null : curveOf(shot, null, present.switch);
  const targetOn = (frame: number) => carrierAt(shot, control, frame);
  const isHeld = targetOn(given.catch) === to;
  const thrown = thrownBy(shot, given, isHeld);
  const made = withSpaces(shot, given, present);
  const spans = by ? spansOf(by, shot.range) : [{ ...shot.range, target: 0 }];
  const ahead = spans.findLast(({ start }) => start < release);
  const next = spans.find(({ start }) => start > given.catch);
  const end = given.until ?? (next ? next.start - 1 : shot.range.end);
  if (end < given.catch) refuse('heldBefore', {}, given.catch, end);
  const rig = rigOf(shot);
  const isFree = rig.parents[thrown.row]! < 0 && !rig.relations[thrown.row];
  const held = { start: given.catch, end: Math.min(end, shot.range.end) };
  return {
    thrown,
    made,
    later:
      present || isFree || held.end >= shot.range.end ? null : { start: held.end + 1, end: shot.range.end },
    carried: !ahead || targetOn(release - 1) === from ? null : { start: ahead.start, end: release - 1 },
    held,
    isHeld,
  };
}

/** The shot in which the prop can be carried by both, and by nothing. */
function withSpaces(
  shot: Shot,
  { control, from, to, release }: Given,
  present: Relation | undefined,
): Planned['made'] {
  const goals = [null, from, to];
  if (present) {
    const more = withTargets(shot, present, goals, release);
    rigOf(more.shot);
    const by = more.relation.switch ?? refuse('noSwitch', {}, control);
    return { shot: more.shot, relation: { ...more.relation, switch: by } };
  }
  // As it lies now the world carries it: on all frames on which no hand does it stays.
  const { shot: channelled, relation } = related(shot, control, 'parent', goals, 'switch', true, release);
  const by = relation.switch!;
  const world = relation.targets.map((target) =>
    target.node === null ? { ...target, offset: NO_OFFSET } : target,
  );
  const fresh = { ...relation, switch: by, targets: world };
  const after = { ...channelled, relations: [...channelled.relations, fresh] };
  rigOf(after);
  return {
    shot: withCurves(after, null, new Map([[by, switchThrough([{ ...shot.range, target: 0 }])]])),
    relation: fresh,
  };
}

const secondsIn = (shot: Shot, { air }: Thrown, frame: number) =>
  (frame - air.start) / framesPerSecond(shot.rate);
const flownAt = (shot: Shot, thrown: Thrown, frame: number): Triple =>
  placeOn(thrown.flight, secondsIn(shot, thrown, frame));
const topOf = (shot: Shot, thrown: Thrown): Triple =>
  placeOn(thrown.flight, Math.min(topAt(thrown.flight), secondsIn(shot, thrown, thrown.air.end)));

function keysWithin(shot: Shot, row: number, { start, end }: FrameRange): number {
  return Object.entries<Curve>(shot.curves[row] ?? {})
    .filter(([name]) => TRANSFORM.includes(name))
    .reduce((sum, [, { times }]) => sum + times.filter((time) => time >= start && time <= end).length, 0);
}

const metresASecond = (speed: Readonly<Triple>, unit: number) => (Math.hypot(...speed) * unit) / 100;

/** Degrees between two ways; 0 where one of them is none. */
function between(a: Readonly<Triple>, b: Readonly<Triple>): number {
  const lengths = Math.hypot(...a) * Math.hypot(...b);
  if (!(lengths > 0)) return 0;
  const along = a.reduce((sum, value, axis) => sum + value * b[axis]!, 0) / lengths;
  return (Math.acos(Math.min(1, Math.max(-1, along))) * 180) / Math.PI;
}

/** The throw as it is drawn. @returns null where there is none; the edit says why */
export function drawnThrow(shot: Shot, options: unknown): FlightDrawn | null {
  const read = aim.options.safeParse(options);
  if (!read.success) return null;
  try {
    const { thrown } = planned(shot, read.data);
    const frames = [...framesOf(thrown.air)];
    return {
      present: frames.map((frame) => placeOf(thrown.lay(frame))),
      wanted: frames.map((frame) => flownAt(shot, thrown, frame)),
      from: thrown.flight.from,
      to: thrown.goal,
      top: topOf(shot, thrown),
    };
  } catch (error) {
    if (error instanceof InputError) return null;
    throw error;
  }
}
