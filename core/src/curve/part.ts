/** A part of a curve that stands on its own: what it shows over a range, repeats included, as keys. */
import type { FrameRange } from '../base/frame-range.ts';
import { bakeLeads } from './bake-lead.ts';
import type { Curve } from './curve.ts';
import { allRows } from './rebuild.ts';
import { rowsOf } from './rows-of.ts';
import { addKeysKeepingShape } from './split.ts';

/** What the curve shows from `start` to `end`, with a key on each end; frames count from `start`, and beyond it holds. */
export function partOf(curve: Curve, { start, end }: FrameRange): Curve {
  const shown = addKeysKeepingShape(bakeLeads(curve, start, end), [start, end]);
  const rows = allRows(shown).filter(
    (row) => shown.times[row]! >= start - 1e-6 && shown.times[row]! <= end + 1e-6,
  );
  const part = rowsOf(shown, rows, (columns) => {
    for (let i = 0; i < rows.length; i += 1) columns.times[i]! -= start;
  });
  return { ...part, leadIn: 'hold', leadOut: 'hold', leadInCount: 0, leadOutCount: 0 };
}
