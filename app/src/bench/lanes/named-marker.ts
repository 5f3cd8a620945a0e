/** Markers by keystroke: jotted down at the play-head, named, gone to. */
import { create } from 'zustand';
import { markersOf } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';

/** The marker whose name is being written; null is none. */
export const useNamedMarker = create<{ readonly id: string | null }>()(() => ({ id: null }));

export function nameMarker(id: string | null): void {
  useNamedMarker.setState({ id });
}

/** A marker at the play-head, or the name of the one that stands there. */
export function jotMarker(): void {
  const frame = Math.round(useBench.getState().frame);
  const here = () =>
    markersOf(useBench.getState().session.shot).find((one) => Math.round(one.frame) === frame);
  if (!here()) bench.perform('markers.set', { frame }, undefined, `Marker at ${frame}`);
  nameMarker(here()?.id ?? null);
}

/** To the next marker, and after the last to the first. */
export function nextMarker(): void {
  const { session, frame } = useBench.getState();
  const markers = markersOf(session.shot);
  const to = markers.find((one) => Math.round(one.frame) > frame) ?? markers[0];
  if (to) bench.goToFrame(to.frame);
}
