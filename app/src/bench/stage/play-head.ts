/** Which frame what is drawn on a stage shows: the bench's play-head, unless a part of the stage has one of its own (the other side of a comparison, a film that is being made). */
import { createContext } from 'react';
import { useBench } from '../bench-store.ts';

export interface PlayHead {
  readonly read: () => {
    readonly frame: number;
    /** Whether frames come one after the other. */
    readonly playing: boolean;
    /** Whether a hand that drags goes first. */
    readonly yields: boolean;
  };
  /** Calls back when it may have moved; returns how to stop. */
  readonly subscribe: (listener: () => void) => () => void;
}

export const BENCH_HEAD: PlayHead = {
  read: () => {
    const { frame, playing, gesture } = useBench.getState();
    return { frame, playing, yields: gesture !== null };
  },
  subscribe: (listener) => useBench.subscribe(listener),
};

export const PlayHeadContext = createContext<PlayHead>(BENCH_HEAD);

/** One in the time of what lies beside another. @param beside the frame there for one here */
export const besideHead = (head: PlayHead, beside: (frame: number) => number): PlayHead => ({
  read: () => {
    const { frame, ...more } = head.read();
    return { frame: beside(frame), ...more };
  },
  subscribe: head.subscribe,
});

/** One that is set by hand, frame by frame. */
export function ownHead(first: number): PlayHead & { readonly set: (frame: number) => void } {
  let at = first;
  const listeners = new Set<() => void>();
  return {
    read: () => ({ frame: at, playing: false, yields: false }),
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    set: (frame) => {
      at = frame;
      listeners.forEach((listener) => listener());
    },
  };
}
