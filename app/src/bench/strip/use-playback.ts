import { useEffect } from 'react';
import { framesPerSecond } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';

/** Moves the play-head with the clock while playing; from the last frame it goes back to the first. */
export function usePlayback(): void {
  const playing = useBench((state) => state.playing);
  useEffect(() => {
    if (!playing) return;
    const { frame: startFrame, session } = useBench.getState();
    const { start } = session.shot.range;
    let began = performance.now();
    let from = startFrame - start;
    let speed = useBench.getState().speed;
    let request = 0;
    const tick = (now: number) => {
      const state = useBench.getState();
      const { range, rate } = state.session.shot;
      if (state.speed !== speed) {
        // Another speed goes on from where the play-head is.
        began = now;
        from = state.frame - range.start;
        speed = state.speed;
      }
      const count = range.end - range.start + 1;
      const passed = ((now - began) / 1000) * framesPerSecond(rate) * speed;
      const frame = range.start + (Math.floor(from + passed) % count);
      if (frame !== state.frame) bench.setFrame(frame);
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing]);
}
