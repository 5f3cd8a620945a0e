/** The capture feed toward clients that are slow, late and many. */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { WebSocket } from '@fastify/websocket';
import { sendFeed } from './feed.ts';

interface Sample {
  readonly kind: string;
  readonly time: number;
}

/** A client that hears, until it does not. */
class Client {
  bufferedAmount = 0;
  readonly heard: Sample[] = [];
  readonly ended: (number | string)[] = [];
  private readonly listeners = new Map<string, () => void>();
  send(text: string): void {
    this.heard.push(JSON.parse(text) as Sample);
  }
  on(event: string, act: () => void): void {
    this.listeners.set(event, act);
  }
  close(code: number): void {
    this.ended.push(code);
  }
  terminate(): void {
    this.ended.push('terminated');
    this.leave();
  }
  leave(): void {
    this.listeners.get('close')?.();
  }
}
const opened: Client[] = [];
const listen = (rate: number): Client => {
  const client = new Client();
  opened.push(client);
  sendFeed(client as unknown as WebSocket, { seed: 1, rate });
  return client;
};

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  opened.splice(0).forEach((client) => client.leave());
  jest.useRealTimers();
});

describe('the feed', () => {
  test('sends what is due, at even times', () => {
    const client = listen(240);
    jest.advanceTimersByTime(1000);
    const times = client.heard.slice(1).map(({ time }) => time);
    expect(times.length).toBeGreaterThan(225);
    times.forEach((time, i) => expect(time).toBeCloseTo((i * 1000) / 240, 9));
  });

  test('leaves out what is too late to be of use, and sends no more at a turn than the others can wait for', () => {
    const client = listen(240);
    const clock = jest.spyOn(performance, 'now');
    const stopped = performance.now() + 20_000;
    clock.mockReturnValue(stopped);
    const before = client.heard.length;
    jest.advanceTimersToNextTimer();
    const late = client.heard.slice(before).map(({ time }) => time);
    clock.mockRestore();
    expect(late.length).toBeGreaterThan(0);
    expect(late.length).toBeLessThanOrEqual(64);
    expect(late[0]).toBeGreaterThan(20_000 - 260);
  });

  test('lets go of who does not read, and does not wait for the farewell', () => {
    const client = listen(60);
    jest.advanceTimersByTime(200);
    client.bufferedAmount = 300_000;
    const before = client.heard.length;
    jest.advanceTimersByTime(100);
    expect([client.ended, client.heard.length]).toEqual([[1013], before]);
    jest.advanceTimersByTime(2000);
    expect([client.ended, client.heard.length]).toEqual([[1013, 'terminated'], before]);
  });

  test('has room for so many, and for another when one has left', () => {
    const clients = Array.from({ length: 32 }, () => listen(60));
    const late = listen(60);
    expect([late.ended, late.heard]).toEqual([[1013], []]);
    clients[3]!.leave();
    expect(listen(60).ended).toEqual([]);
  });
});
