/** Numbers of channels under the hand: how they are written, read, and changed by a drag. */
import type { ChannelKind } from '@kneader/core';

const DECIMALS: Record<ChannelKind, number> = { position: 2, rotation: 1, scale: 3, other: 2 };
/** How much one pixel of a drag changes the value. */
const PER_PIXEL: Record<ChannelKind, number> = { position: 0.1, rotation: 0.5, scale: 0.005, other: 0.01 };
const FINE = 0.1;
const COARSE = 5;

/** Never −0, never more digits than mean something. */
export function writtenValue(value: number, kind: ChannelKind): string {
  const text = value.toFixed(DECIMALS[kind]);
  return Number(text) === 0 ? (0).toFixed(DECIMALS[kind]) : text;
}

/** The number that was typed, with a point or a comma; null for what is none. */
export function typedValue(text: string): number | null {
  const number = text.trim() === '' ? NaN : Number(text.trim().replace(',', '.').replace('−', '-'));
  return Number.isFinite(number) ? number : null;
}

/** The value after a drag of so many pixels to the right; Alt is fine, Shift is coarse. */
export function draggedValue(
  from: number,
  pixels: number,
  kind: ChannelKind,
  { alt, shift }: { readonly alt: boolean; readonly shift: boolean },
): number {
  return from + pixels * PER_PIXEL[kind] * (alt ? FINE : shift ? COARSE : 1);
}
