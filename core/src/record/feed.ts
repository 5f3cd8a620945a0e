/** What a capture feed sends: one text message for each sample, after one that says what it is. */
import { z } from 'zod';

const MOST_CHANNELS = 2000;

const feedHello = z.object({
  kind: z.literal('hello'),
  name: z.string().max(80),
  /** Samples in a second. */
  rate: z.number().positive().max(1000),
  channels: z.array(z.string()).min(1).max(MOST_CHANNELS),
});
const feedSample = z.object({
  kind: z.literal('sample'),
  /** ms of the feed's own clock. */
  time: z.number(),
  /** In the order of the channels. */
  values: z.array(z.number()),
});
export type FeedHello = z.infer<typeof feedHello>;
export type FeedSample = z.infer<typeof feedSample>;

const message = z.discriminatedUnion('kind', [feedHello, feedSample]);

/** A message as it came, or null for nonsense. */
export function readFeedMessage(text: unknown): FeedHello | FeedSample | null {
  if (typeof text !== 'string' || text.length > 1e6) return null;
  try {
    return message.parse(JSON.parse(text));
  } catch {
    return null;
  }
}

/** No message takes longer on its way, ms: what comes with such a time tells nothing. */
const MOST_LATE_MS = 5000;

/**
 * From the feed's clock to this one's: the least delay that was seen is taken for none, since neither side knows the other's time. What a message
 * took beyond that is its latency.
 */
export class FeedClock {
  private offset = Infinity;
  private last: number | null = null;

  /**
   * @returns when the sample was made, on this clock, and by how much it came late, ms; null where the feed's clock has jumped since the sample before:
   * from then on what comes is measured anew
   */
  heard(time: number, now: number): { readonly made: number; readonly late: number } | null {
    const delay = now - time;
    const jumped = this.last !== null && Math.abs(delay - this.last) > MOST_LATE_MS;
    this.last = delay;
    this.offset = jumped ? delay : Math.min(this.offset, delay);
    if (jumped) return null;
    const made = time + this.offset;
    return { made, late: now - made };
  }
}
