/** The stand-in capture feed: a seeded performance over a socket, as a capture would send it. */
import type { WebSocket } from '@fastify/websocket';
import { grumble, GRUMBLE_CHANNELS } from '@kneader/core';

export interface FeedOptions {
  readonly seed: number;
  /** Samples in a second. */
  readonly rate: number;
}

const whole = (text: string | null, least: number, most: number, otherwise: number): number => {
  const value = Number(text ?? '');
  return text !== null && Number.isInteger(value) && value >= least && value <= most ? value : otherwise;
};

/** What an address asks for; what makes no sense is as it is usual. */
export function feedOptions(url: string): FeedOptions {
  const asked = new URL(url, 'http://localhost').searchParams;
  return { seed: whole(asked.get('seed'), 0, 1e9, 7), rate: whole(asked.get('rate'), 1, 240, 60) };
}

/** Sends until the other side leaves. Each sample says when it was made: a timer that is late makes none of them late. */
export function sendFeed(socket: WebSocket, { seed, rate }: FeedOptions): void {
  const pose = grumble(seed);
  const send = (message: object) => socket.send(JSON.stringify(message));
  send({ kind: 'hello', name: 'Grumble, a stand-in', rate, channels: GRUMBLE_CHANNELS });
  const began = performance.now();
  let sent = 0;
  const timer = setInterval(() => {
    // All that is due, however late the timer comes.
    for (; (sent * 1000) / rate <= performance.now() - began; sent += 1) {
      // Who does not read is not sent more and more.
      if (socket.bufferedAmount > 1e6) return socket.close(1013, 'too slow');
      send({ kind: 'sample', time: (sent * 1000) / rate, values: pose(sent / rate) });
    }
  }, 1000 / rate);
  socket.on('close', () => clearInterval(timer));
  socket.on('error', () => clearInterval(timer));
}
