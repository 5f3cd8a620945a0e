/**
 * Sides, pairs and body parts, read from names, with the places of the controls as witness.
 *
 * A name is cut where its words end: at separators, at capitals, at numbers. A side is a word of its own (left, lf, l …), in any case,
 * anywhere; or, where a name runs its words together, a word or letter at one of its ends, and then only if the partner is there.
 * The partner has the same name with the other side. That these spellings are in use is common practice, no source.
 */
import type { Triple } from '../math/euler.ts';
import type { BodyPart, Side } from './node.ts';

/** What stands for what on the other side, in lower case. */
const OTHER_SIDE: Readonly<Record<string, readonly string[]>> = {
  left: ['right'],
  right: ['left'],
  lft: ['rgt', 'rht'],
  rgt: ['lft'],
  rht: ['lft'],
  lf: ['rt', 'rf'],
  rf: ['lf'],
  rt: ['lf', 'lt'],
  lt: ['rt'],
  l: ['r'],
  r: ['l'],
};

interface Reading {
  readonly side: 'left' | 'right';
  readonly partner: string;
  /** The name without the word of its side. */
  readonly stem: string;
  /** Whether the side is a word of its own, so that a missing partner is worth a question. */
  readonly plain: boolean;
}

/** The readings of a name, the likeliest first. */
function readingsOf(name: string): Reading[] {
  const words = [...name.matchAll(/[A-Z]+(?=[A-Z][a-z])|[A-Z]?[a-z]+|[A-Z]+|\d+/g)].map((match) => ({
    text: match[0],
    at: match.index,
  }));
  const letters = words.filter(({ text }) => /[a-z]/i.test(text));
  const [first, last] = [letters[0], letters[letters.length - 1]];
  const ranked: [rank: number, Reading][] = [];
  const add = (rank: number, at: number, text: string, plain: boolean) => {
    for (const other of OTHER_SIDE[text.toLowerCase()] ?? []) {
      const partner = name.slice(0, at) + inCaseOf(text, other) + name.slice(at + text.length);
      const side = text[0]!.toLowerCase() === 'l' ? 'left' : 'right';
      const stem = `${name.slice(0, at)}${name.slice(at + text.length)}`.replace(/^[\W_]+|[\W_]+$/g, '');
      ranked.push([rank, { side, partner, stem, plain }]);
    }
  };
  words.forEach((word, k) => {
    const beside = [words[k - 1], words[k + 1]].some((near) => near !== undefined && /\d/.test(near.text));
    const rank = word.text.length > 1 ? 0 : word === last ? 1 : word === first ? 2 : beside ? 3 : 4;
    add(rank, word.at, word.text, rank < 4);
  });
  for (const { text, at } of letters) {
    const low = text.toLowerCase();
    for (const side of ['left', 'right']) {
      if (low.length === side.length) continue;
      if (low.startsWith(side)) add(5, at, text.slice(0, side.length), false);
      if (low.endsWith(side)) add(5, at + text.length - side.length, text.slice(-side.length), false);
    }
  }
  if (first && first.text.length > 1) add(6, first.at, first.text[0]!, false);
  if (last && last.text.length > 1) add(6, last.at + last.text.length - 1, last.text.slice(-1), false);
  return ranked.sort((a, b) => a[0] - b[0]).map(([, reading]) => reading);
}

/** A word written as another is: capital, capitals, or neither. */
function inCaseOf(model: string, word: string): string {
  if (model === model.toUpperCase()) return word.toUpperCase();
  return model[0] === model[0]!.toUpperCase() ? word[0]!.toUpperCase() + word.slice(1) : word;
}

/** What a name and its partner's have in common without the words of their sides: `blink` of `blink_l`. */
export const stemOf = (name: string, partner: string): string =>
  readingsOf(name).find((one) => one.partner === partner)?.stem || name;

export interface SideAndPair {
  readonly side: Side;
  readonly pair: string | null;
}

/**
 * Side and pair for each name. Centre names mirror themselves. A name that speaks of a side keeps it without a partner where none is
 * there, or where the places say that it is none: those are the ones to ask about.
 * @param placeOf where a control rests in the world, cm; left out, names alone decide
 */
export function pairNames(
  names: readonly string[],
  placeOf: (name: string) => ArrayLike<number> | null = () => null,
): Map<string, SideAndPair> {
  const known = new Set(names);
  const readings = new Map(names.map((name) => [name, readingsOf(name)]));
  const plain = names.flatMap((name) => {
    const found = readings.get(name)!.find(({ partner, plain: own }) => own && known.has(partner));
    return found && found.side === 'left' ? [[name, found.partner] as const] : [];
  });
  const denies = witness(plain, placeOf);
  const chosen = new Map(
    names.map((name) => {
      const found = readings.get(name)!.find(({ partner }) => known.has(partner) && !denies(name, partner));
      return [name, found ?? null];
    }),
  );
  return new Map(
    names.map((name): [string, SideAndPair] => {
      const reading = chosen.get(name)!;
      // Both must read it so: else one of them would be paired without knowing.
      if (reading && chosen.get(reading.partner)?.partner === name)
        return [name, { side: reading.side, pair: reading.partner }];
      const spoken = readings.get(name)!.find(({ plain: own }) => own);
      return [name, spoken ? { side: spoken.side, pair: null } : { side: 'centre', pair: name }];
    }),
  );
}

/** Of the whole extent: nearer to the middle than this a control says nothing, and so far from its image it says no. */
const NEAR_MIDDLE = 0.03;
const FAR_OFF = 0.25;

/** Whether the places of two controls speak against their being mirror images, by the middle that sure pairs show. */
function witness(
  pairs: readonly (readonly [string, string])[],
  placeOf: (name: string) => ArrayLike<number> | null,
): (a: string, b: string) => boolean {
  const placed = pairs.flatMap(([left, right]) => {
    const [a, b] = [placeOf(left), placeOf(right)];
    return a && b ? [[a, b] as const] : [];
  });
  const across = [0, 1, 2].map((k) => placed.reduce((sum, [a, b]) => sum + a[k]! - b[k]!, 0)) as Triple;
  const length = Math.hypot(...across);
  if (placed.length < 2 || length < 1e-6) return () => false;
  const along = (place: ArrayLike<number>) =>
    (place[0]! * across[0] + place[1]! * across[1] + place[2]! * across[2]) / length;
  const middles = placed.map(([a, b]) => (along(a) + along(b)) / 2).sort((a, b) => a - b);
  const middle = middles[middles.length >> 1]!;
  const all = placed.flat();
  const size = Math.max(
    ...[0, 1, 2].map(
      (k) => Math.max(...all.map((place) => place[k]!)) - Math.min(...all.map((place) => place[k]!)),
    ),
  );
  return (one, other) => {
    const [a, b] = [placeOf(one), placeOf(other)];
    if (!a || !b) return false;
    const [x, y] = [along(a) - middle, along(b) - middle];
    const sameSide = x * y > 0 && Math.min(Math.abs(x), Math.abs(y)) > NEAR_MIDDLE * size;
    return sameSide || Math.abs(x + y) > FAR_OFF * size;
  };
}

const PART_WORDS: readonly (readonly [BodyPart, RegExp])[] = [
  ['hand', /hand|finger|thumb|wrist|index|pinky|middle|ring\d|curl/i],
  ['arm', /arm|elbow|shoulder|clavicle|collar|shldr/i],
  ['leg', /leg|foot|toe|knee|thigh|shin|ankle|heel|ball|hipjoint|calf/i],
  ['head', /head|neck|eye|jaw|brow|face/i],
  ['root', /^(root|world|trajectory|reference)$/i],
  ['torso', /hip|spine|chest|back|pelvis|torso|waist|abdomen/i],
];

/** The body part that a name speaks of; `extra` where it speaks of none. */
export function partOf(name: string): BodyPart {
  return PART_WORDS.find(([, words]) => words.test(name))?.[0] ?? 'extra';
}
