/** Contacts: spans in which a point of a body stands. */
import type { Contact, Shot } from './shot.ts';

export type { Contact };

export const contactsOf = ({ contacts }: Pick<Shot, 'contacts'>): readonly Contact[] => contacts ?? [];

/** `contact-1`, `contact-2` …: the first that is free; it is taken then. */
export function freshContactId(taken: Set<string>): string {
  for (let i = taken.size + 1; ; i += 1) {
    const id = `contact-${i}`;
    if (taken.has(id)) continue;
    taken.add(id);
    return id;
  }
}

/** The shot with other contacts, in the order of time; without the part where there are none, and the same object where nothing is another. */
export function withContacts(shot: Shot, contacts: readonly Contact[]): Shot {
  const before = contactsOf(shot);
  const sorted = [...contacts].sort(
    (a, b) => a.start - b.start || a.node.localeCompare(b.node) || a.point.localeCompare(b.point),
  );
  if (sorted.length === before.length && sorted.every((one, i) => one === before[i])) return shot;
  const { contacts: _, ...rest } = shot;
  return sorted.length > 0 ? { ...rest, contacts: sorted } : rest;
}

/** Whether two are of one point. */
export const isSamePoint = (
  a: Pick<Contact, 'node' | 'point'>,
  b: Pick<Contact, 'node' | 'point'>,
): boolean => a.node === b.node && a.point === b.point;

/** Those of one point that overlap or touch as one: the first of them takes the others in. */
export function mergedContacts(contacts: readonly Contact[]): Contact[] {
  const merged: Contact[] = [];
  for (const one of [...contacts].sort((a, b) => a.start - b.start)) {
    const at = merged.findLastIndex((other) => isSamePoint(other, one));
    const before = merged[at];
    if (before && one.start <= before.end)
      merged[at] =
        one.end <= before.end && (before.byHand || !one.byHand)
          ? before
          : { ...before, end: Math.max(before.end, one.end), byHand: before.byHand || one.byHand };
    else merged.push(one);
  }
  return merged;
}
