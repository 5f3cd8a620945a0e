import { useEffect } from 'react';
import { bench, useBench } from '../bench-store.ts';
import { isForBench } from './key-owner.ts';
import { strokeTable, useKeyMap } from './key-map.ts';
import { digitPressOf, pressOf } from './shortcuts.ts';

/** Listens for the keystrokes of `shortcuts.ts`; those of the clipboard are in `use-clipboard.ts`. @param only some of them, by id */
export function useShortcuts(only?: ReadonlySet<string>): void {
  const changed = useKeyMap((state) => state.changed);
  useEffect(() => {
    const table = strokeTable(changed);
    /** What was compared before a stroke was held, to go back to. */
    let held: { readonly key: string; readonly back: () => void } | null = null;
    const down = (event: KeyboardEvent) => {
      const written = pressOf(event);
      const press = table.has(written) ? written : (digitPressOf(event) ?? written);
      const shortcut = table.get(press);
      if (!shortcut || (only && !only.has(shortcut.id)) || !isForBench(event.target, press)) return;
      event.preventDefault();
      event.stopPropagation();
      if (shortcut.whileHeld) {
        if (held) return;
        held = { key: event.code, back: shortcut.whileHeld() };
      } else shortcut.run();
    };
    const letGo = () => {
      held?.back();
      held = null;
    };
    const up = (event: KeyboardEvent) => {
      if (event.code === held?.key) letGo();
    };
    // Before any control on the page: what is the bench's is nobody else's.
    window.addEventListener('keydown', down, { capture: true });
    window.addEventListener('keyup', up, { capture: true });
    // Another window would get the end of the stroke.
    window.addEventListener('blur', letGo);
    return () => {
      letGo();
      window.removeEventListener('blur', letGo);
      window.removeEventListener('keydown', down, { capture: true });
      window.removeEventListener('keyup', up, { capture: true });
    };
  }, [changed, only]);
  // A field that is left with Escape or Enter leaves the hand on the bench.
  useEffect(() => {
    const leave = (event: KeyboardEvent) => {
      const { target } = event;
      if (!(target instanceof HTMLInputElement) || target.closest('[role="dialog"], .ant-popover')) return;
      if (target.getAttribute('role') === 'combobox') return;
      if (event.key === 'Enter') target.blur();
      if (event.key === 'Escape') {
        target.blur();
        if (useBench.getState().openEdit !== null && target.closest('.edits')) bench.openEdit(null);
      }
    };
    window.addEventListener('keydown', leave);
    return () => window.removeEventListener('keydown', leave);
  }, []);
}
