/**
 * What a press on the stage would take, told by the cursor before: the arrows and rings of the handle, then a bead, then the room within the handle, then a part of the figure.
 */
let handle: string | null = null;
let beads = 0;
let parts = 0;

/** The room within it, where nothing is drawn: it turns or moves freely, and yields to what can be seen there. */
const WITHIN = new Set(['XYZE', 'XYZ']);

export type UnderPointer = 'handle' | 'bead' | 'part' | null;

export function underPointer(): UnderPointer {
  if (handle !== null && !WITHIN.has(handle)) return 'handle';
  if (beads > 0) return 'bead';
  if (handle !== null) return 'handle';
  return parts > 0 ? 'part' : null;
}

const CURSORS = { handle: 'grab', bead: 'grab', part: 'pointer' } as const;

function show(canvas: HTMLElement): void {
  const under = underPointer();
  canvas.style.cursor = under === null ? '' : CURSORS[under];
}

/** @param axis of the handle that is under the pointer, in the words of three's TransformControls; null for none */
export function overHandle(canvas: HTMLElement, axis: string | null): void {
  handle = axis;
  show(canvas);
}

/** @param by 1 when the pointer comes over one, −1 when it leaves or the thing is gone */
export function overThing(canvas: HTMLElement, thing: 'bead' | 'part', by: 1 | -1): void {
  if (thing === 'bead') beads = Math.max(0, beads + by);
  else parts = Math.max(0, parts + by);
  show(canvas);
}
