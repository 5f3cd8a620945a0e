/** Drawing a figure on a canvas: for cards, pose columns and the touchable figure. */
import { farToNear, shapesOf } from '@kneader/core';
import type { FlatView, Node } from '@kneader/core';
import { HAS_GRAPHICS_CARD } from './graphics-card.ts';

export interface FigureStyle {
  /** The fill of a solid by its colour's name. */
  readonly fill: (colour: string) => string;
  readonly line: string | null;
  readonly lineWidth?: number;
}

/** Draws all solids of the nodes in a pose. @param known the order in which they are painted, of the same pose seen the same way @returns that order */
export function drawFigure(
  context: CanvasRenderingContext2D,
  nodes: readonly Pick<Node, 'solids'>[],
  matrices: ArrayLike<number>,
  view: FlatView,
  style: FigureStyle,
  known: readonly number[] | null = null,
): readonly number[] {
  context.lineJoin = 'round';
  const shapes = shapesOf(nodes, matrices, view);
  const order = known ?? farToNear(shapes);
  for (const row of order) {
    const shape = shapes[row]!;
    context.beginPath();
    shape.draw(context);
    if (style.line) {
      context.strokeStyle = style.line;
      context.lineWidth = style.lineWidth ?? 1;
      context.stroke();
    }
    context.fillStyle = style.fill(shape.colour);
    context.fill();
  }
  return order;
}

/** Makes a canvas sharp on its screen and hands out its context, sized in CSS pixels. */
export function prepareCanvas(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w;
    canvas.height = h;
  }
  const context = canvas.getContext('2d', { willReadFrequently: !HAS_GRAPHICS_CARD });
  context?.setTransform(ratio, 0, 0, ratio, 0, 0);
  context?.clearRect(0, 0, width, height);
  return context;
}
