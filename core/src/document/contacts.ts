/** Contacts: spans in which a point of a body stands. */
import type { FrameRange } from '../base/frame-range.ts';
import type { PlacementSettings } from '../layers/placements/placement-settings.ts';
import { standsOf } from '../layers/placements/block-time.ts';
import { movedBy } from '../rig/influence.ts';
import { rigOf } from './shot.ts';
import type { Contact, Shot } from './shot.ts';

export type { Contact };

/** Those that the shot itself holds; what writes contacts goes by these. */
export const ownContacts = ({ contacts }: Pick<Shot, 'contacts'>): readonly Contact[] => contacts ?? [];

const shown = new WeakMap<Shot, readonly Contact[]>();

/**
 * All that stand: the shot's own, and those that its placements bring with their actions. Set by hand or held, one's own hides what a placement brings; what was
 * only found gives way to it, as the motion below does.
 */
export function contactsOf(shot: Shot): readonly Contact[] {
  if (!shot.actions?.some(({ contacts }) => contacts)) return ownContacts(shot);
  let all = shown.get(shot);
  if (!all) shown.set(shot, (all = withPlaced(shot)));
  return all;
}

function withPlaced(shot: Shot): readonly Contact[] {
  const solo = shot.layers.some((layer) => layer.solo);
  let own = ownContacts(shot);
  let placed: Contact[] = [];
  for (const block of shot.layers) {
    if (block.kind !== 'placement' || block.muted || (solo && !block.solo)) continue;
    const settings = block.settings as PlacementSettings;
    const contacts = shot.actions?.find(({ id }) => id === settings.action)?.contacts;
    if (!contacts) continue;
    const range = block.range ?? shot.range;
    const rig = rigOf(shot);
    const moved = movedBy(rig, block.members.map(rig.indexOf));
    // What it shows in part, or for some controls, brings no more than that.
    const counted = contacts.filter(({ node }) => moved[rig.indexOf(node)] === 1);
    const brought = counted.flatMap((one): Contact[] =>
      standsOf(settings, one).flatMap((span, k) => {
        const [start, end] = [Math.max(span.start, range.start), Math.min(span.end, range.end)];
        if (end <= start) return [];
        const id = `${block.id} ${one.node} ${one.point} ${one.start} ${k}`;
        const { node, point, at } = one;
        return [{ id, node, point, at, start, end, byHand: false, block: block.id }];
      }),
    );
    // What lies below gives way, as its motion does.
    const givesWay = (one: Contact) =>
      isMeant(one) || !counted.some((other) => isSamePoint(other, one)) ? [one] : outside(one, range);
    own = own.flatMap(givesWay);
    placed = placed.flatMap(givesWay);
    placed.push(
      ...brought.filter(
        (one) =>
          !own.some((other) => isSamePoint(other, one) && other.start <= one.end && other.end >= one.start),
      ),
    );
  }
  return placed.length === 0 ? own : [...own, ...placed].sort((a, b) => a.start - b.start);
}

const isMeant = ({ byHand, hold }: Contact) => byHand || hold !== undefined;

/** What of a contact lies outside of a range; two parts of it are told apart by their ids. */
export function outside(one: Contact, range: FrameRange): Contact[] {
  if (one.end < range.start || one.start > range.end) return [one];
  const before = one.start < range.start ? [{ ...one, end: Math.max(one.start, range.start - 1) }] : [];
  const after = one.end > range.end ? [{ ...one, start: Math.min(one.end, range.end + 1) }] : [];
  return before.length > 0
    ? [...before, ...after.map((part) => ({ ...part, id: `${part.id} after` }))]
    : after;
}

/** One that a placement brings, as the shot's own from now on. @param taken ids, to which its new one is added */
export function adopted({ block: _, ...one }: Contact, taken: Set<string>): Contact {
  return { ...one, id: freshContactId(taken), byHand: true };
}

/** What the placement is called that brings a contact. */
export const blockName = ({ layers }: Pick<Shot, 'layers'>, { block }: Contact): string =>
  layers.find(({ id }) => id === block)?.name ?? '';

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
  const before = ownContacts(shot);
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
