/**
 * The greatest distance in 1 … most that holds, doubled until one fails and then halved in; 1 is taken to hold.
 * @param holds true up to some distance and false beyond it; where it is not, a distance that holds is still found
 * @param guess where doubling begins, >= 2: near the answer it saves trials
 */
export function farthest(most: number, holds: (distance: number) => boolean, guess = 2): number {
  let good = 1;
  let bad = most + 1;
  for (let trial = guess; good < most; trial *= 2) {
    const distance = Math.min(trial, most);
    if (!holds(distance)) {
      bad = distance;
      break;
    }
    good = distance;
  }
  while (bad - good > 1) {
    const middle = (good + bad) >>> 1;
    if (holds(middle)) good = middle;
    else bad = middle;
  }
  return good;
}
