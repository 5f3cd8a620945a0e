/**
 * Holding a tolerance in space: no joint that the channels move, and no far end of their limbs, leaves its place by more than so much.
 *
 * Each channel begins with what moves the farthest point on its lever by the whole tolerance. The shots are compared
 * in space, between frames too; channels above a point that strays get less, until none does. Steps are taken a little short, so
 * that a comparison at yet finer steps finds no more than was asked.
 */
import type { FrameRange } from '../../base/frame-range.ts';
import { asPart } from '../../base/work.ts';
import type { Work } from '../../base/work.ts';
import { channelKind } from '../../rig/node.ts';
import { bodyPoints, movedBy } from '../../rig/influence.ts';
import type { Rig } from '../../rig/rig.ts';
import { driftBetween } from '../../advice/drift.ts';
import type { Drift } from '../../advice/drift.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

/** The part of the tolerance that is used: what lies between two looks is a little more than what is seen. */
const USED = 0.98;
const MOST_ROUNDS = 24;

interface Goal {
  readonly channels: readonly ChannelId[];
  /** cm, > 0 */
  readonly limit: number;
  readonly range: FrameRange;
  readonly looksPerFrame: number;
}

/**
 * The first fit that holds, and its drift; null where none does.
 * @param fitTo makes the fit within tolerances in the channels' own units; null where nothing was fitted
 */
export function* withinSpace<Fit extends { readonly shot: Shot }>(
  shot: Shot,
  { channels, limit, range, looksPerFrame }: Goal,
  fitTo: (toleranceOf: (channel: ChannelId) => number) => Work<Fit | null, unknown>,
): Work<{ readonly fit: Fit; readonly drift: Drift } | null> {
  const rig = rigOf(shot);
  const nodes = new Set(channels.map((id) => rig.indexOf(splitChannel(id).node)));
  const watched = movedBy(rig, nodes);
  const moves = new Map([...nodes].map((node) => [node, movedBy(rig, [node])]));
  const tolerances = new Map(channels.map((id) => [id, firstTolerance(rig, id, moves, limit * USED)]));
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    // Most shots hold after a few rounds: each takes half of what is left of the course.
    const [from, to] = [1 - 0.5 ** round, 1 - 0.5 ** (round + 1)];
    const fit = yield* asPart(
      fitTo((id) => tolerances.get(id)!),
      from,
      to,
    );
    if (fit === null) return null;
    const drift = driftBetween(shot, fit.shot, range, { perFrame: looksPerFrame, watched });
    const strays = drift.perPoint.map((distance) => distance / (limit * USED));
    if (strays.every((stray) => stray <= 1)) return { fit, drift };
    for (const id of channels) {
      const own = moves.get(rig.indexOf(splitChannel(id).node))!;
      let worst = 0;
      drift.points.forEach(({ node }, k) => {
        if (own[node] === 1 && strays[k]! > worst) worst = strays[k]!;
      });
      if (worst > 1) tolerances.set(id, tolerances.get(id)! * Math.max(0.35, Math.min(0.95, 0.92 / worst)));
    }
  }
  return null;
}

/** What moves the farthest point that the channel moves by `limit`, in the channel's unit. */
function firstTolerance(
  rig: Rig,
  id: ChannelId,
  moves: ReadonlyMap<number, Uint8Array>,
  limit: number,
): number {
  const { node, name } = splitChannel(id);
  const i = rig.indexOf(node);
  const kind = channelKind(name);
  if (kind === 'position') return limit;
  const from = rig.restPlaces[i]!;
  let lever = 0.1;
  for (const { node: other, at } of bodyPoints(rig)) {
    if (moves.get(i)![other] !== 1) continue;
    const place = rig.restPlaces[other]!;
    // Rest poses turn seldom: a far end's place is near enough without its node's turn.
    const away = Math.hypot(...place.map((value, axis) => value + at[axis]! - from[axis]!));
    lever = Math.max(lever, away);
  }
  return kind === 'rotation' ? ((limit / lever) * 180) / Math.PI : limit / lever;
}
