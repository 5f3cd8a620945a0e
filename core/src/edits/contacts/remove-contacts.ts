/** Remove contacts: those that are named, or all of what is selected in a range. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { blockName, contactsOf, ownContacts, withContacts } from '../../document/contacts.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { withStands } from './stands.ts';
import { rangeIn } from '../timing/scope.ts';

export const removeContacts = defineEdit({
  id: 'contacts.remove',
  title: 'Remove contacts',
  summary: 'Takes contacts away: those that are named, or all that lie in the chosen range.',
  words: 'delete clear foot plant lock',
  group: 'motion',
  worksOn: 'contact',
  locks: 'none',
  options: z.object({
    contacts: z.array(z.string()).default([]).meta({
      title: 'Contacts',
      description: 'Their ids; none: all that lie in the range.',
    }),
  }),
  run(shot, selection, { contacts }) {
    const known = contactsOf(shot);
    const unknown = contacts.find((id) => !known.some((one) => one.id === id));
    if (unknown !== undefined) return refused(shot, selection, finding('unknownContact', {}, unknown));
    const placed = known.find(({ id, block }) => block !== undefined && contacts.includes(id));
    if (placed) return refused(shot, selection, finding('contactOfPlacement', {}, blockName(shot, placed)));
    const range = rangeIn(shot, selection);
    const goes = known
      .filter(({ id, start, end }) =>
        contacts.length > 0 ? contacts.includes(id) : start <= range.end && end >= range.start,
      )
      .filter(({ block }) => block === undefined);
    if (goes.length === 0) return refused(shot, selection, finding('noContacts', {}));
    const after = withStands(
      withContacts(
        shot,
        ownContacts(shot).filter(({ id }) => !goes.some((one) => one.id === id)),
      ),
    );
    return outcome(shot, after, selection, {
      measures: [{ name: 'contacts removed', value: goes.length, unit: '' }],
    });
  },
});
