/**
 * Keeps a worker running: one that ends, or that gives no sign for too long, is started again, and what was asked of it is asked
 * once more. Nothing here knows what the worker does.
 */
export interface Started<Services> {
  readonly services: Services;
  /** Settles when the worker has ended, whatever ended it. */
  readonly ended: Promise<void>;
  readonly stop: () => void;
}

interface Hosting<Services> {
  readonly start: () => Started<Services>;
  /** Told once for each worker that was lost. */
  readonly onLost: () => void;
  /** How long a call may go without a sign, ms. */
  readonly patience?: number;
  readonly setTimer?: (act: () => void, ms: number) => unknown;
  readonly clearTimer?: (timer: unknown) => void;
}

/** Longer than any single slice of work; edits that are not sliced take seconds at most. */
const PATIENCE_MS = 90_000;

const LOST = Symbol('lost');

export class WorkerHost<Services> {
  private running: Started<Services> | null = null;
  private readonly hosting: Required<Hosting<Services>>;

  constructor(hosting: Hosting<Services>) {
    this.hosting = {
      patience: PATIENCE_MS,
      setTimer: (act, ms) => setTimeout(act, ms),
      clearTimer: (timer) => clearTimeout(timer as number),
      ...hosting,
    };
  }

  /**
   * Asks the worker; rejects with what the call throws, or when two workers were lost over it.
   * @param call is made anew when a worker is lost; it calls `alive` for each sign of life
   */
  async ask<Answer>(call: (services: Services, alive: () => void) => Promise<Answer>): Promise<Answer> {
    for (let tries = 0; tries < 2; tries += 1) {
      const started = (this.running ??= this.hosting.start());
      const answer = await this.answerOf(started, call);
      if (answer !== LOST) return answer;
      this.lost(started);
    }
    throw new Error('The part that works beside the page stopped twice over this. Your shot is as it was.');
  }

  private async answerOf<Answer>(
    { services, ended }: Started<Services>,
    call: (services: Services, alive: () => void) => Promise<Answer>,
  ): Promise<Answer | typeof LOST> {
    const { patience, setTimer, clearTimer } = this.hosting;
    let timer: unknown = null;
    let giveUp: (lost: typeof LOST) => void = () => undefined;
    const silence = new Promise<typeof LOST>((resolve) => (giveUp = resolve));
    const alive = () => {
      if (timer !== null) clearTimer(timer);
      timer = setTimer(() => giveUp(LOST), patience);
    };
    alive();
    try {
      return await Promise.race([call(services, alive), ended.then((): typeof LOST => LOST), silence]);
    } finally {
      clearTimer(timer);
    }
  }

  private lost(started: Started<Services>): void {
    // Others that waited for it have noticed already.
    if (this.running !== started) return;
    this.running = null;
    started.stop();
    this.hosting.onLost();
  }
}
