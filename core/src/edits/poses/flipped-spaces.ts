/**
 * What follows others, flipped: it follows their partners, and lies where its mirror image lay. Its own keys are said in the axes of what carries
 * it, which is another one then, so they are found anew from the place in the world.
 */
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import type { Triple } from '../../math/euler.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { newSeat, seatInto } from '../../rig/relations/seat.ts';
import { placeIn, valuesAt, worldAt } from '../../shot/evaluation.ts';
import type { PlaneChoice } from '../../shot/mirror-plane.ts';
import { reflectedPlacement, reflectedPoint } from '../../shot/reflection.ts';
import { curveOf, rigOf, withCurves } from '../../shot/shot.ts';
import type { ChannelId, Shot } from '../../shot/shot.ts';
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
  const led = [...rig.order].filter((row) => {
    const { id, pair } = rig.nodes[row]!;
    return pair !== null && nodes.has(id) && nodes.has(pair) && carriedBy(before, pair).length > 0;
  });
  if (led.length === 0) return { shot: after, touched: [], unlike: [] };
  const looks = [0, 0.25, 0.5, 0.75, 1].map((part) => range.start + part * (range.end - range.start));
  const mirroringOf = mirrorings(
    before,
    looks.map((frame) => valuesAt(before, frame)),
    choice,
  );
  const length = range.end - range.start;
  const place = { start: at, end: at + length };
  const unlike = new Set<string>();
  const touched = new Set<ChannelId>();
  let shot = after;
  for (const row of led) {
    const { id, pair } = rig.nodes[row]!;
    for (const relation of carriedBy(before, pair!)) {
      const switched = exchanged(before, shot, id, relation, range, place);
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
    const seat = newSeat();
    const wanted = (_: string, frame: number) => {
      seatInto(seat, worldAt(before, Math.min(frame - at + range.start, range.end)), row);
      const image = reflectedPlacement(rig, row, to, mirroring.plane, seat);
      for (let axis = 0; axis < 3; axis += 1) image.matrix[12 + axis]! += travel[axis]!;
      return image;
    };
    const rewrite = { node: rig.nodes[to]!.id, range: place, keys: 'existing' as const };
    const kept = yield* keepMotion(shot, shot, [rewrite], NEAR, wanted);
    shot = kept.shot;
    for (const channel of kept.touched) touched.add(channel);
  }
  return { shot, touched: [...touched], unlike: [...unlike] };
}

/** The relations that change what carries a node. */
const carriedBy = (shot: Shot, node: string): readonly Relation[] =>
  shot.relations.filter((relation) => relation.node === node && relationKindOf(relation)?.seat);

/** The switch of a relation with the partners of what it had; null where it has none, or nothing changes. */
function exchanged(
  before: Shot,
  after: Shot,
  from: string,
  relation: Relation,
  range: FrameRange,
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
      ? partners[Math.min(targetAt(source, frame - place.start + range.start), partners.length - 1)]!
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
