/** What is said of a placement when it is laid, and when it is set up. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';

const ramp = z.number().min(0).max(LIMITS.frame);

export const blockOptions = {
  stretch: z.number().min(0.01).max(100).meta({
    title: 'As long',
    unit: '×',
    step: 0.05,
    description: '1.5 takes one and a half times as long.',
  }),
  repeats: z.number().min(0.01).max(1000).meta({
    title: 'Times',
    step: 0.5,
    description: 'How often it shows, one after the other; 2.5 ends in the middle of the third time.',
  }),
  backward: z.boolean().meta({
    title: 'Backward',
    description: 'Each time it runs from its end to its beginning.',
  }),
  rampIn: ramp.meta({ title: 'Comes in over', unit: 'frames', step: 1 }),
  rampOut: ramp.meta({ title: 'Goes out over', unit: 'frames', step: 1 }),
  weight: z.number().min(0).max(2).meta({ title: 'Weight', step: 0.05, description: '1 is all of it.' }),
  adds: z.boolean().meta({
    title: 'Adds',
    description: 'It adds how far it goes from its first pose; off, it takes over.',
  }),
};

/** An option with what it is when nothing is said of it. */
export const usually = <Value>(option: z.ZodType<Value>, value: Value) =>
  option.default(value as never).meta(option.meta() ?? {});

/** An option that may be left as it is. */
export const maybe = <Option extends z.ZodType>(option: Option) =>
  option.optional().meta(option.meta() ?? {});
