/**
 * Whose a keystroke is. The bench's, always, except while something is typed, a menu or a dialog is open, or a control that was
 * reached with the keyboard knows the key itself: a slider its arrows, a tick box its Space.
 *
 * Controls that were touched with the mouse own nothing: `use-focus-home.ts` takes the focus from them.
 */
import { isDragging } from '../gestures/drag.ts';

/** Input types that take no text. */
const TOUCHED = /^(checkbox|radio|range|button|submit|reset|color|file)$/;

/** What a field for a number understands; all else is the bench's. Letters are no numbers. */
const NUMBER_KEYS =
  /^(Shift\+)?(Ctrl\+)?([0-9.,+\-−]|Arrow(Left|Right|Up|Down)|Home|End|Backspace|Delete|Tab|Enter)$|^Ctrl\+[ACXV]$/;

const inputOf = (target: EventTarget | null): HTMLInputElement | null =>
  target instanceof HTMLInputElement && !TOUCHED.test(target.type) ? target : null;

const isNumberField = (input: HTMLInputElement): boolean =>
  input.type === 'number' || input.getAttribute('role') === 'spinbutton' || input.inputMode === 'decimal';

/** Whether the focus is where text is typed: the clipboard is the field's then. */
export function isWriting(target: EventTarget | null): boolean {
  if (inputOf(target) !== null) return true;
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

/** Keys that a control knows when it was reached with the keyboard. */
const OWN_KEYS: readonly (readonly [selector: string, keys: RegExp])[] = [
  ['[role="slider"], input[type="range"]', /^(Shift\+)?(Arrow\w+|Home|End|PageUp|PageDown)$/],
  // Enter does nothing on a tick box of its own: it means Apply.
  ['input[type="checkbox"], input[type="radio"]', /^Space$/],
  ['[role="switch"]', /^(Space|Enter)$/],
  ['[role="radiogroup"], [role="tablist"], [data-arrows]', /^(Shift\+)?Arrow\w+$/],
  ['.block', /^Ctrl\+Shift\+Arrow\w+$/],
  ['button, a[href], summary, [role="button"]', /^Enter$/],
  ['[role="separator"]', /^(Arrow\w+|Home|End)$/],
];

/** What lies open over the bench: Escape closes it first. */
const OPEN_LAYERS =
  '.close-up, .ant-popover:not(.ant-popover-hidden), .ant-dropdown:not(.ant-dropdown-hidden), .ant-select-dropdown:not(.ant-select-dropdown-hidden)';

/** What takes back, and what does it again: from dialogs too. */
const UNDOES = /^Ctrl\+(Z|Shift\+Z|Y)$/;

let taken = false;

/** From here on all keys are a dialog's that is about to open: its field does not have the focus yet. Gives them back when called. */
export function takeKeys(): () => void {
  taken = true;
  return () => (taken = false);
}

/** @param press as the table of strokes writes it */
export function isForBench(target: EventTarget | null, press: string): boolean {
  // What is in hand has all keys.
  if (taken || isDragging()) return false;
  if (press === 'Escape' && document.querySelector(OPEN_LAYERS)) return false;
  if (!(target instanceof Element)) return true;
  // What is carried by keyboard has all keys until it is put down.
  if (target.closest('[aria-roledescription="sortable"][aria-pressed="true"]')) return false;
  if (target.closest('[role="dialog"], [role="menu"], [role="listbox"], .ant-popover'))
    return UNDOES.test(press) && !isWriting(target);
  if (target.getAttribute('role') === 'combobox')
    return target.getAttribute('aria-expanded') !== 'true' && !/^(Arrow(Up|Down)|Enter|Space|.)$/.test(press);
  const input = inputOf(target);
  if (input && isNumberField(input)) {
    // On the figure and in the lanes it leaves the field first, with what was typed.
    if (press === 'Escape' && input.closest('[data-home]')) return false;
    // What was typed is taken back by the field; where nothing was, the stroke means the shot.
    if (press === 'Ctrl+Z') return input.value === (input.dataset['atFocus'] ?? input.value);
    return !NUMBER_KEYS.test(press);
  }
  if (isWriting(target)) return false;
  return !OWN_KEYS.some(([selector, keys]) => keys.test(press) && target.closest(selector) !== null);
}
