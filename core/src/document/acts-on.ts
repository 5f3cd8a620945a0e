/** What an edit would act on, counted and named: the line that every panel says. */
import type { Node } from '../rig/node.ts';
import { selectedCurves, targetsOf } from './selection.ts';
import type { Selection } from './selection.ts';
import { layerOf, rigOf, splitChannel, WEIGHT } from './shot.ts';
import type { Shot } from './shot.ts';

export interface ActsOn {
  readonly keys: number;
  readonly channels: number;
  readonly controls: number;
  /** Whether keys were chosen one by one, so that not all of the channels are meant. */
  readonly chosen: boolean;
  /** Whose they are: `the right arm`, `hips`, `7 controls`. */
  readonly whose: string;
  /** `base`, or the name of the pass. */
  readonly layer: string;
}

export function actsOn(shot: Shot, selection: Selection): ActsOn {
  const rig = rigOf(shot);
  const targets = targetsOf(shot, selection);
  const keyed = targets.filter(({ count }) => count > 0);
  const meant = keyed.length > 0 ? keyed.map(({ channel }) => channel) : selectedCurves(shot, selection);
  const weight = meant.includes(WEIGHT);
  const nodes = [...new Set(meant.filter((id) => id !== WEIGHT).map((id) => splitChannel(id).node))].map(
    (id) => rig.nodes[rig.indexOf(id)]!,
  );
  return {
    keys: keyed.reduce((sum, { count }) => sum + count, 0),
    channels: meant.length,
    controls: nodes.length,
    chosen: Object.values(selection.keys).some((ids) => ids.length > 0),
    whose: weight && nodes.length === 0 ? 'its weight' : whoseAre(nodes),
    layer: selection.layer === null ? 'base' : (layerOf(shot, selection.layer)?.name ?? 'base'),
  };
}

/** Words for parts of a body; hands belong to arms. */
const PART_WORDS: Readonly<Partial<Record<Node['part'], string>>> = {
  head: 'head',
  torso: 'torso',
  arm: 'arm',
  hand: 'arm',
  leg: 'leg',
};

function whoseAre(nodes: readonly Node[]): string {
  if (nodes.length === 1) return nodes[0]!.id;
  const parts = new Set(nodes.map(({ part }) => PART_WORDS[part]));
  const sides = new Set(nodes.map(({ side }) => side));
  const [part, side] = [[...parts][0], [...sides][0]];
  if (parts.size === 1 && part !== undefined) {
    if (sides.size === 1) return side === 'centre' ? `the ${part}` : `the ${side} ${part}`;
    if (!sides.has('centre')) return `both ${part}s`;
  }
  return `${nodes.length} controls`;
}
