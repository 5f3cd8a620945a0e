import { useEffect } from 'react';

/** Where a hand types on after a click. */
const TYPED_INTO =
  'input:not([type]), input[type="text"], input[type="search"], textarea, [contenteditable="true"]';

/** Menus and lists close, and give the focus back, a moment later. */
const LATER_MS = 120;

/**
 * After a click the focus goes back to the bench: a switch, a chip or a list keeps no keystrokes that mean the shot. Fields that are
 * typed into keep it, and whoever goes with the keyboard keeps it everywhere.
 */
export function useFocusHome(): void {
  useEffect(() => {
    let waiting: number[] = [];
    // Whoever goes on with a key meanwhile has chosen where the focus is.
    const stay = () => {
      waiting.forEach((timer) => window.clearTimeout(timer));
      waiting = [];
    };
    const look = (wait: number) => {
      // One that is slow to close is looked at again.
      waiting.push(window.setTimeout(() => letGo() === 'open' && look(LATER_MS), wait));
    };
    const home = (event: Event) => {
      // Enter and Space make clicks without a pointer.
      if (event instanceof MouseEvent && event.type === 'click' && event.detail === 0) return;
      stay();
      for (const wait of [0, LATER_MS]) look(wait);
    };
    const noteValue = ({ target }: FocusEvent) => {
      if (target instanceof HTMLInputElement) target.dataset['atFocus'] = target.value;
    };
    window.addEventListener('click', home, { capture: true });
    window.addEventListener('pointerup', home, { capture: true });
    window.addEventListener('keydown', stay, { capture: true });
    window.addEventListener('focusin', noteValue);
    return () => {
      stay();
      window.removeEventListener('keydown', stay, { capture: true });
      window.removeEventListener('click', home, { capture: true });
      window.removeEventListener('pointerup', home, { capture: true });
      window.removeEventListener('focusin', noteValue);
    };
  }, []);
}

/** @returns open where the focus lies in a list that is chosen from: whoever asked looks again */
function letGo(): 'open' | null {
  const active = document.activeElement;
  if (!(active instanceof HTMLElement || active instanceof SVGElement) || active === document.body)
    return null;
  if (active.closest('[role="dialog"], [role="menu"], .ant-popover')) return null;
  const isList = active.getAttribute('role') === 'combobox';
  if (isList && active.getAttribute('aria-expanded') === 'true') return 'open';
  if (!isList && active.matches(TYPED_INTO)) return null;
  active.blur();
  return null;
}
