/**
 * Feet that stood stand: where an action comes from a figure of another build, its feet slide a little over the ground. They are held where they stand, by their goals or by the
 * joints of their legs, and where a leg does not reach so far the hips give way; how far feet slid and slide is said. Soles that would stand over the floor or under it are set
 * onto it in the same way.
 */
import { finding, InputError } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import type { Curve } from '../../curve/curve.ts';
import { curvesOfJoints } from '../../document/action.ts';
import type { Action } from '../../document/action.ts';
import { curveOf, framesPerSecond, newShot, rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Rate, Shot } from '../../document/shot.ts';
import { seatsOf } from '../../evaluation/seats.ts';
import { characterOf, withinCarriers } from '../../mapping/skeletons.ts';
import type { Stand } from '../../motion/contacts.ts';
import type { Pair } from '../../mapping/match.ts';
import type { Triple } from '../../math/euler.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { channelsOfNodes, denselyKeyed } from '../shared/densely-keyed.ts';
import { keepMotion } from '../spaces/keep-motion.ts';
import type { KeptMotion } from '../spaces/keep-motion.ts';
import { moverOf } from '../spaces/limb-goals.ts';
import { hipsGive } from './hips-give.ts';
import type { HeldLeg } from './hips-give.ts';
import { kneeToward, legSeats } from './leg-seats.ts';
import { stanceOf } from './stance.ts';
import { standingFeet } from './standing-feet.ts';
import type { Foot, Leg } from './standing-feet.ts';

export interface FeetStand {
  /** By the channels here. */
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  readonly findings: readonly Finding[];
}

/** cm: what is less is no slide. */
const NO_SLIDE = 0.2;
/** cm: soles that lie nearer to the floor stand on it. */
const ON_FLOOR = 0.5;
/** In leg lengths: what stands farther from the floor stands on something else. */
const NO_FLOOR = 0.1;
const WISHES = { distance: 0.02, angle: 0.05 };
/** Seconds over which a foot comes to where it stands, and leaves it. */
const EASED = 0.2;

/**
 * The curves of a mapping with its feet held. They are held on the figure alone, as the action is before it is laid anywhere.
 * @param shot whose figure it is mapped onto @param source the action before it was mapped @param pairs as it shows: of what is flipped, with the other side
 */
export function* feetStand(
  shot: Shot,
  action: Action,
  curves: ReadonlyMap<ChannelId, Curve>,
  pairs: readonly Pair[],
): Work<FeetStand, Shot> {
  const { json, range } = action;
  const figure = figureAlone(shot, curves, json.rate, range.end);
  const own = curvesOfJoints(action);
  const feet = json.skeleton ? standingFeet(figure, { skeleton: json.skeleton, curves: own, pairs }) : [];
  const ease = EASED * framesPerSecond(json.rate);
  yield { done: 0 };
  const { places, slid: most, over } = stanceOf(figure, feet);
  yield { done: 0 };
  const [slides, floats] = [most >= NO_SLIDE, Math.abs(over) >= ON_FLOOR];
  if (!slides && !floats) return { curves, findings: [] };
  const names = feet.flatMap(({ id, stands }) => (stands.length > 0 ? [id] : []));
  const sliding = slides ? [finding('feetSlide', {}, names, most)] : [];
  const floating = floats ? [finding('solesOff', {}, names, over)] : [];
  const down =
    floats && Math.abs(over) < NO_FLOOR * Math.min(...feet.map(({ length }) => length)) ? -over : 0;
  const held = feet.flatMap((foot, k) =>
    foot.goal < 0 && !foot.leg
      ? []
      : [{ ...foot, shiftAt: shiftsOf(places[k]!, slides ? foot.stands : [], ease, down) }],
  );
  if (held.length === 0 || (!slides && down === 0)) return { curves, findings: [...sliding, ...floating] };
  try {
    const kept = yield* heldWhereTheyStand(figure, held, ease);
    const changed = kept.touched.map((id) => [id, curveOf(kept.shot, null, id)] as const);
    const after = stanceOf(kept.shot, feet);
    return {
      curves: new Map([...curves, ...changed]),
      findings: [
        ...(slides ? [finding('feetHeld', {}, names, most, after.slid)] : []),
        ...(down === 0 ? floating : [finding('solesSet', {}, names, over, after.over)]),
        ...kept.findings,
      ],
    };
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return { curves, findings: [...sliding, ...floating, error.finding] };
  }
}

/** The shot's figures with nothing but the motion, within what carries them. A goal leads its limb where the motion says where the goal goes; else the joints do, as the motion turns them. */
function figureAlone(shot: Shot, curves: ReadonlyMap<ChannelId, Curve>, rate: Rate, length: number): Shot {
  const rig = rigOf(shot);
  const moved = new Set([...curves.keys()].map((id) => splitChannel(id).node));
  const { nodes } = withinCarriers(shot, characterOf(shot, moved));
  const isMoved = (row: number) => row >= 0 && moved.has(rig.nodes[row]!.id);
  const led = shot.relations.filter(({ node, kind, weight }) => {
    const chain = rig.chains.find(({ end }) => rig.nodes[end]!.id === node);
    return kind === 'reach' && chain && isMoved(moverOf(rig, chain.target)) && !isJoints(curves, weight);
  });
  const bare = {
    ...newShot(
      '',
      nodes,
      led.map((one) => ({ ...one, weight: null })),
      rate,
      { start: 0, end: Math.max(1, Math.floor(length)) },
    ),
    ...{ characters: shot.characters, locked: shot.locked },
  };
  const here = rigOf(bare);
  return withCurves(bare, null, new Map([...curves].filter(([id]) => here.channelIndex(id) >= 0)));
}

/** Whether the motion itself says that a limb's joints lead it. */
const isJoints = (curves: ReadonlyMap<ChannelId, Curve>, weight: ChannelId | null): boolean => {
  const curve = weight === null ? undefined : curves.get(weight);
  return curve !== undefined && curve.values.every((value) => value === 0);
};

/** A foot and by how much it is moved, by the frame. */
interface Held extends Foot {
  readonly shiftAt: (frame: number) => Triple;
}

/** @param ease frames */
function* heldWhereTheyStand(
  shot: Shot,
  held: readonly Held[],
  ease: number,
): Work<Pick<KeptMotion, 'shot' | 'touched' | 'findings'>, Shot> {
  const rig = rigOf(shot);
  const over = shot.range;
  const touched = new Set<ChannelId>();
  const findings: Finding[] = [];
  let now = shot;
  /** The nodes lie there, on whole frames where they are keyed on all. */
  function* write(seats: ReadonlyMap<number, (frame: number) => Seat>, frames: boolean): Work<void, Shot> {
    if (seats.size === 0) return;
    const byNode = new Map([...seats].map(([row, at]) => [rig.nodes[row]!.id, at]));
    const rewrites = [...byNode.keys()].map((node) => ({
      ...{ node, range: over },
      keys:
        frames || denselyKeyed(shot, channelsOfNodes(shot, [node]), over)
          ? ('frames' as const)
          : ('existing' as const),
    }));
    const kept = yield* keepMotion(now, now, rewrites, WISHES, (node, frame) => byNode.get(node)!(frame));
    kept.touched.forEach((id) => touched.add(id));
    findings.push(...kept.findings);
    now = kept.shot;
  }
  const shifted = (row: number, { shiftAt }: Held, frame: number): Seat => {
    const seat = seats(frame, row);
    const matrix = Float64Array.from(seat.matrix);
    shiftAt(frame).forEach((way, axis) => (matrix[12 + axis]! += way));
    return { matrix, turn: seat.turn };
  };
  const seats = seatsOf(
    shot,
    held.flatMap(({ goal, row }) => [row, ...(goal < 0 ? [] : [goal])]),
  );
  const legs = held.map((foot): HeldLeg => ({
    leg: foot.leg ?? chainOf(shot, foot),
    // A leg that is stretched in its swing would snap.
    stands: [{ first: over.start, last: over.end }],
    wantedAt(frame, [x, y, z]) {
      const [dx, dy, dz] = foot.shiftAt(frame);
      return [x + dx, y + dy, z + dz];
    },
  }));
  const give = hipsGive(shot, legs, ease);
  yield { done: 0 };
  if (give) {
    yield* write(new Map([[give.row, give.seatAt]]), false);
    findings.push(finding('hipsGive', {}, rig.nodes[give.row]!.id, give.most));
  }
  yield* write(
    new Map(
      held.flatMap((foot) =>
        foot.goal < 0 ? [] : [[foot.goal, (frame: number) => shifted(foot.goal, foot, frame)] as const],
      ),
    ),
    true,
  );
  // A joint's carrier lies where it shall when the next one is asked.
  const byJoints = held.flatMap((foot) => (foot.leg ? [{ leg: foot.leg, foot }] : []));
  const stood = seatsOf(
    now,
    byJoints.flatMap(({ leg }) => [leg.root, leg.middle, leg.end]),
  );
  const bent = new Map(
    byJoints.map(
      ({ leg, foot }) =>
        [leg, bentLeg(stood, leg, framesOf(over), (frame) => shifted(foot.row, foot, frame))] as const,
    ),
  );
  for (const joint of ['root', 'middle', 'end'] as const)
    yield* write(
      new Map([...bent].map(([leg, at]) => [leg[joint], (frame: number) => at(frame)[joint]] as const)),
      false,
    );
  return { shot: now, touched: [...touched], findings };
}

/** How a leg lies by frame; each of its joints asks for the same. */
function bentLeg(
  seats: (frame: number, row: number) => Seat,
  leg: Leg,
  frames: Float64Array,
  footAt: (frame: number) => Seat,
) {
  const toward = kneeToward(seats, leg, frames);
  const known = new Map<number, ReturnType<typeof legSeats>>();
  return (frame: number) => {
    const found = known.get(frame) ?? legSeats((row) => seats(frame, row), leg, footAt(frame), toward(frame));
    known.set(frame, found);
    return found;
  };
}

/** The leg of a foot that its goal leads. */
function chainOf(shot: Shot, { row }: Foot): Leg {
  const { root, middle, end } = rigOf(shot).chains.find((chain) => chain.end === row)!;
  return { root, middle, end };
}

/**
 * By how much a foot is moved: over the ground to where it stands in the middle of its stand, eased in and out; between two stands that are near, from the one to the
 * other. Up and down it is moved alike on all frames, so that a step is as high as it was. @param ease frames @param up cm
 */
function shiftsOf(places: readonly Triple[], stands: readonly Stand[], ease: number, up: number) {
  return (frame: number): Triple => {
    // What is not moved counts as one, a stand the more the nearer it is.
    let [x, z, all] = [0, 0, 1];
    for (const { first, last } of stands) {
      const near = Math.min(Math.max(frame, first), last);
      const away = Math.abs(frame - near) / ease;
      if (away >= 1) continue;
      const stand = places[Math.round((first + last) / 2)]!;
      const [here, next] = [places[Math.floor(near)]!, places[Math.ceil(near)]!];
      const way = (axis: 0 | 2) => stand[axis] - here[axis] - (near % 1) * (next[axis] - here[axis]);
      const [dx, dz] = [way(0), way(2)];
      if (away === 0) return [dx, up, dz];
      const part = (1 + Math.cos(Math.PI * away)) / 2;
      const weight = part / (1 - part);
      x += weight * dx;
      z += weight * dz;
      all += weight;
    }
    return [x / all, up, z / all];
  };
}
