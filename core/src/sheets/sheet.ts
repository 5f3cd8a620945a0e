/** What a sheet is: pages made from a shot. The list of kinds is in `sheets.ts`. */
import { z } from 'zod';
import { refuse } from '../base/finding.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { LIMITS } from '../base/limits.ts';
import { framesPerSecond } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { INK, MARGIN } from './page.ts';
import type { Page, PageMarks } from './page.ts';
import { fitted } from './words-on-page.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

export const sheetOptions = z.object({
  /** First and last frame; left out, the shot's. */
  from: frame.optional(),
  to: frame.optional(),
  /** Which frames a contact sheet shows; left out, the pose columns. */
  frames: z.array(frame).max(LIMITS.marks).optional(),
  /** From where a contact sheet looks: degrees about the upright, 0 at the face. */
  turn: z.number().min(-360).max(360).default(28),
  notes: z.boolean().default(true),
  /** Which channels a sheet of curves draws; left out, those that move most. */
  channels: z.array(z.string()).max(LIMITS.nodes).optional(),
});
export type SheetOptions = z.output<typeof sheetOptions>;

export interface Sheet {
  readonly kind: string;
  readonly label: string;
  /** Options beside the range that change something on it. */
  readonly takes: readonly (keyof SheetOptions)[];
  readonly pages: (shot: Shot, options: SheetOptions) => readonly Page[];
}

/** The range that is meant, within the shot; refused where it is empty or outside. */
export function rangeOf(
  { range }: Shot,
  { from = range.start, to = range.end }: Pick<SheetOptions, 'from' | 'to'>,
): FrameRange {
  if (to < from) refuse('badRange', {}, from, to);
  if (to < range.start || from > range.end) refuse('rangeOutsideShot', {}, from, to, range.start, range.end);
  return { start: Math.max(range.start, from), end: Math.min(range.end, to) };
}

/** A number as people read it. */
export const short = (value: number): string => String(Number(value.toFixed(2)));

/** Name, frames and rate at the top; returns where the sheet begins. */
export function headed(page: PageMarks, shot: Shot, kind: string, width: number, at: string): number {
  const { start, end } = shot.range;
  page.text(fitted(shot.name, width - 2 * MARGIN - 260, 15, true), MARGIN, MARGIN + 12, 15, { isBold: true });
  const facts = `${kind} · frames ${short(start)} to ${short(end)} · ${short(framesPerSecond(shot.rate))} a second${at}`;
  page.text(facts, width - MARGIN, MARGIN + 12, 9, { anchor: 'end', colour: INK.soft });
  page.line(MARGIN, MARGIN + 20, width - MARGIN, MARGIN + 20, INK.black, 0.8);
  return MARGIN + 30;
}
