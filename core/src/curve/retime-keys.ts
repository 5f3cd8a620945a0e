/** Keys moved each to a time of its own. */
import { rebuild } from './rebuild.ts';
import type { Curve } from './curve.ts';

export interface RetimedKeys {
  readonly curve: Curve;
  /** Keys that fell onto a frame that has one already, and went into it. */
  readonly merged: number;
}

/** The curve with its keys at other times; the later of two that meet stays. @param timeOf rising, or keys change order */
export function retimeCurve(curve: Curve, timeOf: (time: number) => number): RetimedKeys {
  const { times } = curve;
  let moved = false;
  const target = times.map((time) => {
    const next = timeOf(time);
    moved ||= next !== time;
    return next;
  });
  if (!moved) return { curve, merged: 0 };
  const result = rebuild(curve, null, (columns) => columns.times.set(target));
  return { curve: result, merged: times.length - result.times.length };
}
