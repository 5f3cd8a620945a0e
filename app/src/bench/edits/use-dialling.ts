import { useEffect, useRef } from 'react';
import { bench, useBench } from '../bench-store.ts';

/** Turns that come faster than this are one step of the history. */
const REST_MS = 700;

/** Turning something while the shot plays: seen at once, kept as one step when the hand rests or leaves. */
export function useDialling(edit: string, label: string): (options: object) => void {
  const resting = useRef(0);
  const end = useRef(() => undefined as void);
  end.current = () => {
    window.clearTimeout(resting.current);
    if (useBench.getState().gesture?.edit === edit) bench.commitGesture(label);
  };
  useEffect(() => () => end.current(), []);
  return (options) => {
    if (useBench.getState().gesture?.edit !== edit) bench.beginGesture(edit);
    bench.updateGesture(options);
    window.clearTimeout(resting.current);
    resting.current = window.setTimeout(() => end.current(), REST_MS);
  };
}
