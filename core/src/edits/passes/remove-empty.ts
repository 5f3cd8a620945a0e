/** Away with passes that hold no key. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { defineEdit, outcome } from '../edit.ts';
import { isKeyed } from '../../layers/kinds.ts';
import { keysOn } from './pass-nodes.ts';

export const removeEmpty = defineEdit({
  id: 'passes.removeEmpty',
  title: 'Remove empty passes',
  summary: 'Takes away every pass that holds no key; locked ones stay.',
  words: 'layer clean unused delete empty',
  group: 'passes',
  worksOn: 'pass',
  locks: 'none',
  options: z.object({}),
  run(shot, selection) {
    const empty = shot.layers.filter((pass) => isKeyed(pass) && keysOn(shot, pass) === 0);
    const going = new Set(empty.filter(({ locked }) => !locked));
    const locked = empty.filter((pass) => pass.locked).map(({ name }) => name);
    const findings = locked.length > 0 ? [finding('emptyLocked', {}, locked)] : [];
    if (going.size === 0) return outcome(shot, shot, selection, { findings });
    const gone = new Set([...going].map(({ id }) => id));
    return outcome(shot, { ...shot, layers: shot.layers.filter((pass) => !going.has(pass)) }, selection, {
      selection:
        selection.layer !== null && gone.has(selection.layer)
          ? { ...selection, layer: null, keys: {} }
          : selection,
      measures: [
        { name: 'passes', value: shot.layers.length - going.size, unit: '', before: shot.layers.length },
      ],
      findings,
    });
  },
});
