/**
 * Results that were read and approved, in text files beside this module. They are no proof that a result is right: the suites beside
 * the code are. They tell that it is another one than it was, so that a change is always meant. `APPROVE=1 npm run unit -- approved`
 * writes them anew; the difference is to be read like code.
 */
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';

/** The approved lines of a file; with APPROVE set, what `lines` gives is written there first. */
export function approvedLines(name: string, lines: () => readonly string[]): readonly string[] {
  const file = new URL(`./${name}.txt`, import.meta.url);
  if (process.env.APPROVE) writeFileSync(file, `${lines().join('\n')}\n`);
  return readFileSync(file, 'utf8').trimEnd().split('\n');
}

/** A number as it is read: six digits that count. */
export const short = (value: number) => String(Number(value.toPrecision(6)));

/** The print of a text in twelve letters. */
export const print = (text: string) => createHash('sha256').update(text).digest('hex').slice(0, 12);
