/** The figure at rest as it is drawn for the hand: how it fits its place, and where the spots of its controls lie. */
import { computeWorld, newWorldPose, placeIn, rigOf } from '@kneader/core';
import type { Node, Shot } from '@kneader/core';
import { flatExtent, fitView, project } from '@kneader/core';
import type { FlatView } from '@kneader/core';
import type { Spot } from './spots.ts';

export interface FigureSpot extends Spot {
  readonly node: Node;
}

/** Which nodes are touched on the figure: those that have channels and belong to the body. */
const isTouchable = (node: Node) => node.channels.length > 0 && node.part !== 'prop';

/** Of the figure that is shown, or of none; null shows all. */
const isOf = ({ character }: Node, figure: string | null) =>
  figure === null || character === null || character === figure;

export function restOf({ nodes, relations }: Pick<Shot, 'nodes' | 'relations'>, figure: string | null) {
  const rig = rigOf({ nodes, relations } as Parameters<typeof rigOf>[0]);
  const pose = newWorldPose(rig);
  computeWorld(
    rig,
    rig.channels.map((channel) => channel.rest),
    pose,
  );
  const body = nodes.map((node) => (node.part === 'prop' || !isOf(node, figure) ? { solids: [] } : node));
  return { pose, body, nodes, figure, extent: flatExtent(body, [pose.matrices], 0) };
}

/** The figure in a place of so many pixels. */
export function figureSpots(
  { pose, nodes, figure, extent }: ReturnType<typeof restOf>,
  width: number,
  height: number,
): { readonly view: FlatView; readonly spots: readonly FigureSpot[] } {
  const view = fitView(extent, Math.max(width, 1), Math.max(height, 1), 0);
  // Small and hanging parts lie under the body's own controls, which are touched more.
  const order = nodes.map((_, i) => i).sort((a, b) => +!isSmall(nodes[a]!) - +!isSmall(nodes[b]!) || a - b);
  const spots = order
    .filter((i) => isTouchable(nodes[i]!) && isOf(nodes[i]!, figure))
    .map((i) => {
      const node = nodes[i]!;
      const [x, y] = project(view, ...placeIn(pose, i));
      return {
        id: node.id,
        node,
        x: Math.min(Math.max(x, EDGE), width - EDGE),
        y: Math.min(Math.max(y + aside(node), EDGE), height - EDGE),
      };
    });
  return { view, spots };
}

/** Spots keep so far from the edge, pixels: none is clipped. */
const EDGE = 9;

/** Fingers, face and hanging parts crowd: their spots are small. */
const isHanging = (node: Node) => node.part === 'extra';
export const isSmall = (node: Node) =>
  isHanging(node) || /thumb|index|fingers|eye|brow|jaw|moustache|toe|ball|heel/i.test(node.id);

/** At rest a goal lies on the joint that it drives, and a thumb on its hand: their spots stand beside it, pixels below. */
function aside({ kind, part, id }: Node): number {
  if (/thumb/i.test(id)) return 10;
  if (kind !== 'goal') return 0;
  return part === 'leg' ? 9 : -11;
}
