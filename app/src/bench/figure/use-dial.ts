import { useRef } from 'react';
import type { PointerEvent } from 'react';

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

/** Pixels up to which a press is no drag. */
const TREMBLE = 3;

/** A field that is dialled by dragging sideways, and typed into after a press without a drag. */
export function useDial({ value, drag, end, cancel }: Dial) {
  const held = useRef<{ readonly x: number; readonly from: number; moved: boolean } | null>(null);
  return {
    onPointerDown(event: PointerEvent<HTMLInputElement>) {
      if (document.activeElement === event.currentTarget || value === null) return;
      event.preventDefault();
      held.current = { x: event.clientX, from: value, moved: false };
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove(event: PointerEvent<HTMLInputElement>) {
      const hold = held.current;
      if (!hold) return;
      const pixels = event.clientX - hold.x;
      if (!hold.moved && Math.abs(pixels) < TREMBLE) return;
      hold.moved = true;
      drag(hold.from, pixels, { alt: event.altKey, shift: event.shiftKey });
    },
    onPointerUp(event: PointerEvent<HTMLInputElement>) {
      const hold = held.current;
      held.current = null;
      if (hold?.moved) end();
      else if (hold) {
        event.currentTarget.focus();
        event.currentTarget.select();
      }
    },
    onPointerCancel() {
      if (held.current?.moved) cancel();
      held.current = null;
    },
  };
}
