/** Delete keys and bend the neighbours' tangents so that the curve stays as near to what it was as one segment can. */
import { z } from 'zod';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { sampleInto } from '../../curve/evaluate.ts';
import { fitSlopes } from '../../curve/fit-segment.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { unitOf } from '../../rig/node.ts';
import { splitChannel } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding, needsKeys } from '../targets.ts';

export const deleteKeepingShape = defineEdit({
  id: 'keys.deleteKeepingShape',
  title: 'Delete keeping the shape',
  summary: 'Deletes the selected keys and refits the tangents beside them; first and last keys stay.',
  group: 'keys',
  acts: 'on the selection',
  options: z.object({}),
  accepts: needsKeys,
  run(shot, selection) {
    let deleted = 0;
    let worst: Measure | null = null;
    const changes = changeTargets(shot, selection, (curve, rows, channel) => {
      const result = withoutKeys(curve, rows);
      deleted += curve.times.length - result.times.length;
      if (result === curve) return curve;
      const range = { start: curve.times[0]!, end: curve.times[curve.times.length - 1]! };
      const { greatest, frame } = differenceOf(curve, result, range);
      const unit = unitOf(splitChannel(channel).name);
      if (greatest > (worst?.value ?? -1))
        worst = { name: 'greatest change', value: greatest, unit, where: { channel, frame } };
      return result;
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: lockedKeysFinding(changes.lockedKeys),
      measures: [{ name: 'keys deleted', value: deleted, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});

/** Places between two keys at which the old curve is read. */
const PLACES = 64;

function withoutKeys(curve: Curve, rows: readonly number[]): Curve {
  const last = curve.times.length - 1;
  const gone = new Set(rows.filter((row) => row > 0 && row < last));
  if (gone.size === 0) return curve;
  const kept = allRows(curve).filter((row) => !gone.has(row));
  const slopes = new Float64Array(2);
  return rebuild(curve, kept, (columns) => {
    for (let i = 0; i + 1 < kept.length; i += 1) {
      const [from, to] = [kept[i]!, kept[i + 1]!];
      if (to - from === 1) continue;
      const stepped = curve.segments.subarray(from, to).every((kind) => kind === SEGMENT.stepped);
      if (stepped) continue;
      const t0 = curve.times[from]!;
      const times = Float64Array.from(
        { length: PLACES + 1 },
        (_, k) => t0 + ((curve.times[to]! - t0) * k) / PLACES,
      );
      const values = new Float64Array(PLACES + 1);
      sampleInto(values, 0, 1, curve, times);
      fitSlopes({ times, values }, 0, PLACES, slopes);
      columns.segments[i] = SEGMENT.cubic;
      columns.tangentsIn[i] = columns.tangentsOut[i] = TANGENT.free;
      columns.tangentsIn[i + 1] = columns.tangentsOut[i + 1] = TANGENT.free;
      columns.slopesOut[i] = slopes[0]!;
      columns.slopesIn[i + 1] = slopes[1]!;
      columns.flags[i] = (columns.flags[i]! & ~FLAG.weightedOut) | FLAG.broken;
      columns.flags[i + 1] = (columns.flags[i + 1]! & ~FLAG.weightedIn) | FLAG.broken;
    }
  });
}
