/** A hand for tests: what a pointer sends to the window while something is dragged. */
import { beginDrag } from '../bench/gestures/drag.ts';
import type { DragActs } from '../bench/gestures/drag.ts';

export interface HandAt {
  readonly x: number;
  readonly y?: number;
  readonly shift?: boolean;
  readonly alt?: boolean;
  readonly ctrl?: boolean;
}

/** jsdom has no pointer events: a mouse event with the pointer's id is what the machine asks for. */
export const pointerEvent = (
  name: string,
  { x, y = 0, shift = false, alt = false, ctrl = false }: HandAt,
  pointerId = 1,
) =>
  Object.assign(
    new MouseEvent(name, {
      ...{ clientX: x, clientY: y, shiftKey: shift, altKey: alt, ctrlKey: ctrl },
      ...{ bubbles: true, cancelable: true },
    }),
    { pointerId },
  );

export const hand = {
  press: (at: HandAt, acts: DragActs, threshold?: number) =>
    beginDrag(pointerEvent('pointerdown', at), acts, threshold),
  send: (name: string, at: HandAt, pointerId?: number) =>
    window.dispatchEvent(pointerEvent(name, at, pointerId)),
  key: (name: 'keydown' | 'keyup', key: string, more: KeyboardEventInit = {}) =>
    window.dispatchEvent(new KeyboardEvent(name, { key, bubbles: true, cancelable: true, ...more })),
  /** Presses, goes over the places and lets go at the last. */
  drag(from: HandAt, way: readonly HandAt[], acts: DragActs): void {
    hand.press(from, acts);
    for (const at of way) hand.send('pointermove', at);
    hand.send('pointerup', way.at(-1) ?? from);
  },
};
