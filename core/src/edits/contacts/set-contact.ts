/** Set a contact: its ends, a cut through it, or a new one by hand. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { solesOf } from '../../bodies/soles.ts';
import {
  adopted,
  contactsOf,
  ownContacts,
  freshContactId,
  isSamePoint,
  mergedContacts,
  withContacts,
} from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Vector } from '../../rig/node.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { rangeIn } from '../timing/scope.ts';
import { withStands } from './stands.ts';
import { contactReport } from './find-contacts.ts';

const frameOrNone = (title: string, description: string) =>
  frameOption(title, description).nullable().default(null).meta({ title, unit: 'frame', description });

export const setContact = defineEdit({
  id: 'contacts.set',
  title: 'Set contact',
  summary: 'Moves the ends of a contact, cuts it in two, or adds one for any joint by hand.',
  words: 'foot plant lock stand span add split trim',
  group: 'motion',
  locks: 'none',
  options: z.object({
    contact: z.string().nullable().default(null).meta({
      title: 'Contact',
      description: 'Its id; null adds one.',
    }),
    node: z
      .string()
      .nullable()
      .default(null)
      .meta({
        title: 'Joint',
        when: { contact: null },
        description: 'Of a new one: what stands.',
      }),
    point: z
      .string()
      .min(1)
      .max(60)
      .default('heel')
      .meta({
        title: 'Point',
        when: { contact: null },
        description: 'Of a new one: heel and ball lie on the sole of a foot, any other name at the joint.',
      }),
    start: frameOrNone('First frame', 'The first frame on which it stands; null stays.'),
    end: frameOrNone('Last frame', 'The last frame on which it stands; null stays.'),
    split: frameOrNone('Cut at', 'It ends a frame ahead of this one, and another one begins here.'),
  }),
  run(shot, selection, { contact, node, point, start, end, split }) {
    const known = ownContacts(shot);
    const taken = new Set(known.map(({ id }) => id));
    const before = contact === null ? null : contactsOf(shot).find(({ id }) => id === contact);
    if (before === undefined) return refused(shot, selection, finding('unknownContact', {}, contact!));
    if (before === null && (node === null || rigOf(shot).indexOf(node) < 0))
      return refused(shot, selection, finding('unknownNode', {}, node ?? ''));
    const span = rangeIn(shot, selection);
    const base: Contact = (before?.block ? adopted(before, taken) : before) ?? {
      ...span,
      ...{ id: freshContactId(taken), node: node!, point, byHand: true },
      at: placeOfPoint(shot, node!, point),
    };
    const moved = {
      ...base,
      start: start ?? base.start,
      end: end ?? base.end,
      byHand: true,
    };
    if (moved.end < moved.start)
      return refused(shot, selection, finding('badRange', {}, moved.start, moved.end));
    if (split !== null && (split <= moved.start || split > moved.end))
      return refused(shot, selection, finding('notWithinContact', {}, split, moved.start, moved.end));
    const same = before !== null && moved.start === before.start && moved.end === before.end;
    if (same && split === null) return outcome(shot, shot, selection);
    const parts =
      split === null
        ? [moved]
        : [
            { ...moved, end: Math.max(moved.start, split - 1) },
            { ...moved, id: freshContactId(taken), start: split },
          ];
    const others = known.filter(({ id }) => id !== base.id);
    const joins = others.filter(
      (one) => isSamePoint(one, moved) && one.start <= moved.end && one.end >= moved.start,
    );
    const free = others.filter((one) => !joins.includes(one));
    const whole = mergedContacts([...parts, ...joins]);
    const after = withStands(withContacts(shot, [...free, ...whole]));
    const report = contactReport(after, whole);
    return outcome(shot, after, selection, {
      findings: [
        ...(before?.block ? [finding('contactsAdopted', {}, 1)] : []),
        ...(joins.length > 0 ? [finding('contactsJoined', {}, joins.length)] : []),
        ...report.findings,
      ],
      measures: [{ name: 'contacts', value: whole.length, unit: '' }, ...report.measures],
    });
  },
});

/** Where a point of a joint lies: on the sole, as one of that name that there is already, or at the joint itself. */
function placeOfPoint(shot: Shot, node: string, point: string): Vector {
  const like = contactsOf(shot).find((one) => one.node === node && one.point === point);
  const row = rigOf(shot).indexOf(node);
  const sole = solesOf(shot, shot.nodes[row]!.character).find(
    (one) => one.node === row && one.name === point,
  );
  return like?.at ?? sole?.at ?? [0, 0, 0];
}
