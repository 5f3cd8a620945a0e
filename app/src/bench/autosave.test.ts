import { describe, expect, test } from '@jest/globals';
import { AGAIN_MS, Autosave, CALM_MS, LONGEST_MS } from './autosave.ts';

/** A bench whose clock is turned by hand, and whose writings end when they are told to. */
function desk() {
  let time = 0;
  let content = 'first';
  let timers: { act: () => void; at: number }[] = [];
  const stored: string[] = [];
  const states: string[] = [];
  const writings: { end: () => void; fail: (error: Error) => void }[] = [];
  const autosave = new Autosave({
    take: () => {
      const taken = content;
      return () =>
        new Promise<void>((resolve, reject) => {
          stored.push(taken);
          writings.push({ end: resolve, fail: reject });
        });
    },
    onState: (state, error) => states.push(error === null ? state : `${state}: ${(error as Error).message}`),
    elsewhereBy: (error) => ((error as Error).message === 'stale' ? 'changed elsewhere' : null),
    now: () => time,
    setTimer: (act, ms) => {
      const timer = { act, at: time + ms };
      timers.push(timer);
      return timer;
    },
    clearTimer: (timer) => {
      timers = timers.filter((one) => one !== timer);
    },
  });
  const settle = () => new Promise((resolve) => setTimeout(resolve, 0));
  return {
    autosave,
    stored,
    states,
    change: (to: string) => {
      content = to;
      autosave.changed();
    },
    pass: async (ms: number) => {
      time += ms;
      const due = timers.filter(({ at }) => at <= time);
      timers = timers.filter(({ at }) => at > time);
      for (const { act } of due) act();
      await settle();
    },
    end: async (error?: Error) => {
      const writing = writings.shift()!;
      if (error) writing.fail(error);
      else writing.end();
      await settle();
    },
  };
}

describe('a change is stored', () => {
  test('after a calm time, once, whatever came in between', async () => {
    const { stored, states, change, pass, end } = desk();
    change('a');
    await pass(CALM_MS - 1);
    change('b');
    await pass(CALM_MS - 1);
    expect(stored).toEqual([]);
    await pass(1);
    expect(stored).toEqual(['b']);
    expect(states.at(-1)).toBe('saving');
    await end();
    expect(states.at(-1)).toBe('saved');
    await pass(5000);
    expect(stored).toEqual(['b']);
  });

  test('within a second, however fast it goes on changing', async () => {
    const { stored, change, pass } = desk();
    for (let ms = 0; ms < LONGEST_MS; ms += 50) {
      change(`at ${ms}`);
      await pass(50);
    }
    expect(stored).toHaveLength(1);
    expect(stored[0]).toBe('at 950');
  });

  test('at once when the bench is left, as it was then', async () => {
    const { autosave, stored, change, pass, end } = desk();
    change('mine');
    const flushed = autosave.flush();
    change('another shot');
    await pass(0);
    expect(stored).toEqual(['mine']);
    await end();
    await flushed;
  });

  test('leaving what is stored writes nothing', async () => {
    const { autosave, stored, pass } = desk();
    await autosave.flush();
    await pass(2000);
    expect(stored).toEqual([]);
  });

  test('one writing at a time, in order; saved is said when the last one ended', async () => {
    const { autosave, stored, states, change, pass, end } = desk();
    change('a');
    void autosave.flush();
    change('b');
    void autosave.flush();
    await pass(0);
    expect(stored).toEqual(['a']);
    await end();
    expect(stored).toEqual(['a', 'b']);
    expect(states.at(-1)).toBe('saving');
    await end();
    expect(states.at(-1)).toBe('saved');
  });

  test('a failure is said, and the next change is stored all the same', async () => {
    const { stored, states, change, pass, end } = desk();
    change('a');
    await pass(CALM_MS);
    await end(new Error('full'));
    expect(states.at(-1)).toBe('problem: full');
    change('b');
    await pass(CALM_MS);
    await end();
    expect([stored, states.at(-1)]).toEqual([['a', 'b'], 'saved']);
  });

  test('after a failure by itself, once there is room, without anything being done', async () => {
    const { autosave, stored, states, change, pass, end } = desk();
    change('a');
    await pass(CALM_MS);
    await end(new Error('full'));
    expect(autosave.unsaved).toBe(true);
    await pass(AGAIN_MS - 1);
    expect(stored).toEqual(['a']);
    await pass(1);
    await end(new Error('still full'));
    await pass(AGAIN_MS);
    await end();
    expect([stored, states.at(-1), autosave.unsaved]).toEqual([['a', 'a', 'a'], 'saved', false]);
  });
});

describe('what another tab has stored', () => {
  test('is not written over', async () => {
    const { autosave, stored, states, change, pass } = desk();
    change('mine');
    autosave.isElsewhere('open elsewhere');
    await pass(2000);
    change('more of mine');
    await pass(2000);
    await autosave.flush();
    expect([stored, states.at(-1), autosave.unsaved]).toEqual([[], 'open elsewhere', true]);
  });

  test('and not tried again where a writing came too late: what it held is unsaved still', async () => {
    const { autosave, stored, states, change, pass, end } = desk();
    change('mine');
    await pass(CALM_MS);
    await end(new Error('stale'));
    await pass(2 * AGAIN_MS);
    expect([stored, states.at(-1)]).toEqual([['mine'], 'changed elsewhere: stale']);
    expect([autosave.elsewhere, autosave.unsaved]).toEqual([true, true]);
  });

  test('stays said when a writing of ours ends later', async () => {
    const { autosave, states, change, pass, end } = desk();
    change('mine');
    await pass(CALM_MS);
    autosave.isElsewhere('removed');
    await end();
    expect(states.at(-1)).toBe('removed');
  });
});
