/** The budget of derived data: bounded, by least recent use, alive for none. */
import { expect, test } from '@jest/globals';
import { derivedBytes, holdDerived } from './derived-budget.ts';
import type { Holder } from './derived-budget.ts';

class Kept implements Holder {
  used = false;
  held = 0;
  busy = false;
  hold(bytes: number, most: number): void {
    this.held += bytes;
    holdDerived(this, bytes, most);
  }
  drop(): boolean {
    if (this.busy) return false;
    this.held = 0;
    return true;
  }
}

test('what was used lately stays, the rest goes; what is being worked on is left alone', () => {
  const most = derivedBytes() + 1000;
  const all = Array.from({ length: 30 }, () => new Kept());
  all[0]!.busy = true;
  for (const one of all) {
    one.hold(100, most);
    // The second is used all the while.
    all[1]!.used = true;
  }
  expect(derivedBytes()).toBeLessThanOrEqual(most);
  expect([all[0]!.held, all[1]!.held]).toEqual([100, 100]);
  expect(all.at(-1)!.held).toBe(100);
  const kept = all.filter(({ held }) => held > 0).length;
  expect([kept <= 10, kept >= 5]).toEqual([true, true]);
});

test('one that is larger than all is kept as long as it is the newest', () => {
  const most = derivedBytes() + 1000;
  const large = new Kept();
  large.hold(5000, most);
  expect(large.held).toBe(5000);
  new Kept().hold(1, most);
  new Kept().hold(1, most);
  expect(large.held).toBe(0);
});
