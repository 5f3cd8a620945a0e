/** Contacts of actions: what stands in a piece of motion goes where that goes, onto other joints, other soles, the other side. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { solesOf } from '../../bodies/soles.ts';
import {
  contactsOf,
  freshContactId,
  isSamePoint,
  mergedContacts,
  outside,
  ownContacts,
  withContacts,
} from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { ActionJson } from '../../document/action.ts';
import type { ActionContact } from '../../layers/layer.ts';
import type { Mapped } from '../../mapping/map-action.ts';
import { pointOfPair } from '../../mirror/pair-point.ts';
import { movedBy } from '../../rig/influence.ts';
import { withStands } from '../contacts/stands.ts';

/** What stands in a range of what these nodes move, frames from its start. */
export function contactsIn(
  shot: Shot,
  nodes: ReadonlySet<string>,
  range: FrameRange,
): NonNullable<ActionJson['contacts']> {
  const rig = rigOf(shot);
  const moved = movedBy(rig, [...nodes].map(rig.indexOf));
  const found = contactsOf(shot).flatMap(({ node, point, at, start, end }): ActionContact[] => {
    const span = { start: Math.max(start, range.start), end: Math.min(end, range.end) };
    if (moved[rig.indexOf(node)] !== 1 || span.end <= span.start) return [];
    return [{ node, point, at, start: span.start - range.start, end: span.end - range.start }];
  });
  return contactsJson(found);
}

/** As an action's file has them. */
export const contactsJson = (contacts: readonly ActionContact[]): NonNullable<ActionJson['contacts']> =>
  contacts.map(({ node, point, at: [x, y, z], start, end }) => ({ node, point, at: [x, y, z], start, end }));

export interface ContactsOnShot {
  /** Frames of the action. */
  readonly contacts: readonly ActionContact[];
  readonly findings: readonly Finding[];
}

/** Bones whose rest is turned by less (degrees), and whose length differs by less, have the same soles. */
const [SAME_REST, SAME_LENGTH] = [0.1, 1e-3];

/** The contacts of an action on the joints that its own were mapped to. */
export function contactsOnShot(
  shot: Shot,
  contacts: readonly ActionContact[],
  { pairs, size }: Pick<Mapped, 'pairs' | 'size'>,
  isFlipped: boolean,
): ContactsOnShot {
  const rig = rigOf(shot);
  const isSameFigure = Math.abs(size - 1) <= SAME_LENGTH && pairs.every(isAlike);
  const byName = new Map(pairs.map((pair) => [pair.source, pair]));
  const left: string[] = [];
  const found = contacts.flatMap((one): ActionContact[] => {
    const pair = byName.get(one.node);
    const row = rig.indexOf(pair?.target ?? one.node);
    const here = row < 0 ? null : placedOn(shot, row, one, isSameFigure);
    if (!here) {
      left.push(one.node);
      return [];
    }
    if (!isFlipped) return [here];
    const other = rig.nodes[row]!.pair;
    if (other === null || rig.indexOf(other) === row) return [here];
    return [{ ...here, node: other, at: pointOfPair(shot, row, rig.indexOf(other), here.at) }];
  });
  return {
    contacts: found,
    findings: left.length > 0 ? [finding('contactsLeftOut', {}, left.length, [...new Set(left)])] : [],
  };
}

const isAlike = ({ turned, longer }: Mapped['pairs'][number]) =>
  turned <= SAME_REST && Math.abs(longer - 1) <= SAME_LENGTH;

/** On a joint of other axes, or another size, a point lies where that figure has its sole. */
function placedOn(shot: Shot, row: number, one: ActionContact, isSameFigure: boolean): ActionContact | null {
  const { id, character } = rigOf(shot).nodes[row]!;
  if (isSameFigure) return { ...one, node: id };
  const sole = solesOf(shot, character).find(({ node, name }) => node === row && name === one.point);
  if (sole) return { ...one, node: id, at: sole.at };
  return one.at.every((value) => value === 0) ? { ...one, node: id } : null;
}

/**
 * The shot with contacts laid over a range, where others of the same points give way.
 * @param timeOf frames of the shot by those of the action
 */
export function withContactsLaid(
  shot: Shot,
  contacts: readonly ActionContact[],
  covered: FrameRange,
  timeOf: (frame: number) => number,
): Shot {
  if (contacts.length === 0) return shot;
  const taken = new Set(ownContacts(shot).map(({ id }) => id));
  const kept = ownContacts(shot).flatMap((one) =>
    contacts.some((other) => isSamePoint(other, one))
      ? outside(one, covered).map((part, k) => (k === 0 ? part : { ...part, id: freshContactId(taken) }))
      : [one],
  );
  const laid = contacts.map(({ node, point, at, start, end }): Contact => ({
    ...{ id: freshContactId(taken), node, point, at, start: timeOf(start), end: timeOf(end) },
    byHand: false,
  }));
  return withStands(withContacts(shot, mergedContacts([...kept, ...laid])));
}
