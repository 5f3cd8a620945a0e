/**
 * Motion carried from one skeleton over to another: joints point the same way in the world, whatever their rest orientations and the orders of
 * their angles are, and places are scaled by the heights if that is wanted.
 *
 * With C the turn from where the one faces to where the other does, rest turns W in the world and D = W⁻¹ C⁻¹ Q V for a pair (Q takes the bone of
 * the target at rest to that of the source), R′ = C R D. With B = (rest to the pair above, target)⁻¹ · D of that pair⁻¹ and T the turn from the pair
 * above to the joint in the source, a joint's own turn becomes E′ = B · T · D. Where only rests lie between, T is constant but for the joint's own E,
 * and where the constants are nothing too the curves stay as they are; what moves between the two without a partner of its own (a twist joint, a root
 * above the hips) goes along in T.
 */
import type { Work } from '../base/work.ts';
import type { Curve } from '../curve/curve.ts';
import { EMPTY_CURVE } from '../curve/curve.ts';
import { CurveReader } from '../curve/evaluate.ts';
import { rebuild } from '../curve/rebuild.ts';
import { eulerFromQuat, quatFromEuler } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { angleBetween, conjugate, multiply, rotate, rotationBetween, unit } from '../math/quaternion.ts';
import { constantCurve } from '../document/shot.ts';
import type { ChannelId } from '../document/shot.ts';
import type { Pair } from './match.ts';
import { pairedLegs, proportionOf } from './proportion.ts';
import { liftOf, NO_LIFT } from './lift.ts';
import { pathFrom } from './path-between.ts';
import type { Path } from './path-between.ts';
import { measured, standsAbove, turnAbout } from '../rig/skeleton.ts';
import type { Measured, Skeleton } from '../rig/skeleton.ts';
import { sharedBend } from './shared-bend.ts';
import { anglesAlong, threeAlong } from './turn-along.ts';

/** How a pair is carried over. */
export interface TransferredPair extends Pair {
  /** Degrees between how their bones lie at rest. */
  readonly turned: number;
  /** The length of the target's bone against the source's, beyond what the proportion of the figures accounts for; 1 is as long. */
  readonly longer: number;
}

export interface Transfer {
  /** By the target's channels. */
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  readonly pairs: readonly TransferredPair[];
  /** Channels of paired joints that the target lacks. */
  readonly lacking: readonly ChannelId[];
  /** Joints of the source without a partner whose motion goes along in what hangs on them. */
  readonly along: readonly string[];
  /** What places were multiplied by. */
  readonly size: number;
  /** The joints of the two backs, where what the one bends is shared out over another number. */
  readonly shared: { readonly ours: readonly string[]; readonly theirs: readonly string[] } | null;
}

/** Turns smaller than this, degrees, and parts nearer to 1 are none. */
const NEAR = 1e-6;

/**
 * @param curves of the source, by its channels
 * @param scaled whether places go by the proportion of the two (`proportion.ts`), or by a number that is said
 */
export function* transferMotion(
  from: Skeleton,
  to: Skeleton,
  pairs: readonly Pair[],
  curves: ReadonlyMap<ChannelId, Curve>,
  scaled: boolean | number,
): Work<Transfer> {
  const shared = sharedBend(from, to, pairs, curves);
  if (!shared) return { ...(yield* transferred(from, to, pairs, curves, scaled)), shared: null };
  const { ours, theirs } = shared;
  const done = yield* transferred(shared.skeleton, to, shared.pairs, shared.curves, scaled);
  const known = new Map(done.pairs.map((pair) => [pair.source, pair]));
  return {
    ...done,
    pairs: pairs.map((pair) => known.get(pair.source) ?? { ...pair, turned: 0, longer: 1 }),
    along: done.along.filter((id) => !ours.includes(id)),
    shared: { ours, theirs },
  };
}

function* transferred(
  from: Skeleton,
  to: Skeleton,
  pairs: readonly Pair[],
  curves: ReadonlyMap<ChannelId, Curve>,
  scaled: boolean | number,
): Work<Omit<Transfer, 'shared'>> {
  const [a, b] = [measured(from), measured(to)];
  const facing = turnAbout(to.facing - from.facing);
  const proportion = proportionOf(a, b, pairs);
  const legs = pairedLegs(a, b, pairs);
  const size = typeof scaled === 'number' ? scaled : scaled ? proportion : 1;
  const turns = new Map<string, Joint>();
  const result = new Map<ChannelId, Curve>();
  const lacking: ChannelId[] = [];
  const along = new Set<string>();
  const partner = new Map(pairs.map((pair) => [pair.source, pair.target]));
  const carried = new Map<string, TransferredPair>();
  // What a joint of the target hangs on is known before it.
  const depth = new Map([...b.rig.order].map((row, at) => [b.bones[row]!.id, at]));
  const byDepth = [...pairs].sort((p, q) => depth.get(p.target)! - depth.get(q.target)!);
  for (const [k, pair] of byDepth.entries()) {
    if (k > 0) yield { done: k / byDepth.length };
    const [i, j] = [a.rig.indexOf(pair.source), b.rig.indexOf(pair.target)];
    const above = pairAbove(a, b, i, j, partner, turns);
    const joint = jointOf(a, b, i, j, facing, above, partner);
    turns.set(pair.source, joint);
    carried.set(pair.source, {
      ...pair,
      turned: joint.turned,
      longer: longerOf(a, b, i, j, above, proportion),
    });
    const path = pathFrom(a, above.source, i, curves);
    // A partner of something else that the target's joint hangs on: its turn is taken off again.
    const under = pathFrom(b, above.target, j, result);
    for (const id of path.joints) if (!partner.has(id)) along.add(id);
    const own = (name: string) => curves.get(`${pair.source}.${name}`);
    const has = (name: string) => b.bones[j]!.channels.includes(name);
    const lay = (name: string, curve: Curve | undefined) => {
      if (curve === undefined) return;
      if (has(name)) result.set(`${pair.target}.${name}`, curve);
      else lacking.push(`${pair.target}.${name}`);
    };
    const rotation = TURN.map(own);
    if (path.turns || under.turns || rotation.some((curve) => curve !== undefined))
      turnedCurves(rotation, a, b, i, j, joint, path, under).forEach((curve, axis) =>
        lay(TURN[axis]!, curve),
      );
    else for (const [name, value] of stillOn(result, b, j, above, joint)) if (has(name)) lay(name, value);
    const position = PLACE.map(own);
    const isMoved = position.some((curve) => curve !== undefined);
    const lift =
      scaled === false
        ? NO_LIFT
        : liftOf(a, b, i, j, above.source, above.target, size, typeof scaled === 'number' ? [] : legs);
    if (isMoved || path.moves)
      movedCurves(position, joint, size, path, lift).forEach((curve, axis) => {
        // Where only those above moved it, a joint that cannot be moved lacks nothing that it had.
        if (isMoved || has(PLACE[axis]!)) lay(PLACE[axis]!, curve);
      });
    else
      PLACE.forEach((name, axis) => {
        const over = firstOf(result, b, above.target, PLACE);
        if (over && has(name) && Math.abs(lift[axis]!) > NEAR)
          lay(name, constantCurve(lift[axis]!, over.times[0]));
      });
    for (const name of a.bones[i]!.channels) {
      const curve = own(name);
      if (curve && !TURN.includes(name) && !PLACE.includes(name)) lay(name, curve);
    }
  }
  return {
    curves: result,
    pairs: pairs.map(({ source }) => carried.get(source)!),
    lacking,
    along: [...along],
    size,
  };
}

const TURN = ['rx', 'ry', 'rz'];
const PLACE = ['tx', 'ty', 'tz'];

interface Joint {
  /** E′ = base · T · right, and left · E · right where only rests lie between. */
  readonly base: Quaternion;
  readonly left: Quaternion;
  readonly right: Quaternion;
  /** From the axes of the pair above in the source to those in the target. */
  readonly across: Quaternion;
  /** What turns a place in the axes of the source's parent into those of the target's. */
  readonly moves: Quaternion;
  /** The same from the axes of the pair above. */
  readonly movesFromAbove: Quaternion;
  /** What turns the target's bone at rest onto the source's. */
  readonly bend: Quaternion;
  readonly turned: number;
}

/** The nearest pair that stands above both; −1 where none does. */
interface Above {
  readonly source: number;
  readonly target: number;
  readonly right: Quaternion;
  readonly bend: Quaternion;
}

function pairAbove(
  a: Measured,
  b: Measured,
  i: number,
  j: number,
  partner: ReadonlyMap<string, string>,
  turns: ReadonlyMap<string, Joint>,
): Above {
  for (let up = a.rig.parents[i]!; up >= 0; up = a.rig.parents[up]!) {
    const { id } = a.bones[up]!;
    const known = turns.get(id);
    const target = known ? b.rig.indexOf(partner.get(id)!) : -1;
    if (known && standsAbove(b, target, j))
      return { source: up, target, right: known.right, bend: known.bend };
  }
  return { source: -1, target: -1, right: [0, 0, 0, 1], bend: [0, 0, 0, 1] };
}

function jointOf(
  a: Measured,
  b: Measured,
  i: number,
  j: number,
  facing: Quaternion,
  above: Above,
  partner: ReadonlyMap<string, string>,
): Joint {
  const [w, v] = [a.rig.restTurns[i]!, b.rig.restTurns[j]!];
  const bend = bendBetween(a, b, i, j, facing, above, partner);
  const right = unit(multiply(multiply(conjugate(w), conjugate(facing)), multiply(bend, v)));
  const restOf = ({ rig }: Measured, row: number, from: number) =>
    from < 0 ? rig.restTurns[row]! : multiply(conjugate(rig.restTurns[from]!), rig.restTurns[row]!);
  const across = above.source < 0 ? facing : conjugate(above.right);
  const base = unit(multiply(conjugate(restOf(b, j, above.target)), across));
  const left = unit(multiply(base, restOf(a, i, above.source)));
  const parentOf = (of: Measured, row: number, from: number): Quaternion => {
    const parent = of.rig.parents[row]!;
    if (parent < 0 || parent === from) return [0, 0, 0, 1];
    return restOf(of, parent, from);
  };
  const movesFromAbove = unit(multiply(conjugate(parentOf(b, j, above.target)), across));
  const moves = unit(multiply(movesFromAbove, parentOf(a, i, above.source)));
  return { base, left, right, across, moves, movesFromAbove, bend, turned: angleBetween(bend, [0, 0, 0, 1]) };
}

/**
 * What turns the target's bone at rest onto the source's. A joint from which several bones go, and the last of a limb, goes with the bone that leads to it: a hand lies
 * straight on its arm whether that is spread at rest or hangs. Where nothing leads to it, it lies as it lies.
 */
function bendBetween(
  a: Measured,
  b: Measured,
  i: number,
  j: number,
  facing: Quaternion,
  above: Above,
  partner: ReadonlyMap<string, string>,
): Quaternion {
  const next = nextPaired(a, i, partner).flatMap((child) => {
    const row = b.rig.indexOf(partner.get(a.bones[child]!.id)!);
    return standsAbove(b, j, row) ? [[child, row] as const] : [];
  });
  if (next.length !== 1) return above.bend;
  const [child, row] = next[0]!;
  // A sole lies flat whatever the slope from its ankle to its toes: a foot goes by where it points over the ground.
  const isFoot = [i, child].every((one) => liesLow(a, one)) && [j, row].every((one) => liesLow(b, one));
  const ours = directionOf(a, i, child, isFoot);
  const theirs = directionOf(b, j, row, isFoot);
  return ours && theirs ? rotationBetween(theirs, rotate(facing, ...ours)) : [0, 0, 0, 1];
}

/** The nearest joints below that have a partner: a twist joint between is passed. */
const nextPaired = (of: Measured, row: number, partner: ReadonlyMap<string, string>): number[] =>
  of.children[row]!.flatMap((child) =>
    partner.has(of.bones[child]!.id) ? [child] : nextPaired(of, child, partner),
  );

/** Whether a joint lies near the ground, in heights of its figure. */
const liesLow = ({ places }: Measured, row: number): boolean => places[row]![1] < 0.1;

function directionOf({ at }: Measured, from: number, to: number, flat: boolean): Triple | null {
  const [p, q] = [at[from]!, at[to]!];
  const way: Triple = [q[0] - p[0], flat ? 0 : q[1] - p[1], q[2] - p[2]];
  const length = Math.hypot(...way);
  return length < 1e-6 ? null : [way[0] / length, way[1] / length, way[2] / length];
}

function longerOf(
  a: Measured,
  b: Measured,
  i: number,
  j: number,
  { source, target }: Above,
  proportion: number,
): number {
  if (source < 0) return 1;
  const bone = ({ at }: Measured, from: number, to: number) => {
    const [p, q] = [at[from]!, at[to]!];
    return Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
  };
  const was = bone(a, source, i);
  return was < 1e-6 ? 1 : bone(b, target, j) / (was * proportion);
}

/** What a joint that does not turn by itself is turned by, where what it hangs on is: else it would go along with how that lies at rest. */
function stillOn(
  result: ReadonlyMap<ChannelId, Curve>,
  b: Measured,
  j: number,
  above: Above,
  { left, right }: Joint,
): [string, Curve][] {
  const turn = unit(multiply(left, right));
  if (isNothing(turn)) return [];
  const over = firstOf(result, b, above.target, TURN);
  if (!over) return [];
  const angles = eulerFromQuat(turn, b.bones[j]!.order, [0, 0, 0]);
  return TURN.map((name, axis) => [name, constantCurve(angles[axis]!, over.times[0])]);
}

/** The first of some curves that a joint of the target has by now. */
const firstOf = (
  result: ReadonlyMap<ChannelId, Curve>,
  { bones }: Measured,
  row: number,
  names: readonly string[],
): Curve | undefined => names.flatMap((name) => result.get(`${bones[row]?.id}.${name}`) ?? [])[0];

const isNothing = (turn: Quaternion) => angleBetween(turn, [0, 0, 0, 1]) < NEAR;

/** The three angles of the target; the source's own curves where nothing lies between them. */
function turnedCurves(
  own: readonly (Curve | undefined)[],
  a: Measured,
  b: Measured,
  i: number,
  j: number,
  { base, left, right, across }: Joint,
  path: Path,
  under: Path,
): (Curve | undefined)[] {
  const [was, is] = [a.bones[i]!.order, b.bones[j]!.order];
  if (!path.turns && !under.turns && was === is && isNothing(left) && isNothing(right)) return [...own];
  const readers = own.map((curve) => new CurveReader(curve ?? EMPTY_CURVE));
  const before = (frame: number) => {
    if (!path.turns && !under.turns) return left;
    const from = under.turns ? multiply(conjugate(under.turnAt(frame)), across) : base;
    return multiply(from, path.turnAt(frame));
  };
  const turnAt = (frame: number) => {
    const turn: Quaternion = [0, 0, 0, 1];
    quatFromEuler(turn, 0, readers[0]!.at(frame), readers[1]!.at(frame), readers[2]!.at(frame), was);
    return unit(multiply(multiply(before(frame), turn), right));
  };
  return anglesAlong(turnAt, is, [...own, ...path.curves, ...under.curves]);
}

/** The three positions of the target. */
function movedCurves(
  own: readonly (Curve | undefined)[],
  { moves, movesFromAbove }: Joint,
  size: number,
  path: Path,
  lift: Triple,
): (Curve | undefined)[] {
  // Keys, handles and what a curve does past them stay where nothing is turned.
  if (!path.moves && isNothing(moves) && own.every((curve, axis) => curve || Math.abs(lift[axis]!) < NEAR))
    return own.map((curve, axis) => curve && raisedBy(scaledBy(curve, size), lift[axis]!));
  const readers = own.map((curve) => new CurveReader(curve ?? EMPTY_CURVE));
  const placeAt = (frame: number): Triple => {
    const place: Triple = [readers[0]!.at(frame), readers[1]!.at(frame), readers[2]!.at(frame)];
    return path.moves ? rotate(movesFromAbove, ...path.shiftAt(frame, place)) : rotate(moves, ...place);
  };
  const at = (frame: number) => placeAt(frame).map((value, axis) => size * value + lift[axis]!) as Triple;
  return threeAlong(at, [...own, ...path.curves]);
}

function scaledBy(curve: Curve, size: number): Curve {
  if (Math.abs(size - 1) < NEAR) return curve;
  return rebuild(curve, null, (columns) => {
    for (const name of ['values', 'slopesIn', 'slopesOut'] as const)
      for (let row = 0; row < columns.times.length; row += 1) columns[name][row]! *= size;
  });
}

function raisedBy(curve: Curve, by: number): Curve {
  if (Math.abs(by) < NEAR) return curve;
  return rebuild(curve, null, ({ values }) => {
    for (let row = 0; row < values.length; row += 1) values[row]! += by;
  });
}
