/** Differences as CSV (RFC 4180): the frame of the first, the one of the second beside it, then mm and degrees of each joint. */
import Papa from 'papaparse';
import type { Differences } from './differences.ts';

const PLACES = 3;

export function writeDifferences({ names, frames, beside, mm, degrees }: Differences): string {
  const short = (value: number) => Number(value.toFixed(PLACES));
  const fields = ['frame', 'beside', ...names.flatMap((name) => [`${name}.mm`, `${name}.degrees`])];
  const data = Array.from(frames, (frame, f) => [
    short(frame),
    short(beside[f]!),
    ...names.flatMap((_, j) => [short(mm[j * frames.length + f]!), short(degrees[j * frames.length + f]!)]),
  ]);
  return `${Papa.unparse({ fields, data }, { escapeFormulae: true, newline: '\n' })}\n`;
}
