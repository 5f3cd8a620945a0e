/** The kinds of sheets: a new one is its file and a line here. */
import { contactSheet } from './contact-sheet.ts';
import { curvesSheet } from './curves-sheet.ts';
import type { Sheet } from './sheet.ts';
import { timingSheet } from './timing-sheet.ts';

export const SHEETS: readonly Sheet[] = [contactSheet, timingSheet, curvesSheet];
