import { describe, expect, test } from '@jest/globals';
import { WorkerHost } from './worker-host.ts';

/** Workers that are ended and silenced by hand. */
function yard() {
  const workers: { end: () => void; stopped: boolean; asked: number }[] = [];
  let lost = 0;
  let timers: { act: () => void }[] = [];
  const host = new WorkerHost<{ answer: (now: boolean) => Promise<number> }>({
    start: () => {
      let end: () => void = () => undefined;
      const ended = new Promise<void>((resolve) => (end = resolve));
      const worker = { end, stopped: false, asked: 0 };
      const number = workers.push(worker);
      const services = {
        answer: (now: boolean) => {
          worker.asked += 1;
          return now ? Promise.resolve(number) : new Promise<number>(() => undefined);
        },
      };
      return { services, ended, stop: () => (worker.stopped = true) };
    },
    onLost: () => (lost += 1),
    setTimer: (act) => {
      const timer = { act };
      timers.push(timer);
      return timer;
    },
    clearTimer: (timer) => (timers = timers.filter((one) => one !== timer)),
  });
  const settle = () => new Promise((resolve) => setTimeout(resolve, 0));
  return { host, workers, lost: () => lost, timers: () => timers, settle };
}

describe('a worker', () => {
  test('is started when it is first asked, and once', async () => {
    const { host, workers, timers } = yard();
    expect(workers.length).toBe(0);
    expect(await host.ask(({ answer }) => answer(true))).toBe(1);
    expect(await host.ask(({ answer }) => answer(true))).toBe(1);
    expect([workers.length, timers().length]).toEqual([1, 0]);
  });

  test('that ends is started again, and all that waited are asked once more; it is said once', async () => {
    const { host, workers, lost, settle } = yard();
    const both = [1, 2].map(() => host.ask(({ answer }) => answer(workers.length > 1)));
    await settle();
    workers[0]!.end();
    expect(await Promise.all(both)).toEqual([2, 2]);
    expect([workers.length, workers[0]!.stopped, workers[1]!.stopped, lost()]).toEqual([2, true, false, 1]);
  });

  test('that ends twice over the same is given up, in words; the next one is asked as ever', async () => {
    const { host, workers, settle } = yard();
    const hopeless = host.ask(({ answer }) => answer(false));
    await settle();
    workers[0]!.end();
    await settle();
    workers[1]!.end();
    await expect(hopeless).rejects.toThrow(/stopped twice/);
    expect(await host.ask(({ answer }) => answer(true))).toBe(3);
  });

  test('that gives no sign is taken for ended; a sign gives it time again', async () => {
    const { host, workers, timers, settle } = yard();
    let sign: () => void = () => undefined;
    const waiting = host.ask(({ answer }, alive) => {
      sign = alive;
      return answer(workers.length > 1);
    });
    await settle();
    const [first] = timers();
    sign();
    expect(timers()).not.toContain(first);
    timers()[0]!.act();
    expect(await waiting).toBe(2);
    expect(workers[0]!.stopped).toBe(true);
  });

  test('whose call fails is not lost: that is said to who asked', async () => {
    const { host, lost } = yard();
    await expect(host.ask(() => Promise.reject(new Error('a defect')))).rejects.toThrow('a defect');
    expect(lost()).toBe(0);
  });
});
