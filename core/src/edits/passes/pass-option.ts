/** The option that names a pass, and finding it: what all edits on passes share. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { isKeyed } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import { layerOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';

export const passOption = z.string().meta({ title: 'Pass', description: 'The id of the pass.' });

/** The pass, which must be there. */
export function knownPass(shot: Shot, id: string): Layer {
  const layer = layerOf(shot, id);
  return layer && isKeyed(layer) ? layer : refuse('unknownPass', {}, id);
}

/** The pass, which must be there and not locked. */
export function openPass(shot: Shot, id: string): Layer {
  const pass = knownPass(shot, id);
  return pass.locked ? refuse('lockedPass', {}, pass.name) : pass;
}
