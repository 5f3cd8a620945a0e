import type { PointerEvent } from 'react';
import { beginDrag } from '../gestures/drag.ts';

interface Dial {
  /** Where a drag begins; null cannot be dragged. */
  readonly value: number | null;
  readonly drag: (
    from: number,
    pixels: number,
    hand: { readonly alt: boolean; readonly shift: boolean },
  ) => void;
  readonly end: () => void;
  readonly cancel: () => void;
}

/** A field that is dialled by dragging sideways, and typed into after a press without a drag. */
export const useDial = ({ value, drag, end, cancel }: Dial) => ({
  onPointerDown(event: PointerEvent<HTMLInputElement>) {
    const field = event.currentTarget;
    if (document.activeElement === field || value === null) return;
    event.preventDefault();
    field.setPointerCapture(event.pointerId);
    const from = event.clientX;
    beginDrag(event, {
      move: ({ x, alt, shift }) => drag(value, x - from, { alt, shift }),
      end,
      cancel,
      click() {
        field.focus();
        field.select();
      },
    });
  },
});
