/**
 * Flight: between take-off and landing the centre of mass, or one control, follows the parabola of gravity at the size that its character is said to have. The pose stays; what carries it is
 * moved by `parabola − centre`, since the centre goes as far as its carrier does. Time in the air is stretched where its height asks for that, and all that follows ripples.
 */
import { z } from 'zod';
import { finding, InputError, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { timeMoved } from '../../base/time-map.ts';
import type { TimePieces } from '../../base/time-pieces.ts';
import type { Work } from '../../base/work.ts';
import { contactsOf } from '../../document/contacts.ts';
import { findContacts } from '../../bodies/found-contacts.ts';
import { flightSpans } from '../../bodies/flights.ts';
import { momentumChange } from '../../bodies/momentum.ts';
import { framesPerSecond, rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { retimeShot } from '../../document/retime.ts';
import type { Selection } from '../../document/selection.ts';
import type { Triple } from '../../math/euler.ts';
import { freeFlightOf, GRAVITY, leapSeconds, parabolaThrough, placeOn, topAt } from '../../motion/flight.ts';
import type { Parabola } from '../../motion/flight.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { characterOption, meantCharacter, nameOfCharacter } from '../shared/meant-character.ts';
import { frameOption } from '../shared/frame-option.ts';
import { whichCharacter } from '../shared/targets.ts';
import { retimedFindings } from '../timing/scope.ts';
import { flyingCharacter, flyingControl, pathReader } from './flying.ts';
import type { Flying } from './flying.ts';
import { flightMeasures, strayOf } from './flight-report.ts';
import { shiftedKeys } from './shifted-keys.ts';
import type { ShiftRequest } from './shifted-keys.ts';
import { shiftedOnPasses } from './shifted-on-passes.ts';

const frameOrNone = (title: string, description: string) =>
  frameOption(title, description).nullable().default(null).meta({ title, unit: 'frame', description });
const place = (title: string, description: string) =>
  z
    .tuple([z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6)])
    .nullable()
    .default(null)
    .meta({ title, unit: 'cm', description });

export const flight = defineEdit({
  id: 'motion.flight',
  title: 'Flight',
  summary:
    'Between take-off and landing a body, or a ball, flies as gravity says; its keys go where they belong.',
  words:
    'jump leap hop throw toss ball arc ballistic parabola gravity fall air weight height landing take-off',
  group: 'motion',
  locks: 'none',
  options: z.object({
    character: characterOption(),
    control: z.string().nullable().default(null).meta({
      title: 'Control',
      control: 'node',
      description: 'One control that flies by itself, a ball; null: the character’s centre of mass.',
    }),
    takeOff: frameOrNone('Take-off', 'The last frame on which it stands; null: as its contacts say.'),
    landing: frameOrNone('Landing', 'The first frame on which it stands again; null: as its contacts say.'),
    from: place('Takes off at', 'Where the centre is at the take-off; null: where it is now.'),
    to: place('Lands at', 'Where the centre is at the landing; null: where it is now.'),
    top: z.number().min(-1e6).max(1e6).nullable().default(null).meta({
      title: 'Top',
      unit: 'cm',
      description: 'How high the centre rises; its time in the air follows. Null: the time says how high.',
    }),
    frames: z
      .number()
      .int()
      .min(1)
      .max(10_000)
      .nullable()
      .default(null)
      .meta({
        title: 'Time in the air',
        unit: 'frames',
        when: { top: null },
        description: 'From take-off to landing; its height follows. Null: as long as now.',
      }),
    gravity: z.number().min(0).max(100).default(1).meta({
      title: 'Gravity',
      unit: 'g',
      step: 0.1,
      description: '1 is 9.80665 m/s² at the height of its character; the moon has 0.17.',
    }),
    keys: z
      .enum(['moved', 'needed', 'every'])
      .default('moved')
      .meta({
        title: 'Keys',
        labels: { moved: 'those that are there', needed: 'as needed', every: 'every frame' },
        description:
          'Each key goes where it belongs and none is added; or as many as hold the tolerance; or all.',
      }),
    tolerance: z
      .number()
      .min(0.01)
      .max(1000)
      .default(1)
      .meta({
        title: 'Within',
        unit: 'mm',
        step: 0.5,
        when: { keys: 'needed' },
        description: 'How far from the parabola it may be.',
      }),
    on: z
      .enum(['base', 'passes'])
      .default('base')
      .meta({
        title: 'On',
        labels: { base: 'its own keys', passes: 'passes over them' },
        description: 'Its own keys move; or a retime filter and an offset pass do it, and both can be muted.',
      }),
    before: z
      .enum(['along', 'eased'])
      .default('along')
      .meta({
        title: 'Ahead of it',
        labels: { along: 'goes along', eased: 'comes over' },
        description:
          'What comes before a take-off that is moved: all of it goes along, or it comes over in time.',
      }),
    after: z
      .enum(['stays', 'back'])
      .default('stays')
      .meta({
        title: 'After it',
        labels: { stays: 'stays there', back: 'comes back' },
        description:
          'What comes after the landing goes on from the new place, or comes back to the old one in time.',
      }),
    ease: z
      .number()
      .int()
      .min(1)
      .max(10_000)
      .default(24)
      .meta({
        title: 'In',
        unit: 'frames',
        when: [{ before: 'eased' }, { after: 'back' }],
        description: 'How long it comes over, or back.',
      }),
  }),
  *run(shot, selection, given): Work<Outcome, Shot> {
    const { keys, on } = given;
    const chosen = given.control === null ? meantCharacter(shot, selection, given.character) : null;
    if (given.control === null && chosen === null) return refused(shot, selection, whichCharacter(shot));
    const { flying, span, air, was, flown, shiftOver, parabola, pull } = planned(
      shot,
      selection,
      chosen,
      given,
    );
    const rate = framesPerSecond(shot.rate);
    const frames = air.end - air.start;
    const longer = air.end - span.end;
    const request: ShiftRequest = {
      flying,
      air,
      shiftOver,
      keys,
      toleranceCm: given.tolerance / 10 / flying.unit,
    };
    const timed =
      on === 'passes' || longer === 0
        ? {
            shot,
            findings: [] as Finding[],
            touched: [] as ChannelId[],
            pieces: undefined as TimePieces | undefined,
          }
        : timedLonger(shot, span, air.end);
    const laid =
      on === 'passes' ? shiftedOnPasses(shot, request, span) : yield* shiftedKeys(timed.shot, request);
    const strays = strayOf(pathReader(laid.shot, flying), air, flown);
    const present = freeFlightOf(
      Array.from(framesOf(span), (frame) => was(frame)),
      rate,
      pull || GRAVITY / flying.unit,
    );
    const mm = (length: number) => length * flying.unit * 10;
    const turning = chosen === null ? null : momentumChange(laid.shot, chosen, air);
    const top = topOf(parabola, frames / rate)[1];
    return outcome(shot, laid.shot, selection, {
      ...(timed.pieces ? { time: timed.pieces } : {}),
      touched: [...new Set([...timed.touched, ...laid.touched])],
      findings: [
        finding(
          'flightBefore',
          { frame: span.start + present.worst },
          flying.name,
          span,
          mm(present.greatest),
          span.start + present.worst,
          (present.gravity * flying.unit) / GRAVITY,
        ),
        ...(given.top !== null && Math.abs(top - given.top) > 1e-6
          ? [finding('heightRounded', {}, given.top, top, frames)]
          : []),
        ...(strays.greatest * flying.unit * 10 > WORTH_SAYING
          ? [finding('flightStrays', { frame: strays.frame }, mm(strays.greatest), strays.frame)]
          : []),
        ...(turning && turning.part > CHANGES
          ? [finding('turningChanges', { frame: turning.frame }, turning.frame, 100 * turning.part)]
          : []),
        ...timed.findings,
        ...laid.findings,
      ],
      measures: flightMeasures(span, frames, top, present, strays, laid.keys, mm),
    });
  },
});

/** mm: what is less is on the parabola. */
const WORTH_SAYING = 1;
/** Of the greatest angular momentum: what changes by less in a frame may be how the body is measured. */
const CHANGES = 0.1;

type Given = z.output<typeof flight.options>;

interface Planned {
  readonly flying: Flying;
  /** When it flies now, and when it shall. */
  readonly span: FrameRange;
  readonly air: FrameRange;
  /** Where it is now, by the frame. */
  readonly was: (frame: number) => Triple;
  /** Where it shall be, by the frames that shall be. */
  readonly flown: (frame: number) => Triple;
  readonly shiftOver: ShiftRequest['shiftOver'];
  readonly parabola: Parabola;
  /** Units a second². */
  readonly pull: number;
}

function planned(shot: Shot, selection: Selection, character: string | null, given: Given): Planned {
  const flying =
    character === null
      ? flyingControl(shot, given.control!)
      : flyingCharacter(shot, character, nameOfCharacter(shot, character));
  if (flying.rows.length === 0 || flying.carriers.length === 0) refuse('nothingCarries', {}, flying.name);
  const span = spanOf(shot, selection, character, given);
  const rate = framesPerSecond(shot.rate);
  const pull = (given.gravity * GRAVITY) / flying.unit;
  const was = pathReader(shot, flying);
  const [from, to] = [given.from ?? was(span.start), given.to ?? was(span.end)];
  const frames = framesInAir(span, from, to, given, pull, rate);
  const air = { start: span.start, end: span.start + frames };
  const parabola = parabolaThrough(from, to, frames / rate, pull);
  const [first, last] = [minus(from, was(span.start)), minus(to, was(span.end))];
  const flown = (frame: number) => placeOn(parabola, (frame - span.start) / rate);
  const shiftOver =
    (now: (frame: number) => Triple) =>
    (frame: number): Triple => {
      if (frame < air.start)
        return given.before === 'along' ? first : scaled(first, eased(1 - (air.start - frame) / given.ease));
      if (frame > air.end)
        return given.after === 'stays' ? last : scaled(last, eased(1 - (frame - air.end) / given.ease));
      return minus(flown(frame), now(frame));
    };
  return { flying, span, air, was, flown, shiftOver, parabola, pull };
}

/** Where a flight is highest. */
const topOf = (parabola: Parabola, seconds: number): Triple =>
  placeOn(parabola, Math.min(topAt(parabola), seconds));

/** A flight as it is drawn: where it goes now and where it shall go, frame by frame, in the units of the shot. */
export interface FlightDrawn {
  readonly present: readonly Triple[];
  readonly wanted: readonly Triple[];
  readonly from: Triple;
  readonly to: Triple;
  readonly top: Triple;
}

/** @returns null where it cannot fly; the edit says why */
export function drawnFlight(shot: Shot, selection: Selection, options: unknown): FlightDrawn | null {
  const read = flight.options.safeParse(options);
  if (!read.success) return null;
  const given = read.data;
  const character = given.control === null ? meantCharacter(shot, selection, given.character) : null;
  if (given.control === null && character === null) return null;
  try {
    const { span, air, was, flown, parabola } = planned(shot, selection, character, given);
    const seconds = (air.end - air.start) / framesPerSecond(shot.rate);
    return {
      present: Array.from(framesOf(span), was),
      wanted: Array.from(framesOf(air), flown),
      from: flown(air.start),
      to: flown(air.end),
      top: topOf(parabola, seconds),
    };
  } catch (error) {
    if (error instanceof InputError) return null;
    throw error;
  }
}

/** When it flies: as was typed, else the one span in which nothing of it stands. */
function spanOf(shot: Shot, { range }: Selection, character: string | null, given: Given): FrameRange {
  const found =
    given.takeOff !== null && given.landing !== null
      ? null
      : character === null
        ? range
        : flightIn(shot, character, range);
  const start = given.takeOff ?? found?.start ?? refuse('whenItFlies', {});
  const end = given.landing ?? found?.end ?? refuse('whenItFlies', {});
  if (!(end > start)) refuse('landsBefore', {}, start, end);
  if (start < shot.range.start || end > shot.range.end)
    refuse('rangeOutsideShot', {}, start, end, shot.range.start, shot.range.end);
  return { start, end };
}

function flightIn(shot: Shot, character: string, range: FrameRange | null): FrameRange | null {
  const rig = rigOf(shot);
  const own = contactsOf(shot).filter(({ node }) => rig.nodes[rig.indexOf(node)]?.character === character);
  const stands = own.length > 0 ? own : findContacts(shot, character).stands.flat();
  const spans = flightSpans(stands, framesPerSecond(shot.rate)).filter(
    ({ start, end }) => range === null || (start < range.end && end > range.start),
  );
  if (spans.length > 1)
    refuse(
      'whichFlight',
      {},
      spans.map(({ start, end }) => `${start} to ${end}`),
    );
  return spans[0] ?? range;
}

/** How long it flies: by how high it shall rise, as was typed, or as long as now. */
function framesInAir(
  { start, end }: FrameRange,
  from: Triple,
  to: Triple,
  { top, frames }: Given,
  pull: number,
  rate: number,
): number {
  // A flight between frames stays as long as it is.
  if (top === null) return frames ?? end - start;
  if (!(pull > 0)) refuse('noGravity', {});
  const least = Math.max(from[1], to[1]);
  if (top < least) refuse('topBelowEnds', {}, top, least);
  return Math.max(1, Math.round(leapSeconds(top - from[1], top - to[1], pull) * rate));
}

/** The shot with more time, or less, between take-off and landing. */
function timedLonger(shot: Shot, span: FrameRange, landing: number) {
  const map = timeMoved(span, { start: span.start, end: landing }, true);
  const changes = retimeShot(shot, map, { channels: null, repeats: 'cycle', wholeFrames: true });
  return {
    shot: changes.shot,
    findings: retimedFindings(changes),
    touched: changes.touched,
    pieces: changes.pieces,
  };
}

const minus = (p: Readonly<Triple>, q: Readonly<Triple>): Triple => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
const scaled = (v: Readonly<Triple>, by: number): Triple => [v[0] * by, v[1] * by, v[2] * by];
/** 0 at 0, 1 at 1, flat at both. */
const eased = (part: number) => {
  const u = Math.min(Math.max(part, 0), 1);
  return u * u * (3 - 2 * u);
};
