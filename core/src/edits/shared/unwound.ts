/**
 * Angles as they are written: those nearest to the frame before. Layers that mix orientations may show the same orientation by other angles from one frame
 * to the next; as keys those would spin between.
 */
import type { FrameRange } from '../../base/frame-range.ts';
import { framesOf } from '../../base/frame-range.ts';
import { rising } from '../../base/frames.ts';
import type { Shown } from '../../curve/curve-through.ts';
import { turnOf } from '../../layers/turns.ts';
import { eulerFromQuat } from '../../math/euler.ts';
import type { EulerOrder, Triple } from '../../math/euler.ts';
import { angleBetween } from '../../math/quaternion.ts';

/** A step of an angle that is so great while the orientation turns less is another name for it. */
const RENAMED = { step: 150, turn: 90 };

/** The three angles of a node as they are to be written over a range; null where they are so already. */
export function unwound(
  three: readonly [Shown, Shown, Shown],
  order: EulerOrder,
  range: FrameRange,
): readonly Shown[] | null {
  const at = (frame: number) => three.map((shown) => shown.at(frame)) as Triple;
  const frames = framesOf(range);
  let renamed = false;
  let last = at(range.start);
  const whole: Triple[] = [last];
  for (const frame of frames.subarray(1)) {
    const now = at(frame);
    const turn = turnOf(now, order);
    const before = whole[whole.length - 1]!;
    const steps = now.map((angle, axis) => Math.abs(angle - last[axis]!));
    renamed ||= Math.max(...steps) > RENAMED.step && angleBetween(turnOf(last, order), turn) < RENAMED.turn;
    // Until then they stay to the bit what they are.
    whole.push(renamed ? eulerFromQuat(turn, order, before) : now);
    last = now;
  }
  if (!renamed) return null;
  const shownAt = (frame: number): Triple => {
    const k = Math.floor(frame - range.start);
    if (k < 0 || k >= whole.length) return at(frame);
    return Number.isInteger(frame - range.start)
      ? whole[k]!
      : eulerFromQuat(turnOf(at(frame), order), order, whole[k]);
  };
  return three.map((_, axis) => ({
    at: (frame: number) => shownAt(frame)[axis]!,
    jumps: (within: FrameRange) => rising(...three.map((shown) => shown.jumps(within))),
  }));
}
