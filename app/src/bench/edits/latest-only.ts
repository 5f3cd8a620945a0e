/** Work that may be left: its signal says so. It says its own failures; one that throws does not stop those after it. */
type Task = (signal: AbortSignal) => Promise<void>;

/** One task at a time; of those that are asked for meanwhile only the newest is carried out. */
export class LatestOnly {
  private wanted: Task | null = null;
  private running: AbortController | null = null;
  private readonly onBusy: (busy: boolean) => void;

  /** @param onBusy told when work begins and when nothing is left to do */
  constructor(onBusy: (busy: boolean) => void) {
    this.onBusy = onBusy;
  }

  /** What runs goes on: a slider that moves all the time would never see an answer otherwise. */
  ask(task: Task): void {
    this.wanted = task;
    if (!this.running) void this.work();
  }

  /** What is not yet begun is not wanted any more, and what runs is left. */
  drop(): void {
    this.wanted = null;
    this.running?.abort();
  }

  private async work(): Promise<void> {
    this.onBusy(true);
    while (this.wanted) {
      const task = this.wanted;
      this.wanted = null;
      this.running = new AbortController();
      await task(this.running.signal).catch(() => undefined);
    }
    this.running = null;
    this.onBusy(false);
  }
}
