/** Which way up a character is, as its file has it. */
import type { Shot } from '../document/shot.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import type { Vector } from '../rig/node.ts';
import { nodeStoodUp, stoodUp, UPRIGHTS } from '../rig/upright.ts';
import type { Upright } from '../rig/upright.ts';
import { bodyOf } from './body-of.ts';
import type { ShotBody } from './body-of.ts';

/** What points up by less than this cosine lies or leans. */
const UP = 0.75;
/** More nodes than these are no figure that could be asked about. */
const MOST = 4000;
/** Frames at which it is looked how the figure is posed. */
const LOOKS = 12;

/** For each node the one at the top of all that it hangs on; each way is gone once. */
export function topFinder(nodes: Shot['nodes']): (id: string) => string {
  const above = new Map(nodes.map(({ id, parent }) => [id, parent]));
  return (id) => {
    const way: string[] = [];
    let top = id;
    for (let up = above.get(top); up; up = above.get(top)) {
      way.push(top);
      top = up;
    }
    for (const one of way) above.set(one, top);
    return top;
  };
}

/** The nodes that a character hangs on and that hang on nothing themselves. */
export function topsOf({ nodes }: Pick<Shot, 'nodes'>, character: string | null): ReadonlySet<string> {
  const top = topFinder(nodes);
  return new Set(nodes.flatMap((node) => (node.character === character ? [top(node.id)] : [])));
}

/** The shot with the rest of a character stood up; its curves stay. */
const restStoodUp = (shot: Shot, tops: ReadonlySet<string>, up: Upright): Shot => ({
  ...shot,
  nodes: shot.nodes.map((node) => (tops.has(node.id) ? nodeStoodUp(up, node) : node)),
});

type Limbs = NonNullable<ShotBody['limbs']>;

/** From between the ankles to the neck, of length 1. */
function wayUp({ neck, legs }: Limbs, placeOf: (row: number) => Vector): Vector {
  const way: [number, number, number] = [0, 0, 0];
  const top = placeOf(neck);
  for (const { ankle } of legs)
    placeOf(ankle).forEach((value, axis) => (way[axis]! += (top[axis]! - value) / legs.length));
  const length = Math.hypot(...way) || 1;
  return [way[0] / length, way[1] / length, way[2] / length];
}

/** @returns the axis that is up; null where the character is no body that we know, or its rest and its poses do not say the same */
export function uprightOf(shot: Shot, character: string | null): Upright | null {
  if (shot.nodes.length > MOST) return null;
  const tops = topsOf(shot, character);
  for (const up of UPRIGHTS) {
    // Arms, legs and a head are known only where they lie as a body's do.
    const { limbs } = bodyOf(up === '+y' ? shot : restStoodUp(shot, tops, up), character);
    if (!limbs) continue;
    if (up === '+y') return up;
    // Somebody may be at rest as he lies, and stand in the shot; or have been captured asleep.
    const { start, end } = shot.range;
    const mean: [number, number, number] = [0, 0, 0];
    for (let look = 0; look < LOOKS; look += 1) {
      const pose = worldAt(shot, Math.round(start + ((end - start) * look) / (LOOKS - 1)));
      stoodUp(
        up,
        wayUp(limbs, (row) => placeIn(pose, row)),
      ).forEach((value, axis) => (mean[axis]! += value / LOOKS));
    }
    return mean[1] > UP ? up : null;
  }
  return null;
}

/** How high it stands at rest if that axis is up, in the units of its numbers. */
export const standsIf = (shot: Shot, character: string | null, up: Upright): number =>
  bodyOf(restStoodUp(shot, topsOf(shot, character), up), character).stands;
