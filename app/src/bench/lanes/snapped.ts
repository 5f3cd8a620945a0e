import { markerNear, markersOf } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { frameToX } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Pixels from a marker within which a hand means it. */
const REACH = 6;

/** The frame that a hand means: a marker's where one is near, else the nearest whole one. */
export function snapped(axis: TimeAxis, frame: number): number {
  const perFrame = frameToX(axis, axis.from + 1);
  const marker = markerNear(markersOf(useBench.getState().session.shot), frame, REACH / perFrame);
  return Math.round(marker?.frame ?? frame);
}
