/** How much of a layer counts, for all of the shot or keyed at a frame: the weight of passes and the strength of filters. */
import { isKeyedWeight } from '../../layers/weight.ts';
import { z } from 'zod';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { FLAG, rowAtTime } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { withKey } from '../../curve/with-key.ts';
import type { Layer } from '../../layers/layer.ts';
import type { Selection } from '../../document/selection.ts';
import { constantCurve, withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';

const frame = z.number().min(-MOST_FRAMES).max(MOST_FRAMES).nullable().default(null);

export const weighOptions = {
  frame: frame.meta({
    title: 'Keyed at',
    unit: 'frame',
    description: 'Empty: one for the whole shot, in place of its keys.',
  }),
  from: frame.meta({
    title: 'Moved from',
    unit: 'frame',
    description: 'The frame of a key that goes to the other frame.',
  }),
};

interface Weighing {
  readonly frame: number | null;
  readonly from: number | null;
}

/** @param name what it is called in the report: weight or strength */
export function weigh(
  shot: Shot,
  selection: Selection,
  layer: Layer,
  name: string,
  value: number,
  { frame, from }: Weighing,
): Outcome {
  const before = layer.weight;
  const still = before.times.length === 1 && before.values[0] === value && !isKeyedWeight(before);
  const after =
    frame === null
      ? still
        ? before
        : constantCurve(value, shot.range.start)
      : keyedByHand(
          withKey(from === null || from === frame ? before : withoutKeyAt(before, from), frame, value),
        );
  const measures = [{ name, value, unit: '' }];
  if (after === before) return outcome(shot, shot, selection, { measures });
  return outcome(
    shot,
    withLayer(shot, layer.id, (was) => ({ ...was, weight: after })),
    selection,
    { measures },
  );
}

/** A single key that was set on a frame is no weight for all of the shot. */
function keyedByHand(curve: Curve): Curve {
  if (curve.times.length !== 1 || isKeyedWeight(curve)) return curve;
  return rebuild(curve, null, (columns) => {
    columns.flags[0]! |= FLAG.keyed;
  });
}

/** The curve without its key on a frame; a single key stays. */
function withoutKeyAt(curve: Curve, at: number): Curve {
  const row = rowAtTime(curve, at);
  return row < 0 || curve.times.length < 2
    ? curve
    : rebuild(
        curve,
        allRows(curve).filter((one) => one !== row),
      );
}
