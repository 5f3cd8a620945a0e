/** How weights lie in the lane of their pass: nothing at the bottom, all of it in the middle, twice at the top. */
const MARGIN = 3;
const HIGHEST = 2;

/** Pixels from the top. */
export function weightToY(weight: number, height: number): number {
  return height - MARGIN - (Math.min(Math.max(weight, 0), HIGHEST) / HIGHEST) * (height - 2 * MARGIN);
}

/** The weight at a height, to the hundredth. */
export function weightAt(y: number, height: number): number {
  const share = (height - MARGIN - y) / Math.max(height - 2 * MARGIN, 1);
  return Math.round(Math.min(Math.max(share, 0), 1) * HIGHEST * 100) / 100;
}
