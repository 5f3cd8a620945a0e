/**
 * Sides, pairs and body parts, read from names. Spellings such as `_l`/`_r`, `.L`/`.R`, `Left`/`Right`, `l_`/`r_`
 * and a capital `L`/`R` ahead of a capitalised word are common practice, no source.
 */
import type { Part, Side } from './node.ts';

interface Spelling {
  readonly pattern: RegExp;
  /** The same name on the other side. */
  readonly other: (match: RegExpMatchArray) => string;
  readonly side: (match: RegExpMatchArray) => Side;
}

const SWAP: Record<string, string> = {
  left: 'right',
  right: 'left',
  Left: 'Right',
  Right: 'Left',
  LEFT: 'RIGHT',
  RIGHT: 'LEFT',
  l: 'r',
  r: 'l',
  L: 'R',
  R: 'L',
};

const isLeft = (word: string): Side => (word[0]!.toLowerCase() === 'l' ? 'left' : 'right');
const spelling = (pattern: RegExp): Spelling => ({
  pattern,
  other: (match) => match[1]! + SWAP[match[2]!]! + match[3]!,
  side: (match) => isLeft(match[2]!),
});

/** Tried in this order; the three groups are what stands before, the side's word, and what follows. */
const SPELLINGS: readonly Spelling[] = [
  spelling(/^(.*[._\- ])(l|r|L|R|left|right|Left|Right|LEFT|RIGHT)([._\- ].*|\d*)$/),
  spelling(/^()(l|r|L|R|left|right|LEFT|RIGHT)([._\- ].+)$/),
  spelling(/^(.*?)(Left|Right)(?![a-z])(.*)$/),
  spelling(/^()(left|right)([A-Z_].*)$/),
  spelling(/^(.*[a-z])(L|R)(\d*)$/),
  spelling(/^((?:.*:)?)(L|R|l|r)([A-Z].*)$/),
];

/** The side that a name speaks of and what its partner would be called. */
function sideOf(name: string): { side: Side; partner: string | null } {
  for (const { pattern, side, other } of SPELLINGS) {
    const match = name.match(pattern);
    if (match) return { side: side(match), partner: other(match) };
  }
  return { side: 'centre', partner: null };
}

/**
 * Side and pair for each name: a side counts only where the partner is there too. Centre names mirror
 * themselves.
 */
export function pairNames(names: readonly string[]): Map<string, { side: Side; pair: string | null }> {
  const known = new Set(names);
  return new Map(
    names.map((name) => {
      const { side, partner } = sideOf(name);
      if (partner === null) return [name, { side: 'centre', pair: name }];
      return [name, { side, pair: known.has(partner) ? partner : null }];
    }),
  );
}

const PART_WORDS: readonly (readonly [Part, RegExp])[] = [
  ['hand', /hand|finger|thumb|wrist|index|pinky|middle|ring\d|curl/i],
  ['arm', /arm|elbow|shoulder|clavicle|collar|shldr/i],
  ['leg', /leg|foot|toe|knee|thigh|shin|ankle|heel|ball|hipjoint|calf/i],
  ['head', /head|neck|eye|jaw|brow|face/i],
  ['root', /^(root|world|trajectory|reference)$/i],
  ['torso', /hip|spine|chest|back|pelvis|torso|waist|abdomen/i],
];

/** The body part that a name speaks of; `extra` where it speaks of none. */
export function partOf(name: string): Part {
  return PART_WORDS.find(([, words]) => words.test(name))?.[0] ?? 'extra';
}
