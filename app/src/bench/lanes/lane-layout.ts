/** Which lanes stand where, folded or not, and how high; kept in the browser. */
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export const LANE_IDS = [
  'poses',
  'passes',
  'spaces',
  'contacts',
  'limits',
  'warp',
  'roughness',
  'lean',
  'curves',
] as const;
export type LaneId = (typeof LANE_IDS)[number];

export interface LaneLayout {
  readonly order: readonly LaneId[];
  readonly folded: readonly LaneId[];
  /** Pixels, where a hand has set them. */
  readonly heights: Readonly<Partial<Record<LaneId, number>>>;
  /** Lanes that are shown because somebody asked for them. */
  readonly shown?: readonly LaneId[];
}

/** A lane is never lower than this, nor higher than what leaves room for the others. */
const LOWEST = 44;
const HIGHEST = 420;

export const useLaneLayout = create<LaneLayout>()(
  persist((): LaneLayout => ({ order: LANE_IDS, folded: [], heights: {} }), { name: 'kneader-lanes' }),
);

/** The lanes in their order; those that an older note in the browser does not know stand where they stand by default. */
export function orderedLanes(order: readonly LaneId[]): LaneId[] {
  const known = order.filter((id) => LANE_IDS.includes(id));
  return [...known, ...LANE_IDS.filter((id) => !known.includes(id))];
}

/** The order after one lane was dropped on another's place. */
export function movedLane(order: readonly LaneId[], id: LaneId, onto: LaneId): LaneId[] {
  const all = orderedLanes(order);
  const to = all.indexOf(onto);
  const rest = all.filter((other) => other !== id);
  return [...rest.slice(0, to), id, ...rest.slice(to)];
}

export const withinHeights = (height: number): number =>
  Math.round(Math.min(Math.max(height, LOWEST), HIGHEST));

export const laneLayout = {
  move(id: LaneId, onto: LaneId): void {
    useLaneLayout.setState(({ order }) => ({ order: movedLane(order, id, onto) }));
  },
  fold(id: LaneId, folded: boolean): void {
    useLaneLayout.setState((layout) => ({
      folded: folded
        ? [...layout.folded.filter((other) => other !== id), id]
        : layout.folded.filter((other) => other !== id),
    }));
  },
  show(id: LaneId, isShown: boolean): void {
    useLaneLayout.setState(({ shown = [] }) => ({
      shown: isShown ? [...shown.filter((other) => other !== id), id] : shown.filter((other) => other !== id),
    }));
  },
  resize(id: LaneId, height: number): void {
    useLaneLayout.setState(({ heights }) => ({ heights: { ...heights, [id]: withinHeights(height) } }));
  },
};
