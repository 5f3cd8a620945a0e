/** The spots of a figure: where they lie, which one a hand means, and the way from one to the next. */

export interface Spot {
  readonly id: string;
  readonly x: number;
  readonly y: number;
}

/** How far from a spot a finger may come down, pixels; two that lie nearer than CLEAR to the hand alike are asked about. */
export const FINGER = 12;
const CLEAR = 3;

/** What is meant by a touch: one spot, several to choose from, or nothing. */
export function meantSpots(spots: readonly Spot[], x: number, y: number): readonly Spot[] {
  const near = spots
    .map((spot) => ({ spot, away: Math.hypot(spot.x - x, spot.y - y) }))
    .filter(({ away }) => away <= FINGER)
    .sort((a, b) => a.away - b.away);
  const nearest = near[0];
  if (!nearest) return [];
  return near.filter(({ away }) => away <= nearest.away + CLEAR).map(({ spot }) => spot);
}

/** The next spot from one to a side: near, and rather straight on; the same where there is none. */
export function spotBeside(spots: readonly Spot[], from: Spot, dx: number, dy: number): Spot {
  let [best, least] = [from, Infinity];
  for (const spot of spots) {
    const [x, y] = [spot.x - from.x, spot.y - from.y];
    const ahead = x * dx + y * dy;
    const aside = Math.abs(x * dy - y * dx);
    if (ahead < 0.5 || aside > 2.5 * ahead) continue;
    const cost = ahead + 2 * aside;
    if (cost < least) [best, least] = [spot, cost];
  }
  return best;
}
