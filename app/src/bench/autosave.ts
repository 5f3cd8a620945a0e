/**
 * When what is on the bench is stored: soon after it has changed, within a second however fast it goes on changing, at once when the
 * bench is left; one writing at a time, and never over what another tab has stored meanwhile.
 */
export type SavingState = 'saved' | 'saving' | 'problem' | Elsewhere;
/** Why nothing is stored from here: another tab has the shot open, has changed it, or it is not there any more. */
export type Elsewhere = 'open elsewhere' | 'changed elsewhere' | 'removed';

interface Autosaving {
  /** Takes what there is now, and gives what stores it: by then another shot may lie on the bench. */
  readonly take: () => () => Promise<void>;
  readonly onState: (state: SavingState, error: unknown) => void;
  /** What a failure says of other tabs, if it does. */
  readonly elsewhereBy?: (error: unknown) => Elsewhere | null;
  readonly now?: () => number;
  readonly setTimer?: (act: () => void, ms: number) => unknown;
  readonly clearTimer?: (timer: unknown) => void;
}

/** Calm time before a change is stored, and how long a change waits at most. */
export const CALM_MS = 350;
export const LONGEST_MS = 1000;
/** After a failure it is tried again: room may have been made meanwhile. */
export const AGAIN_MS = 3000;

export class Autosave {
  private timer: unknown = null;
  /** When the oldest change that is not stored was made; null while all is. */
  private since: number | null = null;
  private running: Promise<void> = Promise.resolve();
  private writing = 0;
  private otherTab: Elsewhere | null = null;
  private readonly saving: Required<Autosaving>;

  constructor(saving: Autosaving) {
    this.saving = {
      now: () => performance.now(),
      setTimer: (act, ms) => setTimeout(act, ms),
      clearTimer: (timer) => clearTimeout(timer as number),
      elsewhereBy: () => null,
      ...saving,
    };
  }

  /** Something has changed that is to be stored. */
  changed(): void {
    this.since ??= this.saving.now();
    if (this.elsewhere) return;
    this.saving.onState('saving', null);
    const waited = this.saving.now() - this.since;
    this.wait(Math.max(0, Math.min(CALM_MS, LONGEST_MS - waited)));
  }

  /** Whether it is not ours any more: nothing is stored from here. */
  get elsewhere(): boolean {
    return this.otherTab !== null;
  }

  /** Whether something is not stored, nor being stored. */
  get unsaved(): boolean {
    return this.since !== null;
  }

  /** Whether something is not stored yet. */
  get pending(): boolean {
    return this.since !== null || this.writing > 0;
  }

  /** Stores at once what is not stored; done when it is. */
  flush(): Promise<void> {
    if (this.since !== null) this.save();
    return this.running;
  }

  /** From here on nothing is written over what is there, or is there no more. */
  isElsewhere(how: Elsewhere): void {
    this.otherTab = how;
    this.stopWaiting();
    this.saving.onState(how, null);
  }

  private wait(ms: number): void {
    this.stopWaiting();
    this.timer = this.saving.setTimer(() => this.save(), ms);
  }

  private stopWaiting(): void {
    if (this.timer !== null) this.saving.clearTimer(this.timer);
    this.timer = null;
  }

  private save(): void {
    this.stopWaiting();
    if (this.elsewhere) return;
    this.since = null;
    this.writing += 1;
    this.saving.onState('saving', null);
    const store = this.saving.take();
    this.running = this.running.then(store).then(
      () => this.ended(null),
      (error: unknown) => this.ended(error ?? new Error('unknown')),
    );
  }

  private ended(error: unknown): void {
    this.writing -= 1;
    if (this.otherTab) this.saving.onState(this.otherTab, null);
    else if (error !== null) {
      this.since ??= this.saving.now();
      this.otherTab = this.saving.elsewhereBy(error);
      if (this.otherTab) {
        this.saving.onState(this.otherTab, error);
        return;
      }
      this.saving.onState('problem', error);
      this.wait(AGAIN_MS);
    } else this.saving.onState(this.writing > 0 || this.since !== null ? 'saving' : 'saved', null);
  }
}
