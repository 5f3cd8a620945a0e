/**
 * What the page has heard. What a run shows on its way goes by a port of its own, and messages of two ports come in any order: an answer that names parts which such a look has taught must not be there
 * before it.
 */
export class Heard {
  private looks: Promise<unknown> = Promise.resolve();

  /** @param told settles when the page has taken it; one that fails has been said there */
  note(told: Promise<unknown>): void {
    this.looks = Promise.allSettled([this.looks, told]);
  }

  /** When all that was shown has been taken. */
  async all(): Promise<void> {
    for (let before: Promise<unknown> | null = null; before !== this.looks;) await (before = this.looks);
  }
}
