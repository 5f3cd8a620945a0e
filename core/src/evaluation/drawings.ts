/** Which drawing shows of a node: as the layers that hold drawings over it, or over what hangs on it, say. */
import type { FrameRange } from '../base/frame-range.ts';
import { rising } from '../base/frames.ts';
import { kindOf } from '../layers/kinds.ts';
import type { Drawings, Layer } from '../layers/layer.ts';
import { weightOf } from '../layers/weight.ts';
import type { Shot } from '../document/shot.ts';
import { rigOf } from '../document/shot.ts';
import { contextOf, soundingLayers } from './context.ts';

/** A layer counts where at least half of it shows. */
const COUNTS = 0.5;

const known = new WeakMap<Shot, Map<string, Drawings | null>>();

/** Null where no layer that counts holds drawings of it. */
export function drawingsOf(shot: Shot, node: string): Drawings | null {
  let ofShot = known.get(shot);
  if (!ofShot) known.set(shot, (ofShot = new Map<string, Drawings | null>()));
  let found = ofShot.get(node);
  if (found === undefined) ofShot.set(node, (found = made(shot, node)));
  return found;
}

/** The layers that hold drawings of a node or of what hangs on it, from bottom to top. */
export function drawnBy(shot: Shot, node: string): Layer[] {
  const rig = rigOf(shot);
  const hangs = (id: string): boolean => {
    for (let row = rig.indexOf(id); row >= 0; row = rig.parents[row]!)
      if (rig.nodes[row]!.id === node) return true;
    return false;
  };
  return soundingLayers(shot).filter((layer) => kindOf(layer)?.drawings && layer.members.some(hangs));
}

function made(shot: Shot, node: string): Drawings | null {
  const layers = drawnBy(shot, node).map((layer) => ({
    range: layer.range,
    weight: weightOf(layer),
    drawings: kindOf(layer)!.drawings!(layer, contextOf(shot)),
  }));
  if (layers.length === 0) return null;
  return {
    at(frame) {
      const over = layers.findLast(({ weight }) => weight.at(frame) >= COUNTS);
      return over ? over.drawings.at(frame) : frame;
    },
    begins: (range: FrameRange) =>
      rising(...layers.flatMap(({ drawings, weight }) => [drawings.begins(range), weight.jumps(range)])),
  };
}
