/** Name, colour, mute, solo and lock of a pass. */
import { z } from 'zod';
import { withLayer } from '../../shot/shot.ts';
import type { Layer } from '../../layers/layer.ts';
import { defineEdit, outcome } from '../edit.ts';
import { knownPass, passOption } from './pass-option.ts';

export const setPass = defineEdit({
  id: 'passes.set',
  title: 'Set up pass',
  summary: 'Names, colours, mutes, solos or locks a pass.',
  words: 'layer mute solo colour name lock members',
  group: 'passes',
  locks: 'none',
  options: z.object({
    pass: passOption,
    name: z.string().trim().min(1).max(60).optional().meta({ title: 'Name' }),
    colour: z
      .number()
      .int()
      .min(0)
      .max(7)
      .optional()
      .meta({ title: 'Colour', description: 'One of the eight pass colours, 0 to 7.' }),
    muted: z.boolean().optional().meta({ title: 'Muted', description: 'The pass does not count.' }),
    solo: z.boolean().optional().meta({ title: 'Solo', description: 'Only solo passes count.' }),
    locked: z.boolean().optional().meta({ title: 'Locked', description: 'No edit changes the pass.' }),
  }),
  run(shot, selection, { pass: id, ...given }) {
    const pass = knownPass(shot, id);
    const asked = Object.entries(given).filter(
      ([name, value]) => value !== undefined && pass[name as keyof Layer] !== value,
    );
    if (asked.length === 0) return outcome(shot, shot, selection);
    return outcome(
      shot,
      withLayer(shot, id, (was) => ({ ...was, ...Object.fromEntries(asked) })),
      selection,
    );
  },
});
