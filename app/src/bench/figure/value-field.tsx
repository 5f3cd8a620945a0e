import { useRef, useState } from 'react';
import type { ChannelKind } from '@kneader/core';
import { posing } from '../bench-actions.ts';
import { bench } from '../bench-store.ts';
import { draggedValue, typedValue, writtenValue } from './value-drag.ts';

interface ValueFieldProps {
  readonly channel: string;
  readonly kind: ChannelKind;
  readonly value: number | null;
  readonly label: string;
}

/**
 * A value that can be typed, or scrubbed by dragging sideways; Alt is fine, Shift is coarse. It is keyed at the play-head, on
 * the chosen pass or on the base.
 */
export function ValueField({ channel, kind, value, label }: ValueFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const drag = useRef<{ x: number; from: number; moved: boolean } | null>(null);
  const shown = value === null ? '' : writtenValue(value, kind);
  const commit = () => {
    const number = typed === null || typed === shown ? null : typedValue(typed);
    setTyped(null);
    if (number === null) return;
    posing.begin();
    posing.update({ [channel]: number });
    posing.end(`Set ${channel}`);
  };
  return (
    <input
      className="value"
      aria-label={label}
      inputMode="decimal"
      value={typed ?? shown}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') {
          setTyped(null);
          event.stopPropagation();
        }
      }}
      onPointerDown={(event) => {
        if (document.activeElement === event.currentTarget || value === null) return;
        event.preventDefault();
        drag.current = { x: event.clientX, from: value, moved: false };
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        const held = drag.current;
        if (!held) return;
        const pixels = event.clientX - held.x;
        if (!held.moved && Math.abs(pixels) < 3) return;
        if (!held.moved) posing.begin();
        held.moved = true;
        const hand = { alt: event.altKey, shift: event.shiftKey };
        posing.update({ [channel]: draggedValue(held.from, pixels, kind, hand) });
      }}
      onPointerUp={(event) => {
        const held = drag.current;
        drag.current = null;
        if (!held) return;
        if (held.moved) posing.end(`Set ${channel}`);
        else {
          event.currentTarget.focus();
          event.currentTarget.select();
        }
      }}
      onPointerCancel={() => {
        if (drag.current?.moved) bench.cancelGesture();
        drag.current = null;
      }}
    />
  );
}
