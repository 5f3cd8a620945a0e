import { useEffect } from 'react';
import { framesPerSecond } from '@kneader/core';
import { bench, headRange, headShot, useBench } from '../bench-store.ts';
import { frameAt, PictureRate, playedRange } from './playback-clock.ts';
import type { PlaybackClock } from './playback-clock.ts';

/** Moves the play-head with the clock while playing. */
export function usePlayback(): void {
  const playing = useBench((state) => state.playing);
  useEffect(() => {
    if (!playing) return;
    const start = (now: number): PlaybackClock => {
      const { frame, speed } = useBench.getState();
      return { began: now, frame, speed };
    };
    let clock = start(performance.now());
    let request = 0;
    const rate = new PictureRate();
    const tick = (now: number) => {
      const state = useBench.getState();
      const { selection } = state.session;
      const perSecond = framesPerSecond(headShot(state).rate);
      const range = playedRange(headRange(state), selection.range, state.looped);
      // Another speed goes on from where the play-head is.
      if (state.speed !== clock.speed) clock = start(now);
      const frame = frameAt(clock, range, perSecond, Math.max(now, clock.began));
      if (frame !== state.frame) {
        bench.playFrame(frame);
        const reached = rate.drawn(now, perSecond * state.speed);
        if (reached !== undefined && reached !== state.reached) bench.setReached(reached);
      }
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => {
      cancelAnimationFrame(request);
      bench.setReached(null);
    };
  }, [playing]);
}
