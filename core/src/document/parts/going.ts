/** A change of time on its way through the document: what each part asks of it, and tells it. */
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { TimePieces } from '../../base/time-pieces.ts';
import type { Curve } from '../../curve/curve.ts';

/** What became of a layer: one for each stretch of time in which it goes on as another. */
interface LayerCopy {
  readonly id: string;
  /** Its weight, or one that a variant keeps for it, where time takes it. */
  readonly weight: (weight: Curve) => Curve;
}

export interface Going {
  readonly pieces: TimePieces;
  /** The shot's frames before. */
  readonly range: FrameRange;
  /** Carries a weight as the edit carries all curves. */
  readonly weight: (weight: Curve) => Curve;
  /** What is to be said. */
  readonly say: (finding: Finding) => void;
  /** By the id that a layer had; set by the layers, asked by whatever names layers. */
  readonly copies: Map<string, readonly LayerCopy[]>;
}

/** The list that there was, where the new one holds just the same. */
export const sameList = <One>(before: readonly One[], after: readonly One[]): readonly One[] =>
  before.length === after.length && before.every((one, i) => one === after[i]) ? before : after;
