/** Finding edits by what they are called, by what they do, and by other words of the trade. */
import { EDITS } from '@kneader/core';
import type { Edit } from '@kneader/core';

/** How well a word fits: it begins a word of the title, of the other words, or stands somewhere in what is said; 0 is not at all. */
function fits(edit: Edit, word: string): number {
  const begins = (text: string) =>
    text
      .toLowerCase()
      .split(/[^a-z0-9-]+/)
      .some((one) => one.startsWith(word));
  if (begins(edit.title)) return 4;
  if (begins(edit.words)) return 3;
  if (begins(edit.summary)) return 2;
  return `${edit.title} ${edit.words} ${edit.summary} ${edit.group}`.toLowerCase().includes(word) ? 1 : 0;
}

/** Edits that all the words speak of, those that they fit best first; all of them where nothing is asked. */
export function foundEdits(sought: string): readonly Edit[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  return EDITS.map((edit) => ({ edit, fit: words.map((word) => fits(edit, word)) }))
    .filter(({ fit }) => fit.every((one) => one > 0))
    .sort((a, b) => sum(b.fit) - sum(a.fit))
    .map(({ edit }) => edit);
}

const sum = (numbers: readonly number[]) => numbers.reduce((a, b) => a + b, 0);
