/** Which controls a pass moves. Those that leave take their keys on it along, which is said. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { withLayer } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { openPass, passOption } from './pass-option.ts';
import { withoutNodes } from './pass-nodes.ts';

export const setMembers = defineEdit({
  id: 'passes.setMembers',
  title: 'Members of a pass',
  summary: 'Adds the selected controls to a pass, or takes them out of it.',
  words: 'layer members add remove controls include exclude',
  group: 'passes',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    pass: passOption,
    change: z
      .enum(['add', 'remove'])
      .default('add')
      .meta({
        title: 'Selected controls',
        labels: { add: 'are added', remove: 'are taken out' },
        description:
          'Taken out they lose the keys that they have on the pass; the motion below is untouched.',
      }),
  }),
  run(shot, selection, { pass: id, change }) {
    const pass = openPass(shot, id);
    const chosen = chosenNodes(shot, selection);
    if (change === 'add') {
      const joining = chosen.filter((node) => !pass.members.includes(node));
      if (joining.length === 0) return outcome(shot, shot, selection);
      const after = withLayer(shot, id, (was) => ({ ...was, members: [...was.members, ...joining] }));
      return outcome(shot, after, selection, {
        measures: [
          {
            name: 'controls',
            value: pass.members.length + joining.length,
            unit: '',
            before: pass.members.length,
          },
        ],
      });
    }
    const leaving = new Set(chosen.filter((node) => pass.members.includes(node)));
    if (leaving.size === 0) return outcome(shot, shot, selection);
    const { pass: without, touched, keys } = withoutNodes(shot, pass, leaving);
    const after = withLayer(shot, id, () => without);
    return outcome(shot, after, selection, {
      selection: { ...selection, keys: {} },
      touched,
      measures: [{ name: 'controls', value: without.members.length, unit: '', before: pass.members.length }],
      findings: keys > 0 ? [finding('membersLeft', {}, keys, [...leaving])] : [],
    });
  },
});
