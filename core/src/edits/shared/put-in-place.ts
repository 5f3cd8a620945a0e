/** Another place in the stack: what is above counts over what is below. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import type { Layer } from '../../layers/layer.ts';
import type { Selection } from '../../document/selection.ts';
import type { Shot } from '../../document/shot.ts';
import { outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';

export const placeOption = z.number().int().min(1).max(LIMITS.layers).meta({
  title: 'Place',
  step: 1,
  description: 'Counted from below among passes and filters: 1 is next to the base.',
});

export function putInPlace(shot: Shot, selection: Selection, layer: Layer, place: number): Outcome {
  const others = shot.layers.filter((other) => other !== layer);
  const at = Math.min(place - 1, others.length);
  const before = shot.layers.indexOf(layer);
  if (at === before) return outcome(shot, shot, selection);
  const after = { ...shot, layers: [...others.slice(0, at), layer, ...others.slice(at)] };
  return outcome(shot, after, selection, {
    measures: [{ name: 'place from below', value: at + 1, unit: '', before: before + 1 }],
  });
}
