/** How two are looked at. What stands on the sides is in the address. */
import { create } from 'zustand';
import type { From } from '@kneader/core';
import type { AlignBy } from '../../worker/compared-shots.ts';

export type Look = 'wipe' | 'over' | 'blink' | 'beside';

interface CompareState {
  readonly look: Look;
  /** Where the wipe lies, as a part of the picture's width. */
  readonly wipe: number;
  /** Which of the two a blink shows. */
  readonly blinked: 'a' | 'b';
  /** Whether the views of two beside each other are turned each by itself. */
  readonly isFree: boolean;
  readonly by: AlignBy;
  /** A frame of each that lie beside each other; null is the first. */
  readonly at: number | null;
  readonly beside: number | null;
  readonly from: From;
  /** The joint whose curves are drawn. */
  readonly joint: string | null;
}

export const useCompare = create<CompareState>()(() => ({
  look: 'wipe',
  wipe: 0.5,
  blinked: 'a',
  isFree: false,
  by: 'frame',
  at: null,
  beside: null,
  from: 'world',
  joint: null,
}));

export const setCompare = (change: Partial<CompareState>): void => useCompare.setState(change);
