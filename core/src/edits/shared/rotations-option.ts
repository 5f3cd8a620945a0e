/** The option that says how a layer mixes rotations: what passes and blocks share. */
import { z } from 'zod';

const rotationsOption = (description: string) =>
  z.enum(['channels', 'orientations']).meta({
    title: 'Rotations',
    labels: { channels: 'each angle', orientations: 'orientations' },
    description,
  });

/** Of what takes over by a part of it, or over a ramp. */
export const mixedRotations = rotationsOption(
  'Where only a part of it counts: as orientations they go the short way; else each angle by itself.',
);
