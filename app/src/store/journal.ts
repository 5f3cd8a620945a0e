/**
 * What was done since a shot was last stored, written at once: the record itself takes time, and the page may be gone by then. An act is
 * small, an edit with its options, and edits are deterministic: run again on what was stored they give what was there.
 */
import { z } from 'zod';
import { commit, goTo, runEdit, select, selectionSchema } from '@kneader/core';
import type { Session } from '@kneader/core';
import { STORED_STEPS } from './shot-record.ts';

const act = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('edit'),
    edit: z.string(),
    options: z.unknown(),
    label: z.string(),
    selection: selectionSchema,
  }),
  /** Along the history: so many steps before its newest. */
  z.object({ kind: z.literal('go'), back: z.number().int().min(0) }),
  /** Something that no act says: what comes after it stands on what is not here. */
  z.object({ kind: z.literal('gap') }),
]);
export type Act = z.infer<typeof act>;

export const journalSchema = z.array(z.object({ number: z.number().int(), act }));
/** Acts with their numbers, which rise over the shot's life. */
export type Journal = z.infer<typeof journalSchema>;

/** What led from one session to the next; null where nothing was done. */
export function actBetween(was: Session, now: Session): Act | null {
  if (now.steps === was.steps) {
    const back = now.steps.length - 1 - now.at;
    if (now.at === was.at) return null;
    // A record holds so many steps: farther back there is nothing to go to.
    return back < STORED_STEPS ? { kind: 'go', back } : { kind: 'gap' };
  }
  const step = now.steps[now.at]!;
  const before = now.steps[now.at - 1];
  // Steps that had been undone are there still only after one that left the shot as it was.
  const isNext = now.at === now.steps.length - 1 || step.shot === before?.shot;
  if (!isNext || step.edit === null || before !== was.steps[was.at]) return { kind: 'gap' };
  const { edit, options, label } = step;
  return { kind: 'edit', edit, options, label, selection: step.selection } as Act;
}

/** The session after the acts, as far as they can be done: an edit that fails, or a gap, ends it, and the shot opens all the same. */
export function replay(session: Session, acts: readonly Act[]): Session {
  let now = session;
  for (const one of acts) {
    if (one.kind === 'gap') return now;
    try {
      now = one.kind === 'go' ? goTo(now, now.steps.length - 1 - one.back) : again(now, one);
    } catch {
      return now;
    }
  }
  return now;
}

function again(session: Session, { edit, options, label, selection }: Act & { kind: 'edit' }): Session {
  const meant = select(session, selection);
  return commit(meant, edit, options, runEdit(edit, meant.shot, selection, options), label);
}

/** Where a journal is written: at once, as text. */
export interface JournalPlace {
  /** Rejected where there is no room. */
  readonly write: (journal: Journal) => Promise<unknown>;
  readonly clear: () => void;
}

/** Keeps the journal of the shot on the bench: what is not stored yet, and nothing else. */
export class JournalKeeper {
  private open: Journal = [];
  private readonly place: JournalPlace;
  private last: number;
  /** The number of the last act that the place has refused. */
  private refused = 0;
  private readonly onRefused: () => void;

  /**
   * @param last the number of the last act that is in the record
   * @param onRefused what was done is noted nowhere: it must be stored at once
   */
  constructor(place: JournalPlace, last: number, onRefused: () => void = () => undefined) {
    this.place = place;
    this.last = last;
    this.onRefused = onRefused;
  }

  /** Whether something that is not stored could not be noted either. */
  get isRefused(): boolean {
    return this.open.some(({ number }) => number <= this.refused);
  }

  /** The number of the last act: what is stored now holds all up to it. */
  get number(): number {
    return this.last;
  }

  note(done: Act): void {
    this.last += 1;
    this.open = [...this.open, { number: this.last, act: done }];
    this.write();
  }

  /** The record holds all acts up to this one. */
  stored(number: number): void {
    this.open = this.open.filter((one) => one.number > number);
    if (this.open.length === 0) this.place.clear();
    else this.write();
  }

  private write(): void {
    const upTo = this.last;
    this.place.write(this.open).then(
      () => {
        if (this.refused <= upTo) this.refused = 0;
      },
      () => {
        this.refused = Math.max(this.refused, upTo);
        this.onRefused();
      },
    );
  }
}
