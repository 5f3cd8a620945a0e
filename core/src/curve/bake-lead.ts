/**
 * Repeats turned into keys: the keyed part copied, turn by turn, as far as asked, with the tangents that it has. The curve is
 * the same up to there; beyond it holds.
 *
 * A loop whose ends do not agree jumps at its seams: the value that shows there holds over the one frame beside the seam, so that all whole
 * frames show what they did (`lead.ts` says to which turn a seam belongs).
 * The way back of a swing is the keyed part as `reverseRange` turns it: on every whole frame what showed.
 */
import { refuse } from '../base/finding.ts';
import { LIMITS } from '../base/limits.ts';
import { FLAG, SEGMENT } from './curve.ts';
import type { Curve, Lead } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { joinedParts } from './joined-parts.ts';
import { edgeSlope, repeats } from './lead.ts';
import { allRows, rebuild } from './rebuild.ts';
import { reverseRange } from './reverse.ts';
import { rowsOf } from './rows-of.ts';
import { addKeysKeepingShape, freeze, withFrozenEnds } from './split.ts';

/** The curve with its repeats from frame `from` to frame `to` as keys; the same object where there is nothing to bake. */
export function bakeLeads(curve: Curve, from: number, to: number): Curve {
  const last = curve.times.length - 1;
  if (last < 1) return curve;
  const [first, end] = [curve.times[0]!, curve.times[last]!];
  const early = curve.leadIn !== 'hold' && from < first - 1e-6;
  const late = curve.leadOut !== 'hold' && to > end + 1e-6;
  if (!early && !late) return curve;
  const length = end - first;
  const turnsIn = early ? turnsOf(curve.leadIn, curve.leadInCount, (first - from) / length) : 0;
  const turnsOut = late ? turnsOf(curve.leadOut, curve.leadOutCount, (to - end) / length) : 0;
  const core: Curve = { ...curve, leadIn: 'hold', leadOut: 'hold', leadInCount: 0, leadOutCount: 0 };
  let whole = core;
  const made = (turnsIn + turnsOut) * curve.times.length;
  if (made > LIMITS.keys) refuse('tooManyKeys', {}, made, LIMITS.keys);
  if (turnsIn + turnsOut > 0) {
    const parts = Array.from({ length: turnsIn + 1 + turnsOut }, (_, i) =>
      turnOf(core, i - turnsIn, curve, turnsIn),
    );
    whole = withIdsOf(core, joinedParts(core, heldAtSeams(parts, turnsIn)), turnsIn);
  }
  // A slope that is not baked goes on as it did; a repeat cannot, since its cycle is another now.
  if (!early && curve.leadIn === 'slope') whole = { ...whole, leadIn: 'slope' };
  if (!late && curve.leadOut === 'slope') whole = { ...whole, leadOut: 'slope' };
  if (early && curve.leadIn === 'slope') whole = onSlope(whole, curve, from, true);
  if (late && curve.leadOut === 'slope') whole = onSlope(whole, curve, to, false);
  return cutTo(whole, early ? from : -Infinity, late ? to : Infinity);
}

/** How many turns are keyed to reach so far. @param away in parts of a turn */
function turnsOf(lead: Lead, count: number, away: number): number {
  if (!repeats(lead)) return 0;
  const needed = Math.ceil(away - 1e-9);
  return count > 0 ? Math.min(needed, count) : needed;
}

/** One turn: the keyed part, or its way back, where and as high as it comes. */
function turnOf(core: Curve, turn: number, { leadIn, leadOut }: Curve, turnsIn: number): Curve {
  if (turn === 0) return turnsIn === 0 ? frozenEnd(core) : withFrozenEnds(core);
  const lead = turn < 0 ? leadIn : leadOut;
  const { times, values } = core;
  const last = times.length - 1;
  const length = times[last]! - times[0]!;
  const carried = lead === 'loopCarry' ? turn * (values[last]! - values[0]!) : 0;
  const backward = lead === 'swing' && turn % 2 !== 0;
  const part = withFrozenEnds(backward ? wayBack(core) : core);
  return rebuild(part, null, (columns) => {
    for (let row = 0; row < columns.times.length; row += 1) {
      columns.times[row]! += turn * length;
      columns.values[row]! += carried;
      columns.flags[row]! &= ~FLAG.locked;
    }
  });
}

/** The keyed part turned round; it begins and ends where the part does, whatever it holds. */
function wayBack(core: Curve): Curve {
  const last = core.times.length - 1;
  const [first, end] = [core.times[0]!, core.times[last]!];
  const back = reverseRange(core, first, end);
  const ended = addKeysKeepingShape(back, [first, end]);
  return rowsOf(
    ended,
    allRows(ended).filter((row) => ended.times[row]! >= first - 1e-6 && ended.times[row]! <= end + 1e-6),
  );
}

/** The turns with a hold wherever one does not begin where the one before ends. @param own which of them is the keyed part */
function heldAtSeams(turns: readonly Curve[], own: number): Curve[] {
  const parts = [...turns];
  for (let i = 0; i + 1 < parts.length; i += 1) {
    const [ends, begins] = [parts[i]!, parts[i + 1]!];
    const last = ends.times.length - 1;
    const [was, is] = [ends.values[last]!, begins.values[0]!];
    if (Math.abs(was - is) <= 1e-9 * (1 + Math.abs(was))) continue;
    if (i < own) parts[i] = heldAhead(ends, is);
    else parts[i + 1] = heldAfter(begins);
  }
  return parts;
}

/** The first frame of a turn held: what holds there is where the turn before ended. */
function heldAfter(turn: Curve): Curve {
  const [first, next] = [turn.times[0]!, turn.times[1]!];
  const until = Math.floor(first + 1e-9) + 1;
  const cut = until < next - 1e-9 ? addKeysKeepingShape(turn, [until]) : turn;
  return rebuild(cut, null, (columns) => {
    // What goes on from the hold does so as it did: beside a hold a rule would make another slope.
    freeze(columns, 1);
    columns.segments[0] = SEGMENT.stepped;
  });
}

/** The last frame of a turn held, and then the value with which the next begins. */
function heldAhead(turn: Curve, value: number): Curve {
  const last = turn.times.length - 1;
  const since = Math.ceil(turn.times[last]! - 1e-9) - 1;
  const cut = since > turn.times[last - 1]! + 1e-9 ? addKeysKeepingShape(turn, [since]) : turn;
  const end = cut.times.length - 1;
  return rebuild(cut, null, (columns) => {
    freeze(columns, end - 1);
    columns.segments[end - 1] = SEGMENT.stepped;
    columns.values[end] = value;
  });
}

const frozenEnd = (curve: Curve) =>
  rebuild(curve, null, (columns) => freeze(columns, columns.times.length - 1));

/** The keys of the source keep their ids among the turns. */
function withIdsOf(core: Curve, whole: Curve, turnsIn: number): Curve {
  const first = core.times[0]!;
  const at = whole.times.findIndex((time) => Math.abs(time - first) < 1e-6);
  const own = new Set(core.ids);
  let next = core.ids.reduce((most, id) => Math.max(most, id), 0) + 1;
  return rebuild(whole, null, (columns) => {
    for (let row = 0; row < columns.ids.length; row += 1) {
      const inside = row >= at && row < at + core.times.length;
      if (inside) columns.ids[row] = core.ids[row - at]!;
      else while (own.has((columns.ids[row] = next))) next += 1;
      if (!inside) next += 1;
      if (inside && turnsIn >= 0) columns.flags[row]! |= core.flags[row - at]! & FLAG.locked;
    }
  });
}

/** A key where the slope has come to. */
function onSlope(whole: Curve, source: Curve, frame: number, ahead: boolean): Curve {
  const slope = edgeSlope(source, ahead);
  const value = evaluate(source, frame);
  const rows = ahead ? [-1, ...allRows(whole)] : [...allRows(whole), -1];
  return rebuild(whole, rows, (columns) => {
    const at = ahead ? 0 : rows.length - 1;
    const edge = ahead ? 1 : at - 1;
    columns.times[at] = frame;
    columns.values[at] = value;
    for (const row of [at, edge]) freeze(columns, row);
    columns.slopesIn[at] = columns.slopesOut[at] = slope;
    columns[ahead ? 'slopesIn' : 'slopesOut'][edge] = slope;
    if (!ahead) columns.segments[edge] = SEGMENT.cubic;
    if (columns.slopesIn[edge] !== columns.slopesOut[edge]) columns.flags[edge]! |= FLAG.broken;
  });
}

function cutTo(curve: Curve, from: number, to: number): Curve {
  const cut = addKeysKeepingShape(curve, [from, to].filter(Number.isFinite));
  const rows = allRows(cut).filter((row) => cut.times[row]! >= from - 1e-6 && cut.times[row]! <= to + 1e-6);
  return rows.length === cut.times.length ? cut : rowsOf(cut, rows);
}
