/** Name, colour, mute, solo, lock and range of a layer: what passes and filters share. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { refuse } from '../../base/finding.ts';
import type { Layer } from '../../layers/layer.ts';
import type { Selection } from '../../document/selection.ts';
import { withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);
const ramp = z.number().min(0).max(LIMITS.frame).default(0);

/** One of the eight that tell layers and markers apart. */
export const colourOption = z
  .number()
  .int()
  .min(0)
  .max(7)
  .optional()
  .meta({ title: 'Colour', description: 'One of the eight layer colours, 0 to 7.' });

export const setUpOptions = {
  name: z.string().trim().min(1).max(60).optional().meta({ title: 'Name' }),
  colour: colourOption,
  muted: z.boolean().optional().meta({ title: 'Muted', description: 'It does not count.' }),
  solo: z.boolean().optional().meta({ title: 'Solo', description: 'Only what is solo counts.' }),
  locked: z.boolean().optional().meta({ title: 'Locked', description: 'No edit changes it.' }),
  range: z.object({ start: frame, end: frame, rampIn: ramp, rampOut: ramp }).nullable().optional().meta({
    title: 'Range',
    description: 'Where it counts, and over how many frames it comes in and goes out; null is everywhere.',
  }),
};

type Given = Partial<Pick<Layer, 'name' | 'colour' | 'muted' | 'solo' | 'locked' | 'range' | 'settings'>>;

/** The shot with what was given of a layer; what stays as it was changes nothing. */
export function setUp(shot: Shot, selection: Selection, layer: Layer, given: Given): Outcome {
  if (given.range && !(given.range.end > given.range.start))
    refuse('badRange', {}, given.range.start, given.range.end);
  const asked = Object.entries(given).filter(
    ([name, value]) =>
      value !== undefined && JSON.stringify(layer[name as keyof Layer]) !== JSON.stringify(value),
  );
  if (asked.length === 0) return outcome(shot, shot, selection);
  const change = (was: Layer): Layer => ({ ...was, ...Object.fromEntries(asked) });
  return outcome(shot, withLayer(shot, layer.id, change), selection);
}
