/**
 * One budget of bytes for what is worked out from others and can be worked out again: whoever keeps such data says how much, and lets go of it when asked.
 * Who has not been used since it was last looked at goes first (second chance: a clock without a hand on every use).
 *
 * Holders are known weakly, so that keeping something here never keeps it alive.
 */

export interface Holder {
  /** Set by the holder whenever what it keeps is used. */
  used: boolean;
  /** Lets go of what it keeps; false where it is just being worked on. */
  drop(): boolean;
}

/** Bytes. */
const MOST = 128e6;

interface Held {
  readonly holder: WeakRef<Holder>;
  readonly bytes: number;
}
let held: Held[] = [];
/** What stands before it in the list has been looked at. */
let head = 0;
let total = 0;

/** Counts what a holder has begun to keep; others may be asked to let go. @param most bytes, for tests */
export function holdDerived(holder: Holder, bytes: number, most = MOST): void {
  total += bytes;
  held.push({ holder: new WeakRef(holder), bytes });
  // Each is looked at twice at most: once to take its chance away, once to let go.
  for (let looks = 2 * (held.length - head); total > most && looks > 0; looks -= 1) lookAtNext(holder);
  if (head > 4096 && head > held.length / 2) {
    held = held.slice(head);
    head = 0;
  }
}

function lookAtNext(newest: Holder): void {
  const next = held[head]!;
  head += 1;
  const holder = next.holder.deref();
  if (!holder) {
    total -= next.bytes;
    return;
  }
  if (holder === newest || holder.used || !holder.drop()) {
    holder.used = false;
    held.push(next);
  } else total -= next.bytes;
}

/** Bytes that are counted now. */
export const derivedBytes = (): number => total;
