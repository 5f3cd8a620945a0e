/** What of a shot its layers are told, and which of them count. */
import { kindOf } from '../layers/kinds.ts';
import type { Context, Layer } from '../layers/layer.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

/** The layers that count, from bottom to top: not muted, and only the solo ones where there are any. */
export function soundingLayers({ layers }: Pick<Shot, 'layers'>): readonly Layer[] {
  const solo = layers.some((layer) => layer.solo);
  return layers.filter((layer) => !layer.muted && (!solo || layer.solo) && kindOf(layer));
}

export const contextOf = (shot: Shot): Context => ({
  rig: rigOf(shot),
  range: shot.range,
  framesPerSecond: framesPerSecond(shot.rate),
  period: shot.period ?? null,
  base: shot.curves,
  actions: shot.actions ?? NO_ACTIONS,
  layers: soundingLayers(shot),
});
const NO_ACTIONS: Context['actions'] = [];
