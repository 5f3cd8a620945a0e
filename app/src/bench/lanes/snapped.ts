import { markerNear, markersOf } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { frameToX } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Pixels from a marker within which a hand means it. */
const REACH = 6;

/** Where frames can be told apart, the one beside a marker is reached too: not even a whole frame means it then. */
const [TOLD_APART, BESIDE] = [3, 0.75] as const;

function markerBy(axis: TimeAxis, frame: number, without?: number): number | undefined {
  const perFrame = frameToX(axis, axis.from + 1);
  const reach = perFrame >= TOLD_APART ? Math.min(REACH / perFrame, BESIDE) : REACH / perFrame;
  const markers = markersOf(useBench.getState().session.shot).filter((one) => one.frame !== without);
  return markerNear(markers, frame, reach)?.frame;
}

/** The frame that a hand means: a marker's where one is near, else the nearest whole one. */
export const snapped = (axis: TimeAxis, frame: number): number => Math.round(markerBy(axis, frame) ?? frame);

/** By how many frames a hand moves what stood at a frame: to a marker where one is near, else by whole ones. */
export function snappedBy(axis: TimeAxis, from: number, by: number): number {
  const marker = markerBy(axis, from + by, from);
  return marker === undefined ? Math.round(by) : marker - from;
}
