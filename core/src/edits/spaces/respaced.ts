/** A switch with other spans: wherever another target holds than before, the node's channels are written anew, so that it lies where it lay. */
import type { FrameRange } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import type { Work } from '../../base/work.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import type { Selection } from '../../document/selection.ts';
import { curveOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { motionMeasures, sameMotion } from '../shared/same-motion.ts';
import { heldAhead, keptWithin } from './kept-within.ts';
import type { KeepWishes, Rewrite } from './keep-motion.ts';
import { spansOf, switchThrough, targetAt } from './switch-curve.ts';
import type { Span } from './switch-curve.ts';

/** @param keys what is written over a stretch of frames on which the target is another one */
export function* respaced(
  shot: Shot,
  selection: Selection,
  relation: Relation & { readonly switch: string },
  spans: readonly Span[],
  keys: (range: FrameRange) => Rewrite['keys'],
  wishes: KeepWishes,
): Work<Outcome, Shot> {
  const before = curveOf(shot, null, relation.switch);
  const after = switchThrough(spans);
  const stretches = changedStretches(spansOf(before, shot.range), spans, (frame) => targetAt(before, frame));
  if (stretches.length === 0)
    return outcome(shot, shot, selection, { findings: [finding('sameSpace', {}, relation.node)] });
  const switched = withCurves(shot, null, new Map([[relation.switch, after]]));
  const rewrites = stretches.map((range) => ({ node: relation.node, range, keys: keys(range) }));
  const kept = yield* keptWithin(shot, switched, rewrites, wishes, [relation.node]);
  const held = rewrites.every(({ keys: policy }) => policy !== 'hold');
  return outcome(shot, kept.shot, selection, {
    touched: [relation.switch, ...kept.touched],
    findings: [
      ...kept.findings,
      ...heldAhead(
        shot,
        kept.shot,
        relation.node,
        stretches.map(({ start }) => start),
      ),
    ],
    measures: [
      { name: 'switches', value: spans.length - 1, unit: '' },
      { name: 'keys written', value: kept.keys, unit: '' },
      // What is held goes with its new target from there on: only the switch itself can be compared.
      ...(held
        ? kept.measures
        : motionMeasures(
            sameMotion(
              shot,
              kept.shot,
              [relation.node],
              stretches.map(({ start }) => ({ start, end: start })),
            ),
          ).slice(0, 2)),
    ],
  });
}

/** Runs of frames on which another target holds than before, cut where the new spans change. */
function changedStretches(
  was: readonly Span[],
  spans: readonly Span[],
  before: (frame: number) => number,
): FrameRange[] {
  const starts = new Set(was.map(({ start }) => start));
  const stretches: FrameRange[] = [];
  for (const { start, end, target } of spans) {
    let from: number | null = null;
    for (let frame = start; frame <= end + 1e-6; frame += 1) {
      const other = before(frame) !== target;
      if (from !== null && (!other || starts.has(frame))) {
        stretches.push({ start: from, end: frame - 1 });
        from = null;
      }
      if (other && from === null) from = frame;
    }
    if (from !== null) stretches.push({ start: from, end });
  }
  return stretches;
}
