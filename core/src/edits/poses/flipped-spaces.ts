/**
 * What follows others, flipped: it follows their partners, and lies where its mirror image lay. Its own keys are said in the axes of what carries
 * it, which is another one then, so they are found anew from the place in the world.
 */
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { FLAG } from '../../curve/curve.ts';
import type { Triple } from '../../math/euler.ts';
import type { Relation, Seat } from '../../rig/relations/relation.ts';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { newSeat, offsetBetween, seatInto, seatOn } from '../../rig/relations/seat.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import type { MirrorPlane, PlaneChoice } from '../../mirror/mirror-plane.ts';
import { reflectedPlacement, reflectedPoint } from '../../mirror/reflection.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { channelsOn } from '../../rig/keep.ts';
import { channelKind, TRANSFORM } from '../../rig/node.ts';
import { seatOf } from '../../rig/pose.ts';
import { keepMotion } from '../spaces/keep-motion.ts';
import { switchThrough, targetAt } from '../spaces/switch-curve.ts';
import type { Span } from '../spaces/switch-curve.ts';
import { mirrorings } from './flipped-pose.ts';

/** How near the mirror image its keys keep it between frames: 0.1 mm, 0.05°. */
const NEAR = { distance: 0.01, angle: 0.05 };

export interface FlippedSpaces {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  /** Controls that follow something whose partner their relation does not know. */
  readonly unlike: readonly string[];
  /** Channels that are locked: the controls that have them are left as their curves were flipped. */
  readonly locked: readonly ChannelId[];
}

/**
 * @param before the shot as it was, @param after with the curves of all controls flipped
 * @param nodes controls that were flipped, with their partners
 * @param range what was flipped, @param at where that begins now
 */
export function* flippedSpaces(
  before: Shot,
  after: Shot,
  nodes: ReadonlySet<string>,
  range: FrameRange,
  at: number,
  choice: PlaneChoice,
): Work<FlippedSpaces, Shot> {
  const rig = rigOf(before);
  const locked: ChannelId[] = [];
  const led = [...rig.order].filter((row) => {
    const { id, pair } = rig.nodes[row]!;
    if (pair === null || !nodes.has(id) || !nodes.has(pair) || carriedBy(before, pair).length === 0)
      return false;
    const held = locksOf(before, pair);
    locked.push(...held);
    return held.length === 0;
  });
  if (led.length === 0) return { shot: after, touched: [], unlike: [], locked };
  const looks = [0, 0.25, 0.5, 0.75, 1].map((part) => range.start + part * (range.end - range.start));
  const mirroringOf = mirrorings(
    before,
    looks.map((frame) => valuesAt(before, frame)),
    choice,
  );
  const length = range.end - range.start;
  // Placed after the range, its first frame is the range's last, which stays.
  const place = { start: at === range.start ? at : at + 1, end: at + length };
  const sourceOf = (frame: number) => Math.min(frame - at + range.start, range.end);
  const unlike = new Set<string>();
  const touched = new Set<ChannelId>();
  let shot = after;
  for (const row of led) {
    const { id, pair } = rig.nodes[row]!;
    for (const relation of carriedBy(before, pair!)) {
      const switched = exchanged(before, shot, id, relation, sourceOf, place);
      if (switched === null) continue;
      if (switched === 'unlike') unlike.add(pair!);
      else {
        shot = withCurves(shot, null, new Map([[relation.switch!, switched]]));
        touched.add(relation.switch!);
      }
    }
  }
  const travel = travelOf(before, shot, nodes, range, place, mirroringOf);
  for (const row of led) {
    const to = rig.indexOf(rig.nodes[row]!.pair!);
    const mirroring = mirroringOf(row, false);
    if (mirroring === null) continue;
    const now: Shot = shot;
    const imageAt = (frame: number) =>
      imageOn(before, now, row, nodes, { source: sourceOf(frame), frame, plane: mirroring.plane, travel });
    const wanted = (_: string, frame: number) => imageAt(frame);
    const rewrite = { node: rig.nodes[to]!.id, range: place, keys: 'existing' as const };
    const kept = yield* keepMotion(shot, shot, [rewrite], NEAR, wanted);
    shot = kept.shot;
    for (const channel of kept.touched) touched.add(channel);
  }
  return { shot, touched: [...touched], unlike: [...unlike], locked };
}

interface ImageAsked {
  /** The frame that is reflected, of the shot as it was. */
  readonly source: number;
  /** The frame on which it shall lie so, of the shot as it is. */
  readonly frame: number;
  readonly plane: MirrorPlane;
  readonly travel: Triple;
}

/** Where the partner of a node comes to lie, so that it is the node's mirror image. */
function imageOn(
  before: Shot,
  now: Shot,
  row: number,
  nodes: ReadonlySet<string>,
  { source, frame, plane, travel }: ImageAsked,
): Seat {
  const rig = rigOf(before);
  const to = rig.indexOf(rig.nodes[row]!.pair!);
  const seat = newSeat();
  const imageOf = (from: number, onto: number): Seat => {
    seatInto(seat, worldAt(before, source), from);
    return reflectedPlacement(rig, from, onto, plane, seat);
  };
  const image = imageOf(row, to);
  const [relation] = carriedBy(before, rig.nodes[to]!.id);
  const carrier = carrierOf(now, relation!, frame);
  const pair = carrier < 0 ? null : rig.nodes[carrier]!.pair;
  if (pair !== null && nodes.has(pair) && nodes.has(rig.nodes[carrier]!.id)) {
    // Where what carries it is not yet its mirror image, it goes with that.
    const meant = offsetBetween(imageOf(rig.indexOf(pair), carrier), image);
    if (meant) return seatOn(worldAt(now, frame), carrier, meant);
  }
  for (let axis = 0; axis < 3; axis += 1) image.matrix[12 + axis]! += travel[axis]!;
  return image;
}

/**
 * What relations carry, in a pose that was flipped on one frame: each lies where its mirror image lay, still carried by what carries it there, since
 * a switch is no part of a pose.
 * @param write makes the shot in which a control's channels have these values on the frame
 * @param side whose controls are reflected onto the others; null is both
 */
export function withCarriedFlipped(
  before: Shot,
  after: Shot,
  nodes: ReadonlySet<string>,
  frame: number,
  choice: PlaneChoice,
  side: 'left' | 'right' | null,
  write: (shot: Shot, values: ReadonlyMap<ChannelId, number>) => Shot,
): { readonly shot: Shot; readonly carried: readonly string[] } {
  const rig = rigOf(before);
  const mirroringOf = mirrorings(before, [valuesAt(before, frame)], choice);
  const carried: string[] = [];
  let shot = after;
  for (const row of rig.order) {
    const { id, pair, side: own } = rig.nodes[row]!;
    if (pair === null || !nodes.has(id) || !nodes.has(pair) || (side !== null && own !== side)) continue;
    const mirroring = carriedBy(before, pair).length > 0 ? mirroringOf(row, false) : null;
    if (mirroring === null) continue;
    const to = rig.indexOf(pair);
    const image = imageOn(before, shot, row, nodes, {
      ...{ source: frame, frame, plane: mirroring.plane, travel: [0, 0, 0] },
    });
    const pose = worldAt(shot, frame);
    const shown = valuesAt(shot, frame);
    const near = TRANSFORM.map(
      (name, slot) => shown[rig.slots[to * 9 + slot]!] ?? (channelKind(name) === 'scale' ? 1 : 0),
    );
    const found = [...near];
    if (!channelsOn(found, rig, to, seatOf(rig, pose, to), image, near)) continue;
    const values = TRANSFORM.flatMap((name, slot) =>
      rig.slots[to * 9 + slot]! < 0 ? [] : [[`${pair}.${name}`, found[slot]!] as const],
    );
    shot = write(shot, new Map(values));
    carried.push(pair);
  }
  return { shot, carried };
}

/** A node's channels that no edit may write, and those with a key that none may. */
const locksOf = (shot: Shot, node: string): ChannelId[] =>
  rigOf(shot)
    .nodes[rigOf(shot).indexOf(node)]!.channels.map((name) => `${node}.${name}`)
    .filter(
      (id) =>
        shot.locked.includes(id) || curveOf(shot, null, id).flags.some((flag) => (flag & FLAG.locked) !== 0),
    );

/** The relations that change what carries a node. */
const carriedBy = (shot: Shot, node: string): readonly Relation[] =>
  shot.relations.filter((relation) => relation.node === node && relationKindOf(relation)?.seat);

/** The row of what carries a node at a frame; −1 is the world, or several at once. */
function carrierOf(shot: Shot, { targets, switch: by }: Relation, frame: number): number {
  if (by === null && targets.length > 1) return -1;
  const target = targets[by === null ? 0 : targetAt(curveOf(shot, null, by), frame)];
  return target?.node == null ? -1 : rigOf(shot).indexOf(target.node);
}

/** The switch of a relation with the partners of what it had; null where it has none, or nothing changes. */
function exchanged(
  before: Shot,
  after: Shot,
  from: string,
  relation: Relation,
  sourceOf: (frame: number) => number,
  place: FrameRange,
) {
  if (relation.switch === null) return null;
  const twin = carriedBy(before, from).find(({ kind, switch: by }) => kind === relation.kind && by !== null);
  if (!twin) return 'unlike';
  const pairOf = (node: string | null) =>
    node === null ? null : (before.nodes[rigOf(before).indexOf(node)]?.pair ?? node);
  const partners = twin.targets.map(({ node }) =>
    relation.targets.findIndex((target) => target.node === pairOf(node)),
  );
  if (partners.includes(-1)) return 'unlike';
  const [source, own] = [curveOf(before, null, twin.switch!), curveOf(before, null, relation.switch)];
  const spans: Span[] = [];
  for (const frame of framesOf(after.range)) {
    const inside = frame >= place.start - 1e-6 && frame <= place.end + 1e-6;
    const target = inside
      ? partners[Math.min(targetAt(source, sourceOf(frame)), partners.length - 1)]!
      : targetAt(own, frame);
    if (spans.at(-1)?.target !== target) spans.push({ start: frame, end: frame, target });
  }
  return switchThrough(spans);
}

/** How far what was flipped has been carried on: by what stands above all others that were. */
function travelOf(
  before: Shot,
  after: Shot,
  nodes: ReadonlySet<string>,
  range: FrameRange,
  place: FrameRange,
  mirroringOf: ReturnType<typeof mirrorings>,
): Triple {
  const rig = rigOf(before);
  const lead = [...rig.order].find((row) => {
    const { id, pair, channels, character } = rig.nodes[row]!;
    return pair !== null && nodes.has(id) && character !== null && channels.includes('tx');
  });
  const mirroring = lead === undefined ? null : mirroringOf(lead, false);
  if (lead === undefined || mirroring === null || place.start === range.start) return [0, 0, 0];
  const image = reflectedPoint(mirroring.plane, placeIn(worldAt(before, range.end), lead));
  const now = placeIn(worldAt(after, place.end), rig.indexOf(rig.nodes[lead]!.pair!));
  return [now[0] - image[0], now[1] - image[1], now[2] - image[2]];
}
