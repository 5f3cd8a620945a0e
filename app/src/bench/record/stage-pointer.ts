/** Where the pointer is in space: the stage says, since it alone knows its camera. */
import type { Triple } from '@kneader/core';

type PlaceUnder = (clientX: number, clientY: number, node: string) => Triple | null;

let ask: PlaceUnder | null = null;

/** @param answer null when the stage goes */
export function setStagePointer(answer: PlaceUnder | null): void {
  ask = answer;
}

/** The place under the pointer, on the plane through a control that faces the eye; null beside the stage. */
export const placeUnder: PlaceUnder = (clientX, clientY, node) => ask?.(clientX, clientY, node) ?? null;
