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

/** How late a sample may be before it is left out: catching up with one client may not keep the others waiting. */
const LATE_MS = 250;
/** Bytes that may wait for a client who does not read; and how long it is given to hear that it was left. */
const [MOST_WAITING, FAREWELL_MS] = [256e3, 1000];
/** Clients at once. */
const MOST_CLIENTS = 32;

const clients = new Set<WebSocket>();

/**
 * Sends until the other side leaves. Each sample says when it was made: a timer that is late makes none of them late. What is too late to be of use is left out, and who does
 * not read is let go.
 */
export function sendFeed(socket: WebSocket, { seed, rate }: FeedOptions): void {
  if (clients.size >= MOST_CLIENTS) return socket.close(1013, 'too many listen already');
  clients.add(socket);
  const pose = grumble(seed);
  const send = (message: object) => socket.send(JSON.stringify(message));
  send({ kind: 'hello', name: 'Grumble, a stand-in', rate, channels: GRUMBLE_CHANNELS });
  const began = performance.now();
  const step = 1000 / rate;
  let sent = 0;
  const timer = setInterval(() => {
    if (socket.bufferedAmount > MOST_WAITING) return leave();
    const now = performance.now() - began;
    if (now - sent * step > LATE_MS) sent = Math.ceil((now - LATE_MS) / step);
    for (; sent * step <= now; sent += 1)
      send({ kind: 'sample', time: sent * step, values: pose(sent / rate) });
  }, step);
  const stop = () => {
    clearInterval(timer);
    clients.delete(socket);
  };
  const leave = () => {
    stop();
    socket.close(1013, 'too slow');
    // What waits for it stands before the farewell: who does not read never hears it.
    setTimeout(() => socket.terminate(), FAREWELL_MS).unref();
  };
  socket.on('close', stop);
  socket.on('error', stop);
}
