/**
 * Placements that carry on begin where the figure stands, whatever becomes of what lies before them: after every edit it is worked out anew how each is carried, from
 * the lowest up, and what moves by that is said. A change of time takes a block along as it was; one that no longer begins where the figure stands then stays so.
 */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { contextOf } from '../../evaluation/context.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { moveBetween, movedPlace, STAY, stanceOf } from '../../layers/placements/ground.ts';
import type { GroundMove, Stance } from '../../layers/placements/ground.ts';
import { beginningOf } from '../../layers/placements/over-ground.ts';
import type { Signals } from '../../layers/signal.ts';
import { rigOf, withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placementsOf } from './placement-option.ts';
import type { Placement } from './placement-option.ts';

/** Less than this is rounding: cm, degrees. */
const NOTHING = 1e-6;
/** Less than this is not worth a sentence: cm, degrees. */
const TOLD = 0.01;
/** A placement that ended no longer ago than this is what lies before, frames. */
const JUST_BEFORE = 1;

/**
 * @param before the shot ahead of the edit: what it did not have is laid now, and needs no sentence
 * @param keepsTime whether the edit took blocks through time, which keeps what showed
 */
export function withCarriesAnew(
  before: Shot,
  after: Shot,
  keepsTime: boolean,
): { readonly shot: Shot; readonly findings: Finding[] } {
  const findings: Finding[] = [];
  let shot = after;
  for (const { id } of placementsOf(after)) {
    const block = placementsOf(shot).find((one) => one.id === id)!;
    if (!block.settings.carriesOn) continue;
    const found = carryFor(shot, block);
    if (!found) continue;
    const { carry, begin } = found;
    const [cm, degrees] = apart(carry, block.settings.carry ?? STAY, begin);
    if (cm < NOTHING && degrees < NOTHING) continue;
    const told = (cm > TOLD || degrees > TOLD) && before.layers.some((one) => one.id === id);
    const code = block.locked ? 'carryLocked' : keepsTime ? 'carryEnds' : 'carriedAnew';
    if (told) findings.push(finding(code, { frame: block.range.start }, block.name, cm, degrees));
    if (block.locked) continue;
    shot = withLayer(shot, id, (was) => ({
      ...was,
      settings: { ...was.settings, ...(keepsTime ? { carriesOn: false } : { carry }) },
    }));
  }
  return { shot, findings };
}

/** How a block is to be carried so that it begins where the shot stands under it, and where it would begin by itself; null where it does not count, or moves nothing over the ground. */
function carryFor(
  shot: Shot,
  block: Placement,
): { readonly carry: GroundMove; readonly begin: Stance } | null {
  const level = stackOf(shot).levels.find(({ layer }) => layer.id === block.id);
  const own = beginningOf(block, contextOf(shot));
  if (!level || !own) return null;
  const now = standsAt(shot, level.below, own.node, lastBefore(shot, block));
  // What the action does not turn goes on as it faces.
  const begin = own.turns ? own.stance : { ...own.stance, turn: now.turn };
  return { carry: moveBetween(begin, now), begin };
}

function standsAt(shot: Shot, below: Signals, node: number, frame: number): Stance {
  const rig = rigOf(shot);
  const { rest, order } = rig.nodes[node]!;
  const values = [0, 1, 2, 3, 4, 5].map((slot) => {
    const c = rig.slots[node * 9 + slot]!;
    return c < 0 ? 0 : below[c]!.at(frame);
  });
  return stanceOf(values, rest, order);
}

/** The frame by which it goes: its first, or the end of a placement below that has just ended. */
function lastBefore(shot: Shot, { id, range: { start } }: Placement): number {
  const all = placementsOf(shot);
  const ends = all
    .slice(
      0,
      all.findIndex((one) => one.id === id),
    )
    .map(({ range }) => range.end);
  const just = ends.filter((end) => end <= start && end >= start - JUST_BEFORE);
  return just.length > 0 ? Math.max(...just) : start;
}

/** How far a beginning goes from one carry to another, cm, and how far it turns, degrees. */
function apart(a: GroundMove, b: GroundMove, { place }: Stance): [number, number] {
  const [p, q] = [movedPlace(a, place), movedPlace(b, place)];
  const turn = Math.abs(a.turn - b.turn) % 360;
  return [Math.hypot(p[0] - q[0], p[2] - q[2]), Math.min(turn, 360 - turn)];
}
