/** A feed as a source, over a socket that is none: what it sends is up to the test. */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { feedSource } from './feed-source.ts';

class FakeSocket extends EventTarget {
  closed = false;
  close() {
    this.closed = true;
  }
  send(message: unknown) {
    const data = typeof message === 'string' ? message : JSON.stringify(message);
    this.dispatchEvent(new MessageEvent('message', { data }));
  }
}
const HELLO = { kind: 'hello', name: 'Fake', rate: 50, channels: ['head.rx', 'neck.rx'] };
const sample = (time: number, ...values: number[]) => ({ kind: 'sample', time, values });

function listening(channels: ReadonlySet<string> | null = null) {
  const socket = new FakeSocket();
  const pushed: (readonly [number, Readonly<Record<string, number>>])[] = [];
  const ended: string[] = [];
  let asked = '';
  const connect = (url: string) => {
    asked = url;
    return socket as unknown as WebSocket;
  };
  const source = feedSource({ channels, seed: 11, connect });
  const stop = source.listen({
    push: (time, values) => pushed.push([time, values]),
    late: () => undefined,
    ended: (sentence) => ended.push(sentence),
  });
  return { socket, pushed, ended, source, stop, asked: () => asked };
}

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

describe('a capture feed', () => {
  test('is asked for with its seed where the page came from, and gives what it sends by name', () => {
    const { socket, pushed, asked } = listening();
    expect(asked()).toMatch(/^ws:\/\/.*\/feed\?seed=11$/);
    socket.send(HELLO);
    socket.send(sample(0, 1, 2));
    jest.advanceTimersByTime(20);
    socket.send(sample(20, 3, 4));
    expect(pushed.map(([, values]) => values)).toEqual([
      { 'head.rx': 1, 'neck.rx': 2 },
      { 'head.rx': 3, 'neck.rx': 4 },
    ]);
    expect(pushed[1]![0] - pushed[0]![0]).toBeCloseTo(20, 6);
  });

  test('gives only the channels that are wanted', () => {
    const { socket, pushed } = listening(new Set(['neck.rx']));
    socket.send(HELLO);
    socket.send(sample(0, 1, 2));
    expect(pushed.map(([, values]) => values)).toEqual([{ 'neck.rx': 2 }]);
  });

  test('nonsense is left out and counted; the rest goes on', () => {
    const { socket, pushed, ended, source } = listening();
    socket.send(sample(0, 1, 2));
    socket.send(HELLO);
    socket.send('no json');
    socket.send({ kind: 'sample', time: 'late', values: [1, 2] });
    socket.send(sample(0, 1));
    socket.send(sample(0, 5, 6));
    expect(pushed).toHaveLength(1);
    expect(ended).toEqual([]);
    expect(source.remarks()).toEqual(['4 messages of the feed made no sense and were left out.']);
  });

  test('that stops says so, once, and the line is closed', () => {
    const { socket, ended } = listening();
    socket.send(HELLO);
    socket.dispatchEvent(new Event('close'));
    jest.advanceTimersByTime(10_000);
    expect(ended).toEqual(['The feed has stopped: what came until then is kept.']);
    expect(socket.closed).toBe(true);
  });

  test('that falls silent has stopped; one that speaks has not', () => {
    const { socket, ended } = listening();
    socket.send(HELLO);
    for (let i = 0; i < 5; i += 1) {
      jest.advanceTimersByTime(1400);
      socket.send(sample(1400 * (i + 1), 1, 2));
    }
    expect(ended).toEqual([]);
    jest.advanceTimersByTime(1600);
    expect(ended).toEqual(['The feed has fallen silent: what came until then is kept.']);
  });

  test('that is not there is said to be missing; that says nothing too', () => {
    const gone = listening();
    gone.socket.dispatchEvent(new Event('close'));
    expect(gone.ended).toEqual(['There is no capture feed here.']);
    const mute = listening();
    jest.advanceTimersByTime(1600);
    expect(mute.ended).toEqual(['The feed says nothing.']);
  });

  test('that is left says nothing more', () => {
    const { socket, ended, stop } = listening();
    socket.send(HELLO);
    stop();
    jest.advanceTimersByTime(10_000);
    socket.dispatchEvent(new Event('close'));
    expect([ended, socket.closed]).toEqual([[], true]);
  });
});
