/**
 * Documents of earlier versions, in the form of this one: each part says how it stood before. What they show stays the same to the bit.
 * A file and what the browser stores go through here alike, and a document that is of this version already is the same object.
 */
import { EVERY_PART } from '../parts/parts.ts';

export function migrated<Document extends object>(document: Document): Document {
  const steps = EVERY_PART.flatMap(([name, { older }]) =>
    older === 'as ever' ? [] : older.map((form) => ({ name, ...form })),
  ).sort((a, b) => a.until - b.until);
  let now = document as Record<string, unknown>;
  for (const { name, field, becomes } of steps) {
    // A record says no version: the old field without the new one does.
    if (!Array.isArray(now[field]) || name in now) continue;
    const { [field]: old, ...rest } = now;
    now = { ...rest, [name]: becomes(old as readonly never[]) };
  }
  return now as Document;
}
