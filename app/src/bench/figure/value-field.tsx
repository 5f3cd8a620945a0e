import { useRef, useState } from 'react';
import type { ChannelKind } from '@kneader/core';
import { posing } from '../bench-actions.ts';
import { useBench } from '../bench-store.ts';

const DECIMALS: Record<ChannelKind, number> = { position: 2, rotation: 1, scale: 3, other: 2 };
/** How much one pixel of a drag changes the value. */
const PER_PIXEL: Record<ChannelKind, number> = { position: 0.1, rotation: 0.5, scale: 0.005, other: 0.01 };

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
  const shown = value === null ? '' : plain(value, DECIMALS[kind]);
  const commit = () => {
    const number = typed === null || typed.trim() === '' ? NaN : Number(typed.replace(',', '.'));
    setTyped(null);
    if (!Number.isFinite(number) || typed === shown) return;
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
        const speed = event.altKey ? 0.1 : event.shiftKey ? 5 : 1;
        posing.update({ [channel]: held.from + pixels * PER_PIXEL[kind] * speed });
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
        if (drag.current?.moved) useBench.setState({ gesture: null });
        drag.current = null;
      }}
    />
  );
}

/** Never −0, never more digits than mean something. */
function plain(value: number, decimals: number): string {
  const text = value.toFixed(decimals);
  return Number(text) === 0 ? (0).toFixed(decimals) : text;
}
