/** The options that confine a new layer: what passes and filters share. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

export const bookendsOption = z
  .object({ start: frame, end: frame })
  .nullable()
  .default(null)
  .meta({ title: 'Bookends', description: 'The layer counts from one to the other and nowhere else.' });

export const rampsOption = z
  .number()
  .min(0)
  .max(LIMITS.frame)
  .default(6)
  .meta({
    title: 'Ramps',
    unit: 'frames',
    step: 1,
    when: { field: 'bookends', not: null },
    description: 'It comes in and goes out over so many frames within the bookends.',
  });
