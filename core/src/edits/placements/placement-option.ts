/** The option that names a placement, and finding it: what all edits on placements share. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { isBlock } from '../../layers/kinds.ts';
import type { Layer, LayerRange } from '../../layers/layer.ts';
import type { PlacementSettings } from '../../layers/placements/placement-settings.ts';
import { layerOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';

export const placementOption = z
  .string()
  .meta({ title: 'Placement', description: 'The id of the placement, or its name where no other has that.' });

/** A placement with what every one has. */
export type Placement = Layer & { readonly range: LayerRange; readonly settings: PlacementSettings };

export const isPlacement = (layer: Layer): layer is Placement => isBlock(layer) && layer.range !== null;

export const placementsOf = ({ layers }: Pick<Shot, 'layers'>): Placement[] => layers.filter(isPlacement);

/** The placement, which must be there and not locked. */
export function openPlacement(shot: Shot, id: string): Placement {
  const named = placementsOf(shot).filter(({ name }) => name === id);
  const layer = layerOf(shot, id) ?? (named.length === 1 ? named[0] : undefined);
  if (!layer || !isPlacement(layer)) return refuse('unknownPlacement', {}, id);
  return layer.locked ? refuse('lockedPass', {}, layer.name) : layer;
}
