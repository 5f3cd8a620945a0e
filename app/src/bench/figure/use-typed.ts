import { useRef, useState } from 'react';
import type { KeyboardEvent } from 'react';
import { typedValue } from './value-drag.ts';

/**
 * What is typed into a field for a number. It is given with Enter and by leaving the field; Escape takes it back, for good.
 * @param shown the value as it is written
 * @param give what is done with another number
 */
export function useTyped(shown: string, give: (value: number) => void) {
  const [typed, setTyped] = useState<string | null>(null);
  // The field is left in the same moment in which Escape is pressed: what was typed must be gone by then.
  const kept = useRef<string | null>(null);
  const set = (text: string | null) => {
    kept.current = text;
    setTyped(text);
  };
  return {
    text: typed ?? shown,
    forget: () => set(null),
    change: (text: string) => set(text),
    leave: (): void => {
      const text = kept.current;
      set(null);
      const value = text === null || text === shown ? null : typedValue(text);
      if (value !== null) give(value);
    },
    press: (event: KeyboardEvent<HTMLInputElement>): void => {
      if (event.key === 'Escape') set(null);
      if (event.key === 'Enter' || event.key === 'Escape') leaveField(event.currentTarget);
      else return;
      event.preventDefault();
      event.stopPropagation();
    },
  };
}

/** The focus stays where the field is: whoever goes on with Tab goes on from there, and strokes are the bench's again. */
function leaveField(field: HTMLElement): void {
  const home = field.closest<HTMLElement>('[data-home]');
  if (home) home.focus({ preventScroll: true });
  else field.blur();
}
