import { headShot, useBench } from '../bench-store.ts';
import { figureSize } from './figure-size.ts';
import type { FigureSize } from './figure-size.ts';

/** Figures that become taller or shorter by less than this part are the same to camera and room. */
const SAME = 0.2;

let known: { readonly id: string; readonly nodes: unknown; readonly size: FigureSize } | null = null;

/** How large the figures are, as they were when the shot was opened: camera and room stay while it is worked on, unless a figure is rescaled or stood upright. */
export function useFigureSize(): FigureSize {
  const id = useBench((state) => state.id);
  const nodes = useBench((state) => headShot(state).nodes);
  if (known?.id === id && known.nodes === nodes) return known.size;
  const now = figureSize(headShot(useBench.getState()));
  const stays = known?.id === id && Math.abs(now.height / known.size.height - 1) < SAME;
  known = { id, nodes, size: stays ? known!.size : now };
  return known.size;
}
