/** Two shots beside each other: who stands for whom, which time lies beside which, and what differs. */
import {
  alignedAt,
  alignedByMarks,
  alignedByPoses,
  contactsCompared,
  differencesOf,
  keysCompared,
  markersOf,
  pairedNodes,
  poseColumns,
} from '@kneader/core';
import type {
  Alignment,
  ContactCompared,
  Differences,
  From,
  KeysCompared,
  Paired,
  Shot,
} from '@kneader/core';

export type AlignBy = 'frame' | 'poses' | 'markers' | 'time';

export interface CompareHow {
  readonly by: AlignBy;
  /** A frame of the first and the one of the second beside it. */
  readonly at: number;
  readonly beside: number;
  readonly from: From;
}

export interface Compared {
  readonly paired: Paired;
  readonly alignment: Alignment;
  readonly differences: Differences;
  readonly contacts: readonly ContactCompared[];
  readonly keys: readonly KeysCompared[];
}

export function comparedShots(a: Shot, b: Shot, how: CompareHow): Compared {
  const paired = pairedNodes(a, b);
  const alignment = how.by === 'time' ? alignedByPoses(a, b, paired) : saidAlignment(a, b, how);
  return {
    paired,
    alignment,
    differences: differencesOf(a, b, paired, alignment, a.range, how.from),
    contacts: contactsCompared(a, b, alignment),
    keys: keysCompared(a, b),
  };
}

/** What needs no search. */
export function saidAlignment(a: Shot, b: Shot, { by, at, beside }: Omit<CompareHow, 'from'>): Alignment {
  const marks = (shot: Shot) =>
    by === 'poses' ? poseColumns(shot).frames : markersOf(shot).map(({ frame }) => frame);
  return by === 'frame' ? alignedAt(a, b, at, beside) : alignedByMarks(a, b, marks(a), marks(b));
}
