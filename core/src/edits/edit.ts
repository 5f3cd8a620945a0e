/**
 * The contract that every edit keeps: shot, selection and options in; a new shot and a report out. An edit is a
 * pure function; `run-edit.ts` is the only way in.
 */
import type { z } from 'zod';
import { imagesOf } from '../base/time-pieces.ts';
import type { TimePieces } from '../base/time-pieces.ts';
import type { Work } from '../base/work.ts';
import type { Finding, Place } from '../base/finding.ts';
import type { Selection } from '../document/selection.ts';
import type { ChannelId, Shot } from '../document/shot.ts';

/** The groups of the edits panel, in the order of the work. */
export const EDIT_GROUPS = [
  'clean',
  'tangents',
  'keys',
  'timing',
  'poses',
  'passes',
  'filters',
  'spaces',
  'motion',
  'actions',
] as const;
export type EditGroup = (typeof EDIT_GROUPS)[number];

export interface Edit<Schema extends z.ZodObject = z.ZodObject> {
  /** `clean.thin`; saved in routines, never renamed. */
  readonly id: string;
  readonly title: string;
  /** One sentence: what it does. */
  readonly summary: string;
  /** What else people of the trade call it or look for it by, separated by spaces. */
  readonly words: string;
  readonly group: EditGroup;
  /** Each field has a default where one makes sense, a range, and `meta` with title, unit and a sentence. */
  readonly options: Schema;
  /**
   * What must be selected; left out, its options say all. `runEdit` checks and says it. chosen: keys must be chosen one by one or by a
   * range, and the keys of all that is selected are never meant.
   */
  readonly needs?: 'keys' | 'curves' | 'channels' | 'chosen';
  /** What the shot must have for it to work on, where its options do not name one of them. */
  readonly worksOn?: 'pass' | 'layer' | 'placement' | 'relation' | 'parent' | 'contact';
  /**
   * How it meets locks. strip: locked channels are taken out of the selection, a locked chosen pass refuses; refuse: only that;
   * none: it sets up or unlocks, or leaves what is locked by itself and says so.
   */
  readonly locks: 'strip' | 'refuse' | 'none';
  /** Of an edit of quantities (clean, tangents, keys) whether it means channels that choose too; left out, they stay as they are, and that is said. */
  readonly choices?: 'taken';
  /**
   * What it promises of what shows; left out, nothing that can be measured. sameMotion: every node lies where it lay, within the tolerances that are asked, on frames
   * and between them; nothingOutside: on whole frames outside the range it acts on nothing changes. What cannot be kept is said with a number.
   */
  readonly promise?: 'sameMotion' | 'nothingOutside';
  /** What takes long is work in slices: see `base/work.ts`. */
  run(shot: Shot, selection: Selection, options: z.output<Schema>): Outcome | Work<Outcome, Shot>;
}

export interface Measure {
  readonly name: string;
  readonly value: number;
  /** `cm`, `°`, `keys` … */
  readonly unit: string;
  /** What it was before, where that means something. */
  readonly before?: number;
  readonly where?: Place;
}

export interface Report {
  readonly status: 'changed' | 'unchanged' | 'refused';
  readonly findings: readonly Finding[];
  readonly measures: readonly Measure[];
  readonly touched: readonly ChannelId[];
}

export interface Outcome {
  readonly shot: Shot;
  readonly selection: Selection;
  readonly report: Report;
  /** What became of time, of an edit that changes when; the selected range has been carried along. */
  readonly time?: TimePieces;
  /** What the edit made beside the shot: a saved action. */
  readonly made?: unknown;
}

/** Keeps the schema's type for `run`; adds nothing. */
export function defineEdit<Schema extends z.ZodObject>(edit: Edit<Schema>): Edit<Schema> {
  return edit;
}

interface Extra {
  readonly findings?: readonly Finding[];
  readonly measures?: readonly Measure[];
  readonly touched?: readonly ChannelId[];
  readonly selection?: Selection;
  readonly made?: unknown;
  readonly time?: TimePieces;
}

/** An outcome whose status follows from whether the shot is another one. */
export function outcome(before: Shot, after: Shot, selection: Selection, extra: Extra = {}): Outcome {
  const status = after === before ? 'unchanged' : 'changed';
  const { time } = extra;
  return {
    shot: after,
    selection: carriedSelection(
      extra.selection ?? selection,
      after,
      status === 'changed' ? time : undefined,
      before.range,
    ),
    report: {
      status,
      findings: extra.findings ?? [],
      measures: extra.measures ?? [],
      touched: status === 'changed' ? (extra.touched ?? []) : [],
    },
    ...(time && status === 'changed' ? { time } : {}),
    ...('made' in extra ? { made: extra.made } : {}),
  };
}

/** The selection with its range where time went, and within the shot. */
function carriedSelection(
  selection: Selection,
  shot: Shot,
  time: TimePieces | undefined,
  before: Shot['range'],
): Selection {
  const { range } = selection;
  if (range === null || (!time && shot.range === before)) return selection;
  const images = time ? imagesOf(time, range) : [];
  const moved =
    images.length > 0
      ? {
          start: Math.min(...images.map(({ start }) => start)),
          end: Math.max(...images.map(({ end }) => end)),
        }
      : range;
  const [start, end] = [Math.max(moved.start, shot.range.start), Math.min(moved.end, shot.range.end)];
  if (start === range.start && end === range.end) return selection;
  return { ...selection, range: end > start ? { start, end } : null };
}

/** Nothing done, and why. */
export function refused(shot: Shot, selection: Selection, ...findings: readonly Finding[]): Outcome {
  return { shot, selection, report: { status: 'refused', findings, measures: [], touched: [] } };
}
