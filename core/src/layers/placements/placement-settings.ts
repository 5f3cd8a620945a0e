/** What is said of a placement: which part of which action it shows, when, how often, how it is carried. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import type { Layer, StoredAction } from '../layer.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

export const placementSettings = z.object({
  action: z.string().min(1).describe('The id of an action of the shot'),
  first: frame.describe('The frame at which its part begins'),
  factor: z.number().min(0.01).max(100).default(1).describe('Frames here for each frame of the action'),
  from: z
    .number()
    .min(0)
    .max(LIMITS.frame)
    .default(0)
    .describe('Where its part begins, frames of the action'),
  to: z.number().min(0).max(LIMITS.frame).describe('Where its part ends'),
  repeats: z.number().min(0.01).max(1000).default(1).describe('How often the part shows'),
  backward: z
    .boolean()
    .default(false)
    .describe('Whether each time it runs from the part’s end to its beginning'),
  adds: z
    .boolean()
    .default(false)
    .describe('Whether it adds how far it goes from its first pose, instead of taking over'),
  goesOn: z
    .boolean()
    .default(false)
    .describe('Whether each time round begins over the ground where the one before came to'),
  sums: z
    .boolean()
    .default(false)
    .describe('Whether, where it adds and goes on, each time round adds to what the one before came to'),
  carry: z
    .object({ turn: z.number().min(-360).max(360), x: z.number(), z: z.number() })
    .nullable()
    .default(null)
    .describe('How what nothing carries is turned about the upright, degrees, and then moved, cm'),
  carriesOn: z
    .boolean()
    .default(false)
    .describe('Whether it is worked out anew how it is carried, so that it begins where the figure stands'),
  roots: z
    .array(z.string())
    .default([])
    .describe('What nothing carries; the first says where each time round comes to'),
  rotations: z
    .enum(['channels', 'orientations'])
    .default('channels')
    .describe('Whether a part of it mixes rotations per channel or as orientations, by the short way'),
  leaves: z.array(z.string()).default([]).describe('Channels of the action that do not count'),
  crosses: z.string().nullable().default(null).describe('The layer of a placement that it gives way to'),
  course: z
    .array(
      z.object({ from: z.number(), to: z.number(), old: z.object({ from: z.number(), to: z.number() }) }),
    )
    .min(1)
    .nullable()
    .default(null)
    .describe(
      'What became of time since it was laid: new frames and the old ones that they show, rising; null where it runs as it was laid',
    ),
});
export type PlacementSettings = z.output<typeof placementSettings>;
export const settingsOf = (layer: Layer) => layer.settings as PlacementSettings;

export const actionOf = (
  { action }: Pick<PlacementSettings, 'action'>,
  actions: readonly StoredAction[],
): StoredAction | null => actions.find(({ id }) => id === action) ?? null;
