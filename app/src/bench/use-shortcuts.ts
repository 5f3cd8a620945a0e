import { useEffect } from 'react';
import { bench, useBench } from './bench-store.ts';
import { pressOf, SHORTCUTS } from './shortcuts.ts';

/** Whether the person is writing into a field. */
export function isWriting(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

const isOnButton = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  target.closest('button, a, [role="button"], [role="slider"], [role="radiogroup"]') !== null;

const table = new Map(SHORTCUTS.map((shortcut) => [shortcut.press, shortcut]));

/** Listens for the keystrokes of `shortcuts.ts`; those of the clipboard are in `use-clipboard.ts`. */
export function useShortcuts(): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (isWriting(event.target)) return;
      const shortcut = table.get(pressOf(event));
      if (!shortcut || (shortcut.yields && isOnButton(event.target))) return;
      event.preventDefault();
      shortcut.run();
    };
    const up = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === 'b' && useBench.getState().comparison === 'before')
        bench.setComparison('after');
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, []);
}
