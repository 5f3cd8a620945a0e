/** Figures whose file has another axis up than y: which way up is, and how nodes are turned so that it is y. No number but a sign changes. */
import { multiply } from '../math/quaternion.ts';
import type { Node, Turn, Vector } from './node.ts';

export const UPRIGHTS = ['+y', '+z', '-z', '+x', '-x', '-y'] as const;
export type Upright = (typeof UPRIGHTS)[number];

type Axis = 0 | 1 | 2;
/** For each new axis the old one that becomes it, and with which sign. */
type Exchange = readonly [
  readonly [axis: Axis, sign: 1 | -1],
  readonly [axis: Axis, sign: 1 | -1],
  readonly [axis: Axis, sign: 1 | -1],
];

const H = Math.SQRT1_2;
/** Quarter turns about x or z; upside down it is half a turn about z, so that the figure faces where it did. */
const TURNS: Readonly<Record<Upright, { readonly turn: Turn; readonly from: Exchange }>> = {
  '+y': { turn: [0, 0, 0, 1], from: [[0, 1], [1, 1], [2, 1]] },
  '+z': { turn: [-H, 0, 0, H], from: [[0, 1], [2, 1], [1, -1]] },
  '-z': { turn: [H, 0, 0, H], from: [[0, 1], [2, -1], [1, 1]] },
  '+x': { turn: [0, 0, H, H], from: [[1, -1], [0, 1], [2, 1]] },
  '-x': { turn: [0, 0, -H, H], from: [[1, 1], [0, -1], [2, 1]] },
  '-y': { turn: [0, 0, 1, 0], from: [[0, -1], [1, -1], [2, 1]] },
}; // prettier-ignore

/** A place or a way, turned so that what was up is y. */
export function stoodUp(up: Upright, vector: Vector): Vector {
  const [x, y, z] = TURNS[up].from;
  // Without −0: it would be written.
  const at = ([axis, sign]: readonly [Axis, 1 | -1]) => sign * vector[axis] + 0;
  return [at(x), at(y), at(z)];
}

const PLACES = ['tx', 'ty', 'tz'] as const;

/** What becomes of the channels of a node that is stood up: the name that each has then, and whether its values change their sign; others stay. */
export function placesStoodUp(
  up: Upright,
): ReadonlyMap<string, { readonly name: string; readonly sign: 1 | -1 }> {
  return new Map(TURNS[up].from.map(([axis, sign], to) => [PLACES[axis], { name: PLACES[to]!, sign }]));
}

/** A node that hangs on nothing, turned. Its own axes turn along: what hangs on it, and its angles, are as they were. */
export function nodeStoodUp(up: Upright, node: Node): Node {
  const renamed = placesStoodUp(up);
  const { translation, rotation, scale } = node.rest;
  const nameOf = (name: string) => renamed.get(name)?.name ?? name;
  return {
    ...node,
    rest: {
      translation: stoodUp(up, translation),
      rotation: multiply(TURNS[up].turn, rotation),
      scale,
    },
    channels: inPlace(node.channels, node.channels.map(nameOf)),
    ...(node.flipSigns && {
      flipSigns: Object.fromEntries(
        Object.entries(node.flipSigns).map(([name, sign]) => [nameOf(name), sign]),
      ),
    }),
    ...(node.choices && { choices: node.choices.map(nameOf) }),
  };
}

/** The new names, in the old order as far as both have them. */
function inPlace(old: readonly string[], named: readonly string[]): string[] {
  const fresh = named.filter((name) => !old.includes(name));
  return old.map((name) => (named.includes(name) ? name : fresh.shift()!));
}
