import type { Note } from '@kneader/core';

const short = (frame: number) => String(Number(frame.toFixed(2)));

/** `24`, or `40–60`. */
export const framesOfNote = ({ start, end }: Pick<Note, 'start' | 'end'>): string =>
  start === end ? short(start) : `${short(start)}–${short(end)}`;
