/** Where a new pass or block comes to lie: over all of them, and under the filters that are on top, so that they work on it too. */
import { isFilter } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import type { Shot } from '../../document/shot.ts';

/** How many layers lie under that place. */
export const placeForPass = ({ layers }: Pick<Shot, 'layers'>): number =>
  layers.findLastIndex((layer) => !isFilter(layer)) + 1;

export function underFilters(shot: Shot, pass: Layer): Shot {
  const at = placeForPass(shot);
  return { ...shot, layers: [...shot.layers.slice(0, at), pass, ...shot.layers.slice(at)] };
}
