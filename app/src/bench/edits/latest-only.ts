/** One task at a time; of those that are asked for meanwhile only the newest is carried out. */
export class LatestOnly {
  private wanted: (() => Promise<void>) | null = null;
  private busy = false;
  private readonly onBusy: (busy: boolean) => void;

  /** @param onBusy told when work begins and when nothing is left to do */
  constructor(onBusy: (busy: boolean) => void) {
    this.onBusy = onBusy;
  }

  /** A task says its own failures; one that throws does not stop those after it. */
  ask(task: () => Promise<void>): void {
    this.wanted = task;
    if (!this.busy) void this.work();
  }

  /** What is not yet begun is not wanted any more. */
  drop(): void {
    this.wanted = null;
  }

  private async work(): Promise<void> {
    this.busy = true;
    this.onBusy(true);
    while (this.wanted) {
      const task = this.wanted;
      this.wanted = null;
      await task().catch(() => undefined);
    }
    this.busy = false;
    this.onBusy(false);
  }
}
