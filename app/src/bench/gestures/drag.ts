/**
 * The one machine that every drag of the bench goes through: press, threshold, move, end. Modifiers may come and go on the way, and are heard without a movement. It is taken back by
 * Escape (whatever else is held), by Undo, when the window is left, when the browser takes the pointer away, and by a second finger. Nothing has happened then.
 */

/** A pointer on its way: where it is on the page, in pixels, and what is held beside it. */
export interface DragPoint {
  readonly x: number;
  readonly y: number;
  readonly shift: boolean;
  readonly ctrl: boolean;
  readonly alt: boolean;
}

/** What a drag does. All but `cancel` are called with the pointer as it is. */
export interface DragActs {
  /** It has moved so far that a drag is meant. */
  readonly start?: (at: DragPoint) => void;
  readonly move: (at: DragPoint) => void;
  readonly end?: (at: DragPoint) => void;
  /** Let go before it was a drag. */
  readonly click?: (at: DragPoint) => void;
  /** All is as it was before the press. Only called after `start`. */
  readonly cancel: () => void;
  /** However it came to its end, and at last. */
  readonly settle?: () => void;
}

/** A press that moves less than so many pixels is a click: a hand trembles. */
const DRAG_FROM = 3;

type Press = Pick<
  PointerEvent,
  'clientX' | 'clientY' | 'shiftKey' | 'ctrlKey' | 'metaKey' | 'altKey' | 'pointerId'
>;
type Held = Pick<MouseEvent, 'shiftKey' | 'ctrlKey' | 'metaKey' | 'altKey'>;

interface Drag {
  readonly pointer: number;
  readonly acts: DragActs;
  readonly from: DragPoint;
  at: DragPoint;
  moved: boolean;
}

let held: Drag | null = null;

const watchers = new Set<() => void>();

/** Calls back when something is taken in hand and moves, and when it is let go; returns how to stop. */
export function onDragging(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** Whether something is on its way in a hand: a press alone is nothing yet. */
export const isMoving = (): boolean => held?.moved === true;

/** Whether something is in hand: keystrokes are its own then. */
export const isDragging = (): boolean => held !== null;

const pointAt = (x: number, y: number, keys: Held): DragPoint => ({
  x,
  y,
  shift: keys.shiftKey,
  ctrl: keys.ctrlKey || keys.metaKey,
  alt: keys.altKey,
});

/** Where the pointer of an event is. */
export const pointOf = (event: Omit<Press, 'pointerId'>): DragPoint =>
  pointAt(event.clientX, event.clientY, event);

/**
 * Takes hold at a press.
 * @param threshold pixels from which it is a drag; 0 where the press alone begins it
 */
export function beginDrag(press: Press, acts: DragActs, threshold = DRAG_FROM): void {
  cancelDrag();
  const from = pointOf(press);
  held = { pointer: press.pointerId, acts, from, at: from, moved: false };
  listen(true);
  if (threshold > 0) return;
  begin(held);
}

/** Takes back what is in hand; nothing where there is none. */
export function cancelDrag(): void {
  const drag = letGo();
  if (!drag) return;
  if (drag.moved) drag.acts.cancel();
  drag.acts.settle?.();
}

function letGo(): Drag | null {
  const drag = held;
  held = null;
  if (drag) listen(false);
  if (drag?.moved) watchers.forEach((watcher) => watcher());
  return drag;
}

function begin(drag: Drag): void {
  drag.moved = true;
  watchers.forEach((watcher) => watcher());
  drag.acts.start?.(drag.from);
}

function moveTo(drag: Drag, at: DragPoint): void {
  drag.at = at;
  if (!drag.moved) {
    if (Math.hypot(at.x - drag.from.x, at.y - drag.from.y) < DRAG_FROM) return;
    begin(drag);
    // What it began may have refused.
    if (held !== drag) return;
  }
  drag.acts.move(at);
}

function onMove(event: PointerEvent): void {
  if (held?.pointer === event.pointerId) moveTo(held, pointOf(event));
}

function onUp(event: PointerEvent): void {
  const drag = held;
  if (drag?.pointer !== event.pointerId) return;
  const at = pointOf(event);
  if (drag.moved || Math.hypot(at.x - drag.from.x, at.y - drag.from.y) >= DRAG_FROM) moveTo(drag, at);
  if (held !== drag) return;
  letGo();
  if (drag.moved) {
    swallowClick();
    drag.acts.end?.(at);
  } else drag.acts.click?.(at);
  drag.acts.settle?.();
}

/** The click that a browser makes of the end of a drag is meant by nobody. */
function swallowClick(): void {
  const stop = (event: Event) => event.stopPropagation();
  window.addEventListener('click', stop, { capture: true, once: true });
  setTimeout(() => window.removeEventListener('click', stop, { capture: true }));
}

function onDown(event: PointerEvent): void {
  if (held && event.pointerId !== held.pointer) takeBack(event);
}

function onKey(event: KeyboardEvent): void {
  const drag = held;
  if (!drag) return;
  const takesBack = event.key === 'Escape' || ((event.ctrlKey || event.metaKey) && /^z$/i.test(event.key));
  if (takesBack && event.type === 'keydown') {
    takeBack(event);
    return;
  }
  if (/^(Shift|Control|Alt|Meta)$/.test(event.key)) {
    // Alone, Alt would go to the browser's menu.
    if (event.key === 'Alt') event.preventDefault();
    const at = pointAt(drag.at.x, drag.at.y, event);
    if (drag.moved) moveTo(drag, at);
    else drag.at = at;
  }
}

/** Until the hand is opened its movements mean nothing more, and neither does the click at its end. */
function takeBack(event: Event): void {
  event.preventDefault();
  event.stopImmediatePropagation();
  cancelDrag();
  window.addEventListener('pointerup', swallowClick, { capture: true, once: true });
}

function onLost(event: PointerEvent): void {
  if (held?.pointer === event.pointerId) cancelDrag();
}

const prevent = (event: Event) => event.preventDefault();

function listen(on: boolean): void {
  const change = (name: string, listener: (event: never) => void, { capture }: { capture: boolean }) => {
    if (on) window.addEventListener(name, listener as EventListener, { capture });
    else window.removeEventListener(name, listener as EventListener, { capture });
  };
  const whole = { capture: true };
  change('pointermove', onMove, whole);
  change('pointerup', onUp, whole);
  change('pointercancel', onLost, whole);
  change('pointerdown', onDown, whole);
  change('keydown', onKey, whole);
  change('keyup', onKey, whole);
  change('blur', cancelDrag, { capture: false });
  // The page's own drags of text and pictures would take the pointer away.
  change('selectstart', prevent, whole);
  change('dragstart', prevent, whole);
}
