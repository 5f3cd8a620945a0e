/** The close-up of a crowd of spots: which ones, how near, and where each stands so that a hand can tell them apart. */
import { forceCollide, forceSimulation, forceX, forceY } from 'd3-force';
import { FINGER } from './spots.ts';
import type { Spot } from './spots.ts';

/** Pixels from one spot to the next in a close-up, at least: the size of a target. */
export const APART = 24;
/** Of the close-up's square, pixels. */
export const CLOSE_UP = 216;

/** Free at its edge. */
const MARGIN = 26;
const EDGE = MARGIN / 2;
const [NEAREST, FARTHEST] = [2.5, 7];
/** A spot belongs to a crowd that it stands so near to, and that is not wider than this. */
const LINK = 13;
const WIDEST = 30;
const MOST = 18;
/** How far it may stand out of the figure's place, over what lies beside that: left and right, above and below. */
const OUT = [
  [-2, 200],
  [50, 150],
] as const;
const ROUNDS = 160;

/** The spots that crowd where a hand is; none where they can be told apart. */
export function crowdAt<One extends Spot>(spots: readonly One[], x: number, y: number): readonly One[] {
  const away = (one: Spot) => Math.hypot(one.x - x, one.y - y);
  const inReach = spots.filter((one) => away(one) <= WIDEST).sort((a, b) => away(a) - away(b));
  const crowd = inReach.filter((one) => away(one) <= FINGER);
  if (crowd.length < 2) return [];
  // Each that joins may bring others.
  for (const member of crowd)
    for (const one of inReach)
      if (
        crowd.length < MOST &&
        !crowd.includes(one) &&
        Math.hypot(one.x - member.x, one.y - member.y) <= LINK
      )
        crowd.push(one);
  return crowd;
}

interface CloseSpot {
  readonly id: string;
  /** Where it stands in the square. */
  readonly x: number;
  readonly y: number;
  /** Where its control lies in the square. */
  readonly homeX: number;
  readonly homeY: number;
}

export interface CloseUpLayout {
  /** How many times as large as the figure. */
  readonly zoom: number;
  /** The point of the figure in the middle of the square. */
  readonly middle: readonly [number, number];
  /** Where the square stands in the figure's place. */
  readonly left: number;
  readonly top: number;
  readonly spots: readonly CloseSpot[];
}

/**
 * @param crowd as `crowdAt` gives it, the nearest to the hand first: that one stands under the hand, so that who touches at once has what was meant
 * @param hand where that is in the figure's place, whose size is `room`
 */
export function layOut(
  crowd: readonly Spot[],
  hand: readonly [number, number],
  room: readonly [number, number],
): CloseUpLayout {
  const [xs, ys] = [crowd.map(({ x }) => x), crowd.map(({ y }) => y)];
  const spans = [xs, ys].map((all) => [Math.min(...all), Math.max(...all)] as const);
  const wide = Math.max(...spans.map(([low, high]) => high - low), 1);
  const zoom = Math.min(FARTHEST, Math.max(NEAREST, (CLOSE_UP - 2 * MARGIN) / wide));
  const [across, down] = spans.map(([low, high], axis) => {
    const centre = (low + high) / 2;
    const [before, after] = OUT[axis]!;
    const corner = between(centre - CLOSE_UP / 2, -before, room[axis]! + after - CLOSE_UP);
    const inside = hand[axis]! - corner;
    const nearest = [xs, ys][axis]![0]!;
    // As near to under the hand as all of the crowd stays in the square.
    const slack = Math.max(0, CLOSE_UP / 2 - MARGIN - ((high - low) / 2) * zoom);
    const shift = between(inside - (CLOSE_UP / 2 + (nearest - centre) * zoom), -slack, slack);
    return { corner, inside: between(inside, EDGE, CLOSE_UP - EDGE), middle: centre - shift / zoom };
  }) as [Axis, Axis];
  const placed = crowd.map(({ id, x, y }, i) => {
    const [homeX, homeY] = [
      CLOSE_UP / 2 + (x - across.middle) * zoom,
      CLOSE_UP / 2 + (y - down.middle) * zoom,
    ];
    const pinned = i === 0 ? { fx: across.inside, fy: down.inside } : {};
    // Two on one point part to different sides.
    const start = { x: homeX + Math.cos(i * 2.4) * 0.1, y: homeY + Math.sin(i * 2.4) * 0.1 };
    return { id, homeX, homeY, ...start, ...pinned };
  });
  const simulation = forceSimulation(placed)
    .force('x', forceX<(typeof placed)[number]>(({ homeX }) => homeX).strength(0.08))
    .force('y', forceY<(typeof placed)[number]>(({ homeY }) => homeY).strength(0.08))
    .force('apart', forceCollide(APART / 2 + 1).iterations(8))
    .stop();
  for (let round = 0; round < ROUNDS; round += 1) {
    simulation.tick();
    for (const one of placed)
      [one.x, one.y] = [between(one.x, EDGE, CLOSE_UP - EDGE), between(one.y, EDGE, CLOSE_UP - EDGE)];
  }
  return {
    ...{ zoom, middle: [across.middle, down.middle], left: across.corner, top: down.corner },
    spots: placed.map(({ id, x, y, homeX, homeY }) => ({ id, x, y, homeX, homeY })),
  };
}

interface Axis {
  readonly corner: number;
  readonly inside: number;
  readonly middle: number;
}

const between = (value: number, low: number, high: number) => Math.max(low, Math.min(value, high));
