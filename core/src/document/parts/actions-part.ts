/** The actions that placements show, in a file and in memory. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import type { StoredAction } from '../../layers/layer.ts';
import { curvesIn } from '../shot.ts';
import { curvesByAddress, heldTable, readTable, writeTable } from './curve-table.ts';
import type { Part } from './part.ts';
import { knownNode } from './rig-parts.ts';

const action = z.looseObject({
  id: z.string().min(1),
  name: z.string().min(1).max(LIMITS.name),
  length: z
    .number()
    .min(0)
    .max(2 * LIMITS.frame)
    .describe('Frames; its keys lie in 0 … length'),
  curves: curvesByAddress.describe('By channel address of this shot'),
  contacts: z
    .array(
      z.object({
        node: z.string(),
        point: z.string().min(1).max(LIMITS.name),
        at: z.tuple([z.number(), z.number(), z.number()]),
        start: z.number(),
        end: z.number(),
      }),
    )
    .max(LIMITS.contacts)
    .describe('What stands in it, as contacts of the shot say it; missing where that is not known')
    .optional(),
  from: z
    .object({
      kept: z
        .object({ id: z.string(), print: z.string().describe('A digest of what it did when it was placed') })
        .nullable()
        .describe('What it is in the pantry'),
      mapping: z.object({
        match: z.enum(['names', 'both', 'structure']),
        character: z.string().nullable(),
        heights: z.boolean(),
        times: z.number().positive().nullable(),
        flipped: z.boolean(),
        pairs: z.record(z.string(), z.string().nullable()),
        feet: z.boolean().default(false),
        path: z.enum(['mirrored', 'kept']).default('mirrored'),
      }),
    })
    .describe('Where it comes from, and how its joints found those of this shot')
    .optional(),
});
type ActionJson = z.infer<typeof action>;

export const actionsPart: Part<readonly StoredAction[], ActionJson[]> = {
  older: 'as ever',
  // Their frames are their own: the placements that show them are carried.
  time: 'none',
  json: z
    .array(action)
    .max(LIMITS.layers)
    .describe('What placements among the layers show; none when left out'),
  held: z.array(action.extend({ curves: heldTable })),
  check(actions, around, wrong) {
    actions.forEach(({ contacts = [] }, i) =>
      contacts.forEach(({ node }, k) => knownNode(around, wrong, `actions[${i}].contacts[${k}].node`, node)),
    );
    if (new Set(actions.map(({ id }) => id)).size < actions.length)
      wrong('actions', 'two actions share an id');
  },
  read: (actions, around) =>
    actions.map((json, i) => ({ ...json, curves: readTable(json.curves, around, `actions[${i}].curves`) })),
  write: (actions, around) =>
    actions.map(({ id, name, length, curves, contacts, ...rest }) => ({
      ...{ id, name, length, curves: writeTable(curves, around) },
      ...(contacts && {
        contacts: contacts.map(({ node, point, at: [x, y, z], start, end }) => ({
          ...{ node, point, at: [x, y, z] as [number, number, number], start, end },
        })),
      }),
      ...rest,
    })),
  ownTime: true,
  *curves(actions, { nodes }) {
    for (const { curves } of actions ?? [])
      for (const [channel, curve] of curvesIn(curves, nodes)) yield { pass: null, channel, curve };
  },
};
