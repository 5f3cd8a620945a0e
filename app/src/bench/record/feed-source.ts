/** A capture feed as a source: a socket to the server that this page came from. */
import { FeedClock, readFeedMessage } from '@kneader/core';
import type { ChannelId } from '@kneader/core';
import type { Listening, Source } from './source.ts';

/** Silent for longer than this it has stopped, ms. */
const SILENT_MS = 1500;

interface FeedWishes {
  /** Only these; null is all that it sends. */
  readonly channels: ReadonlySet<ChannelId> | null;
  readonly seed: number;
  readonly connect?: (url: string) => WebSocket;
}

export function feedSource({ channels, seed, connect = (url) => new WebSocket(url) }: FeedWishes): Source {
  let nonsense = 0;
  return {
    listen(to: Listening) {
      const clock = new FeedClock();
      const url = new URL(`/feed?seed=${seed}`, window.location.href);
      url.protocol = url.protocol === 'https:' ? 'wss:' : 'ws:';
      let names: readonly ChannelId[] | null = null;
      let isOver = false;
      let watch = 0;
      const socket = connect(url.href);
      const end = (sentence: string | null) => {
        if (isOver) return;
        isOver = true;
        window.clearTimeout(watch);
        socket.close();
        if (sentence !== null) to.ended(sentence);
      };
      const heard = () => {
        window.clearTimeout(watch);
        watch = window.setTimeout(
          () =>
            end(
              names ? 'The feed has fallen silent: what came until then is kept.' : 'The feed says nothing.',
            ),
          SILENT_MS,
        );
      };
      heard();
      socket.addEventListener('message', ({ data }: MessageEvent<unknown>) => {
        const now = performance.now();
        const message = readFeedMessage(data);
        heard();
        if (message?.kind === 'hello') return void (names = message.channels);
        const fits = message && names?.length === message.values.length;
        const when = fits ? clock.heard(message.time, now) : null;
        if (!fits || !when) return void (nonsense += 1);
        to.late(when.late);
        const { values } = message;
        to.push(
          when.made,
          Object.fromEntries(
            names!.flatMap((name, i) => (!channels || channels.has(name) ? [[name, values[i]!]] : [])),
          ),
        );
      });
      socket.addEventListener('close', () =>
        end(names ? 'The feed has stopped: what came until then is kept.' : 'There is no capture feed here.'),
      );
      return () => end(null);
    },
    values: (take, times) => take.sampled(times),
    remarks: () =>
      nonsense === 0
        ? []
        : [
            `${nonsense} ${nonsense === 1 ? 'message' : 'messages'} of the feed made no sense and ${nonsense === 1 ? 'was' : 'were'} left out.`,
          ],
  };
}
