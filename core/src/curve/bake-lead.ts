/**
 * Repeats turned into keys: the keyed part copied, turn by turn, as far as asked, with the tangents that it has. The curve is
 * the same up to there; beyond it holds.
 */
import { COLUMN_NAMES, FLAG, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { edgeSlope } from './lead.ts';
import { allRows, rebuild } from './rebuild.ts';
import { addKeysKeepingShape } from './split.ts';

/**
 * The curve with its repeats from frame `from` to frame `to` as keys; the same object where there is nothing to bake. A loop
 * whose ends do not agree jumps at its seams, which keys cannot: there the first
 * segment of each turn begins at the end. On the way back of a swing a stepped segment holds the value of its own key.
 */
export function bakeLeads(curve: Curve, from: number, to: number): Curve {
  const late = bakeLeadOut(curve, to);
  const early = bakeLeadIn(curve, from);
  if (early === curve) return late;
  const added = early.times.length - curve.times.length;
  const rows = [...Array.from({ length: added }, () => -1), ...allRows(late)];
  const both = rebuild(late, rows, (columns) => {
    for (let row = 0; row < added; row += 1)
      for (const name of COLUMN_NAMES) if (name !== 'ids') columns[name][row] = early[name][row]!;
    // The first key of the source now has a segment before it.
    free(columns, added);
    columns.slopesIn[added] = early.slopesIn[added]!;
    columns.lengthsIn[added] = early.lengthsIn[added]!;
    columns.flags[added] =
      (columns.flags[added]! & ~FLAG.weightedIn) | (early.flags[added]! & FLAG.weightedIn);
  });
  return { ...both, leadIn: 'hold', leadInCount: 0 };
}

/** @param to a frame past the last key; the same curve where there is nothing to bake */
function bakeLeadOut(curve: Curve, to: number): Curve {
  const { times, values, leadOut, leadOutCount } = curve;
  const last = times.length - 1;
  if (last < 1 || leadOut === 'hold' || to <= times[last]! + 1e-6) return curve;
  const held = { leadOut: 'hold' as const, leadOutCount: 0 };
  if (leadOut === 'slope') {
    const slope = edgeSlope(curve, false);
    const value = evaluate(curve, to);
    return {
      ...rebuild(curve, [...allRows(curve), -1], (columns) => {
        free(columns, last);
        columns.slopesOut[last] = slope;
        columns.times[last + 1] = to;
        columns.values[last + 1] = value;
        free(columns, last + 1);
        columns.slopesIn[last + 1] = columns.slopesOut[last + 1] = slope;
      }),
      ...held,
    };
  }
  const length = times[last]! - times[0]!;
  const needed = Math.ceil((to - times[last]!) / length - 1e-9);
  const turns = leadOutCount > 0 ? Math.min(needed, leadOutCount) : needed;
  const rows = [...allRows(curve), ...Array.from({ length: turns * last }, () => -1)];
  const whole = rebuild(curve, rows, (columns) => {
    free(columns, 0);
    free(columns, last);
    for (let turn = 1; turn <= turns; turn += 1) {
      const backward = leadOut === 'swing' && turn % 2 !== 0;
      const carried = leadOut === 'loopCarry' ? turn * (values[last]! - values[0]!) : 0;
      const seam = last + (turn - 1) * last;
      // The seam key leaves as this turn begins.
      copySide(columns, seam, curve, backward ? last : 0, 'out', backward);
      for (let k = 1; k <= last; k += 1) {
        const from = backward ? last - k : k;
        const at = seam + k;
        const within = backward ? times[last]! - times[from]! : times[from]! - times[0]!;
        columns.times[at] = times[last]! + (turn - 1) * length + within;
        columns.values[at] = values[from]! + carried;
        copySide(columns, at, curve, from, 'in', backward);
        copySide(columns, at, curve, from, 'out', backward);
        columns.flags[at] = (columns.flags[at]! | (curve.flags[from]! & FLAG.broken)) & ~FLAG.locked;
        free(columns, at);
      }
    }
  });
  const cut = addKeysKeepingShape({ ...whole, ...held }, [to]);
  return rebuild(
    cut,
    allRows(cut).filter((row) => cut.times[row]! <= to + 1e-6),
  );
}

/** Slopes are kept as they are: at seams the neighbours are others now. */
function free(columns: Columns, row: number): void {
  columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
  columns.flags[row]! |= FLAG.broken;
}

/** One side of a key from a row of the source; from the other side of it, and turned round, when time runs backward. */
function copySide(
  columns: Columns,
  at: number,
  curve: Curve,
  row: number,
  side: 'in' | 'out',
  backward: boolean,
): void {
  const fromOut = (side === 'out') !== backward;
  const sign = backward ? -1 : 1;
  const slope = sign * (fromOut ? curve.slopesOut : curve.slopesIn)[row]!;
  const length = (fromOut ? curve.lengthsOut : curve.lengthsIn)[row]!;
  const weighted = (curve.flags[row]! & (fromOut ? FLAG.weightedOut : FLAG.weightedIn)) !== 0;
  (side === 'out' ? columns.slopesOut : columns.slopesIn)[at] = slope;
  (side === 'out' ? columns.lengthsOut : columns.lengthsIn)[at] = length;
  const flag = side === 'out' ? FLAG.weightedOut : FLAG.weightedIn;
  columns.flags[at] = weighted ? columns.flags[at]! | flag : columns.flags[at]! & ~flag;
  if (side === 'out') columns.segments[at] = curve.segments[backward ? Math.max(row - 1, 0) : row]!;
}

/** The same ahead of the first key, by way of the curve turned round. */
function bakeLeadIn(curve: Curve, from: number): Curve {
  if (curve.times.length < 2 || curve.leadIn === 'hold' || from >= curve.times[0]! - 1e-6) return curve;
  const turned = { ...reversed(curve), leadOut: curve.leadIn, leadOutCount: curve.leadInCount };
  const baked = bakeLeadOut(turned, -from);
  return {
    ...reversed(baked),
    leadIn: 'hold',
    leadInCount: 0,
    leadOut: curve.leadOut,
    leadOutCount: curve.leadOutCount,
  };
}

/** The curve over −t. */
function reversed(curve: Curve): Curve {
  const last = curve.times.length - 1;
  const rows = allRows(curve);
  return rebuild(curve, rows, (columns) => {
    for (const row of rows) {
      const from = last - row;
      for (const name of COLUMN_NAMES) columns[name][row] = curve[name][from]!;
      columns.times[row] = -curve.times[from]!;
      columns.flags[row] = curve.flags[from]! & ~(FLAG.weightedIn | FLAG.weightedOut);
      columns.tangentsIn[row] = curve.tangentsOut[from]!;
      columns.tangentsOut[row] = curve.tangentsIn[from]!;
      copySide(columns, row, curve, from, 'in', true);
      copySide(columns, row, curve, from, 'out', true);
    }
  });
}
