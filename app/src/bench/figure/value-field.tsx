import { useRef } from 'react';
import type { ChannelKind } from '@kneader/core';
import { posing } from '../bench-actions.ts';
import { bench } from '../bench-store.ts';
import { useDial } from './use-dial.ts';
import { useTyped } from './use-typed.ts';
import { draggedValue, writtenValue } from './value-drag.ts';

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
  const isPosing = useRef(false);
  const dial = useDial({
    value,
    drag: (from, pixels, hand) => {
      if (!isPosing.current) posing.begin();
      isPosing.current = true;
      posing.update({ [channel]: draggedValue(from, pixels, kind, hand) });
    },
    end: () => {
      isPosing.current = false;
      posing.end(`Set ${channel}`);
    },
    cancel: () => {
      isPosing.current = false;
      bench.cancelGesture();
    },
  });
  const shown = value === null ? '' : writtenValue(value, kind);
  const typed = useTyped(shown, (number) => {
    posing.begin();
    posing.update({ [channel]: number });
    posing.end(`Set ${channel}`);
  });
  return (
    <input
      className="value"
      aria-label={label}
      inputMode="decimal"
      value={typed.text}
      onChange={(event) => typed.change(event.target.value)}
      onBlur={typed.leave}
      onKeyDown={typed.press}
      {...dial}
    />
  );
}
