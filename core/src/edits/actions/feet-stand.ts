/**
 * Feet that stood stand: where an action comes from a figure of another build, its feet slide a little over the ground. Those that hang on goals are held where they stand by their goals;
 * how far feet slid and slide is said.
 */
import { finding, InputError } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import type { Curve } from '../../curve/curve.ts';
import { CurveReader } from '../../curve/evaluate.ts';
import { curveOf, framesPerSecond, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { worldAt, worldsOver } from '../../evaluation/evaluation.ts';
import { contactsOf, slideOf } from '../../mapping/contacts.ts';
import type { Contact } from '../../mapping/contacts.ts';
import type { TransferredPair } from '../../mapping/transfer.ts';
import type { Triple } from '../../math/euler.ts';
import { AT_REST } from '../../rig/node.ts';
import { seatFrom } from '../../rig/relations/seat.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { measured } from '../../rig/skeleton.ts';
import type { Skeleton } from '../../rig/skeleton.ts';
import { isHeldByLocks, keepMotion } from '../spaces/keep-motion.ts';
import { moverOf } from '../spaces/limb-goals.ts';

/** Motion of a figure of another build, as it is laid here. */
export interface MappedMotion {
  readonly skeleton: Skeleton;
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  /** Frames a second of them, and frames of the shot for each of theirs. */
  readonly rate: number;
  readonly stretch: number;
  readonly pairs: readonly TransferredPair[];
}

export interface FeetStand {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly findings: readonly Finding[];
}

/** A foot here: the end of a leg, when it stands, and the goal that holds it, or −1. */
interface Foot {
  readonly id: string;
  readonly row: number;
  readonly mover: number;
  /** By the frames of the range. */
  readonly stands: readonly Contact[];
}

/** cm, and cm a second: what is less is none. */
const [NO_SLIDE, WISHES] = [0.2, { distance: 0.02, angle: 0.05 }];
/** Seconds over which a foot comes to where it stands, and leaves it. */
const EASED = 0.2;

/** @param range the frames that the action covers here */
export function* feetStand(shot: Shot, motion: MappedMotion, range: FrameRange): Work<FeetStand, Shot> {
  const grid = framesOf({ start: Math.ceil(range.start), end: Math.floor(range.end) });
  const feet = feetOf(shot, motion, range, grid);
  if (feet.length === 0) return { shot, touched: [], findings: [] };
  const rate = framesPerSecond(shot.rate);
  const before = placesOf(shot, feet, grid);
  const was = feet.map(({ stands }, k) => slideOf(before[k]!, stands, rate));
  const most = Math.max(...was.map(({ greatest }) => greatest));
  if (most < NO_SLIDE) return { shot, touched: [], findings: [] };
  const names = feet.map(({ id }) => id);
  const held = feet.flatMap((foot, k) => (foot.mover < 0 ? [] : [{ ...foot, places: before[k]! }]));
  if (held.length === 0) return { shot, touched: [], findings: [finding('feetSlide', {}, names, most)] };
  const rig = rigOf(shot);
  const shifts = new Map(
    held.map(({ mover, places, stands }) => [
      rig.nodes[mover]!.id,
      { row: mover, at: shiftsOf(places, stands, EASED * rate) },
    ]),
  );
  const wanted = (node: string, frame: number): Seat | null => {
    const shift = shifts.get(node);
    if (!shift) return null;
    const seat = seatFrom(worldAt(shot, frame), shift.row);
    const [x, z] = shift.at(frame - grid[0]!);
    const matrix = Float64Array.from(seat.matrix);
    matrix[12]! += x;
    matrix[14]! += z;
    return { matrix, turn: seat.turn };
  };
  const over = { start: grid[0]!, end: grid[grid.length - 1]! };
  const rewrites = [...shifts.keys()].map((node) => ({ node, range: over, keys: 'frames' as const }));
  try {
    const kept = yield* keepMotion(shot, shot, rewrites, WISHES, wanted);
    const after = placesOf(kept.shot, feet, grid);
    const left = Math.max(...feet.map(({ stands }, k) => slideOf(after[k]!, stands, rate).greatest));
    return {
      shot: kept.shot,
      touched: kept.touched,
      findings: [finding('feetHeld', {}, names, most, left), ...kept.findings],
    };
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return { shot, touched: [], findings: [finding('feetSlide', {}, names, most), error.finding] };
  }
}

function feetOf(shot: Shot, motion: MappedMotion, range: FrameRange, grid: Float64Array): Foot[] {
  const { skeleton, curves, rate, stretch, pairs } = motion;
  const rig = rigOf(shot);
  const there = measured(skeleton);
  const source = shotOf(skeleton, curves, rate);
  const partner = new Map(pairs.map((pair) => [pair.target, pair.source]));
  const low = LOW * there.height + Math.min(...there.at.map(([, y]) => y));
  return rig.chains.flatMap((chain): Foot[] => {
    const [end, middle, root] = [chain.end, chain.middle, chain.root].map((row) =>
      there.rig.indexOf(partner.get(rig.nodes[row]!.id) ?? ''),
    );
    if (end! < 0 || middle! < 0 || root! < 0 || there.at[end!]![1] > low) return [];
    const leg = apart(there.at[root!]!, there.at[middle!]!) + apart(there.at[middle!]!, there.at[end!]!);
    const frames = framesOf({ start: 0, end: Math.floor((range.end - range.start) / stretch) });
    const [places] = placesAt(source, [end!], frames);
    const at = (frame: number) => range.start + frame * stretch - grid[0]!;
    const stands = contactsOf(places!, leg, rate).flatMap(({ first, last }): Contact[] => {
      const span = { first: Math.ceil(at(first)), last: Math.min(Math.floor(at(last)), grid.length - 1) };
      return span.last > span.first && span.first >= 0 ? [span] : [];
    });
    const relation = shot.relations.find(
      ({ node, kind }) => kind === 'reach' && node === rig.nodes[chain.end]!.id,
    );
    const weight = relation?.weight ? new CurveReader(curveOf(shot, null, relation.weight)) : null;
    const led = relation !== undefined && (weight === null || grid.every((frame) => weight.at(frame) === 1));
    const found = led ? moverOf(rig, chain.target) : -1;
    const mover = found >= 0 && !isHeldByLocks(shot, rig.nodes[found]!.id, range) ? found : -1;
    return stands.length > 0 ? [{ id: rig.nodes[chain.end]!.id, row: chain.end, mover, stands }] : [];
  });
}

/** Ankles lie within this part of the height above the lowest joint. */
const LOW = 0.2;
const apart = (p: Readonly<Triple>, q: Readonly<Triple>) => Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);

function shotOf(skeleton: Skeleton, curves: ReadonlyMap<ChannelId, Curve>, rate: number): Shot {
  const nodes = skeleton.bones.map((bone) => ({
    ...{ kind: 'joint' as const, pair: null, part: 'extra' as const, character: null, solids: [] },
    ...bone,
    rest: { ...AT_REST, ...bone.rest },
  }));
  const bare = newShot(
    '',
    nodes,
    [],
    { numerator: Math.round(rate * 1000), denominator: 1000 },
    { start: 0, end: 1 },
  );
  const rig = rigOf(bare);
  return withCurves(bare, null, new Map([...curves].filter(([id]) => rig.channelIndex(id) >= 0)));
}

const placesOf = (shot: Shot, feet: readonly Foot[], grid: Float64Array) =>
  placesAt(
    shot,
    feet.map(({ row }) => row),
    grid,
  );

function placesAt(shot: Shot, rows: readonly number[], frames: Float64Array): Triple[][] {
  const places: Triple[][] = rows.map(() => []);
  for (const { pose } of worldsOver(shot, frames))
    rows.forEach((row, k) =>
      places[k]!.push([...pose.matrices.subarray(row * 16 + 12, row * 16 + 15)] as Triple),
    );
  return places;
}

/**
 * By how much a foot is moved over the ground: to where it stands in the middle of its stand, eased in and out; between two stands that are near, from the one to the
 * other. @param ease frames
 */
function shiftsOf(places: readonly Triple[], stands: readonly Contact[], ease: number) {
  return (frame: number): [number, number] => {
    // What is not moved counts as one, a stand the more the nearer it is.
    let [x, z, all] = [0, 0, 1];
    for (const { first, last } of stands) {
      const near = Math.min(Math.max(frame, first), last);
      const away = Math.abs(frame - near) / ease;
      if (away >= 1) continue;
      const [stand, here] = [places[Math.round((first + last) / 2)]!, places[Math.round(near)]!];
      const shift: [number, number] = [stand[0] - here[0], stand[2] - here[2]];
      if (away === 0) return shift;
      const part = (1 + Math.cos(Math.PI * away)) / 2;
      const weight = part / (1 - part);
      x += weight * shift[0];
      z += weight * shift[1];
      all += weight;
    }
    return [x / all, z / all];
  };
}
