/**
 * The transform box: a frame around the chosen keys, in pixels, with a grip on each edge and corner. What a drag of a grip
 * means is the edit `keys.transform` with options worked out here.
 */
import { rowOfId } from '@kneader/core';
import type { ChannelId } from '@kneader/core';
import { keyPlace, ownView, yToValue } from './curve-view.ts';
import type { CurveView, ShownCurve } from './curve-view.ts';
import { xToFrame } from './time-axis.ts';

export interface Box {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** −1 is the left or the upper edge, 1 the right or the lower one, 0 neither; 0, 0 is the inside. */
export interface Grip {
  readonly x: -1 | 0 | 1;
  readonly y: -1 | 0 | 1;
}

/** Room between keys and the frame, pixels. */
const ROOM = 10;
const REACH = 7;

type Chosen = Readonly<Record<ChannelId, readonly number[]>>;

/** The box of the chosen keys of the curves that are shown; null for fewer than two. */
export function boxAround(view: CurveView, curves: readonly ShownCurve[], chosen: Chosen): Box | null {
  let count = 0;
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const shown of curves) {
    const own = ownView(view, shown);
    for (const id of chosen[shown.channel] ?? []) {
      const row = rowOfId(shown.curve, id);
      if (row < 0) continue;
      const [x, y] = keyPlace(own, shown.curve, row);
      [left, right, top, bottom] = [
        Math.min(left, x),
        Math.max(right, x),
        Math.min(top, y),
        Math.max(bottom, y),
      ];
      count += 1;
    }
  }
  return count < 2 ? null : { left, right, top, bottom };
}

/** The frame that is drawn. */
export function frameOf({ left, right, top, bottom }: Box): Box {
  return { left: left - ROOM, right: right + ROOM, top: top - ROOM, bottom: bottom + ROOM };
}

/** The grips and where they are. */
export function gripsOf(box: Box): { readonly grip: Grip; readonly x: number; readonly y: number }[] {
  const { left, right, top, bottom } = frameOf(box);
  const ways = [-1, 0, 1] as const;
  return ways.flatMap((x) =>
    ways
      .filter((y) => x !== 0 || y !== 0)
      .map((y) => ({
        grip: { x, y },
        x: x < 0 ? left : x > 0 ? right : (left + right) / 2,
        y: y < 0 ? top : y > 0 ? bottom : (top + bottom) / 2,
      })),
  );
}

/** The grip under the pointer: a corner, an edge over its whole length, or the inside of the frame. */
export function gripAt(box: Box, x: number, y: number): Grip | null {
  const { left, right, top, bottom } = frameOf(box);
  const within = (at: number, low: number, high: number) => at > low - REACH && at < high + REACH;
  if (!within(x, left, right) || !within(y, top, bottom)) return null;
  return { x: edgeAt(x, left, right), y: edgeAt(y, top, bottom) };
}

/** Which of two edges lies under the pointer; the nearer one of a box that is smaller than its grips. */
function edgeAt(at: number, low: number, high: number): -1 | 0 | 1 {
  const [below, above] = [Math.abs(at - low), Math.abs(at - high)];
  if (Math.min(below, above) >= REACH) return 0;
  return below < above ? -1 : 1;
}

/** The pointer that tells what a pull on a grip does. */
export function cursorOf({ x, y }: Grip): string {
  if (x === 0 && y === 0) return 'move';
  if (y === 0) return 'ew-resize';
  if (x === 0) return 'ns-resize';
  return x === y ? 'nwse-resize' : 'nesw-resize';
}

interface Pull {
  readonly dx: number;
  readonly dy: number;
  /** About the middle in place of the opposite edge. */
  readonly centred: boolean;
  /** A corner tapers its end in place of scaling both. */
  readonly taper: boolean;
}

/** The options of `keys.transform` for a pull on a grip by dx, dy pixels from where the box was. */
export function transformOf(
  view: CurveView,
  curves: readonly ShownCurve[],
  box: Box,
  grip: Grip,
  { dx, dy, centred, taper }: Pull,
): Record<string, unknown> {
  const byChannel = (pick: (shown: ShownCurve) => number) =>
    Object.fromEntries(curves.map((shown) => [shown.channel, pick(shown)]));
  const valueMoved = (shown: ShownCurve) => {
    const own = ownView(view, shown);
    return yToValue(own, dy) - yToValue(own, 0);
  };
  if (grip.x === 0 && grip.y === 0) {
    const frames = Math.round(xToFrame(view.axis, dx) - view.axis.from);
    return { moveFrames: frames, moveByChannel: byChannel(valueMoved) };
  }
  const options: Record<string, unknown> = {};
  const tapers = taper && grip.x !== 0 && grip.y !== 0;
  if (grip.x !== 0 && !tapers) {
    const { pivot, scale } = along(box.left, box.right, grip.x, dx, centred);
    Object.assign(options, { scaleTime: scale, timePivot: 'typed', pivotFrame: xToFrame(view.axis, pivot) });
  }
  if (grip.y !== 0) {
    const { pivot, scale } = along(box.top, box.bottom, grip.y, dy, centred);
    Object.assign(options, {
      scaleValue: scale,
      pivotByChannel: byChannel((shown) => yToValue(ownView(view, shown), pivot)),
    });
  }
  if (tapers) options['taper'] = grip.x < 0 ? 'start' : 'end';
  return options;
}

/** Pivot in pixels and scale for an edge that is pulled by `by`; a box without extent scales by the pull against 40 pixels. */
function along(low: number, high: number, side: -1 | 1, by: number, centred: boolean) {
  const edge = side < 0 ? low : high;
  const pivot = centred ? (low + high) / 2 : side < 0 ? high : low;
  const size = edge - pivot;
  const scale = Math.abs(size) < 1 ? 1 + (side * by) / 40 : (size + by) / size;
  // Time and values squeezed to nothing could not be pulled apart again.
  return { pivot, scale: Math.abs(scale) < 0.01 ? 0.01 * (scale < 0 ? -1 : 1) : scale };
}
