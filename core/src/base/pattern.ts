/** A pattern of lengths that follow each other again and again: how long drawings hold. */
import type { FrameRange } from './frame-range.ts';
import { rising } from './frames.ts';

/** Frames nearer than this to the begin of a drawing are in it. */
const NEAR = 1e-6;

const lengthOf = (pattern: readonly number[]) => pattern.reduce((sum, frames) => sum + frames, 0);

/** The frame on which the drawing begins that shows at a frame. @param first a frame with which the pattern begins */
export function heldFrame(pattern: readonly number[], first: number, frame: number): number {
  const length = lengthOf(pattern);
  const turn = Math.floor((frame - first + NEAR) / length);
  let begin = first + turn * length;
  for (const frames of pattern) {
    if (frame < begin + frames - NEAR) break;
    begin += frames;
  }
  return begin;
}

/** The frames of a range on which a drawing begins, rising. */
export function beginsIn(pattern: readonly number[], first: number, { start, end }: FrameRange): number[] {
  const begins: number[] = [];
  const length = lengthOf(pattern);
  for (let turn = first + Math.floor((start - first) / length) * length; turn <= end; turn += length) {
    let begin = turn;
    for (const frames of pattern) {
      if (begin >= start && begin <= end) begins.push(begin);
      begin += frames;
    }
  }
  return rising(begins);
}
