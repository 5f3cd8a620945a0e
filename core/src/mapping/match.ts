/**
 * Which joint of one skeleton stands for which of another: by name where names agree, by structure where they do not.
 *
 * By structure both trees are gone down together. Two joints are alike by the direction and place of their bones, in heights of the figure, by how
 * much hangs on them and by their side; the children of two joints that stand for each other are paired so that all together are as alike as can
 * be, and a joint in between (a twist joint, another root) may be left out at a price. It is the constrained edit distance of unordered trees
 * (K. Zhang, A constrained edit distance between unordered labeled trees, Algorithmica 15, 1996), with likeness in place of cost.
 */
import { refuse } from '../base/finding.ts';
import type { Triple } from '../math/euler.ts';
import { measured } from '../rig/skeleton.ts';
import type { Measured, Skeleton } from '../rig/skeleton.ts';
import { bareNames } from './bare-names.ts';

export type MatchBy = 'names' | 'structure' | 'both';

export interface Pair {
  readonly source: string;
  readonly target: string;
  readonly how: 'name' | 'structure' | 'hand';
}

export interface Matching {
  readonly pairs: readonly Pair[];
  /** Joints of the source that stand for nothing, and joints of the target that nothing stands for. */
  readonly missing: readonly string[];
  readonly spare: readonly string[];
  /** Names that were said by hand and that one of the two does not have. */
  readonly unknown: readonly string[];
}

/** @param byHand target by source, or null for none; it goes before all else */
export function matchSkeletons(
  source: Skeleton,
  target: Skeleton,
  by: MatchBy,
  byHand: Readonly<Record<string, string | null>> = {},
): Matching {
  const known = new Set(target.bones.map(({ id }) => id));
  const hand = new Map(
    Object.entries(byHand).filter(
      ([id, to]) => source.bones.some((bone) => bone.id === id) && (to === null || known.has(to)),
    ),
  );
  const taken = new Set([...hand.values()].filter((to) => to !== null));
  const pairs: Pair[] = [...hand].flatMap(([id, to]) =>
    to === null ? [] : [{ source: id, target: to, how: 'hand' as const }],
  );
  const open = (id: string) => !hand.has(id) && !pairs.some((pair) => pair.source === id);
  if (by !== 'structure')
    for (const { id } of source.bones)
      if (open(id) && known.has(id) && !taken.has(id)) {
        pairs.push({ source: id, target: id, how: 'name' });
        taken.add(id);
      }
  if (by !== 'structure') {
    const theirs = new Map([...bareNames(target.bones.map(({ id }) => id))].map(([id, bare]) => [bare, id]));
    for (const [id, bare] of bareNames(source.bones.map((bone) => bone.id))) {
      const to = theirs.get(bare);
      if (to === undefined || !open(id) || taken.has(to)) continue;
      pairs.push({ source: id, target: to, how: 'name' });
      taken.add(to);
    }
  }
  if (by !== 'names') {
    const most = Math.max(source.bones.length, target.bones.length);
    if (most > MOST_JOINTS) refuse('tooManyJoints', {}, most, MOST_JOINTS);
    const anchors = new Map(pairs.map((pair) => [pair.source, pair.target]));
    for (const [id, to] of byStructure(measured(source), measured(target), anchors))
      if (open(id) && !taken.has(to)) {
        pairs.push({ source: id, target: to, how: 'structure' });
        taken.add(to);
      }
  }
  const used = new Set(pairs.map((pair) => pair.source));
  return {
    pairs,
    missing: source.bones.flatMap(({ id }) => (used.has(id) ? [] : [id])),
    spare: target.bones.flatMap(({ id }) => (taken.has(id) ? [] : [id])),
    unknown: Object.entries(byHand).flatMap(([id, to]) => [
      ...(source.bones.some((bone) => bone.id === id) ? [] : [id]),
      ...(to === null || known.has(to) ? [] : [to]),
    ]),
  };
}

/** Each joint of the one is held against each of the other. */
const MOST_JOINTS = 1000;

/** What two subtrees give when they stand for each other; the pairs in it are found by going down. */
interface Fit {
  readonly score: number;
  readonly pair: readonly [number, number] | null;
  readonly parts: readonly Fit[];
}

/** What a joint costs that is left out between two that are paired. */
const SKIPPED = 0.35;
/** Less alike than this, two joints are better left alone. */
const LIKE_ENOUGH = 0.3;
/** What a pair counts that is known already. */
const ANCHORED = 4;
/** Beyond so many children the likeliest pair is taken first. */
const MOST_WEIGHED = 10;

function byStructure(a: Measured, b: Measured, anchors: ReadonlyMap<string, string>): [string, string][] {
  const anchored = new Set(anchors.values());
  const likeness = (i: number, j: number): number => {
    const [from, to] = [a.bones[i]!.id, b.bones[j]!.id];
    if (anchors.get(from) === to) return ANCHORED;
    if (anchors.has(from) || anchored.has(to)) return -1;
    return alike(a, i, b, j) - LIKE_ENOUGH;
  };
  const memo = new Map<number, Fit>();
  /** The best of pairing them, and of leaving out one of the two and going on with what hangs on it. */
  const down = (i: number, j: number): Fit => {
    const key = i * b.bones.length + j;
    const known = memo.get(key);
    if (known) return known;
    const together = assigned(a.children[i]!, b.children[j]!, down);
    let best: Fit = {
      score: likeness(i, j) + together.reduce((sum, { score }) => sum + score, 0),
      pair: [i, j],
      parts: together,
    };
    const consider = (fit: Fit) => {
      if (fit.score - SKIPPED > best.score) best = { score: fit.score - SKIPPED, pair: null, parts: [fit] };
    };
    for (const child of a.children[i]!) consider(down(child, j));
    for (const child of b.children[j]!) consider(down(i, child));
    memo.set(key, best);
    return best;
  };
  const found: [string, string][] = [];
  const collect = ({ pair, parts }: Fit) => {
    if (pair) found.push([a.bones[pair[0]]!.id, b.bones[pair[1]]!.id]);
    parts.forEach(collect);
  };
  assigned(a.roots, b.roots, down).forEach(collect);
  return found;
}

/** The pairs of two lists that are best together; what is better alone stays so. */
function assigned(
  left: readonly number[],
  right: readonly number[],
  fit: (i: number, j: number) => Fit,
): Fit[] {
  if (left.length === 0 || right.length === 0) return [];
  if (right.length > MOST_WEIGHED) return likeliestFirst(left, right, fit);
  // Over the sets of what is taken on the right, one on the left after the other.
  let best = new Map<number, { readonly score: number; readonly parts: readonly Fit[] }>([
    [0, { score: 0, parts: [] }],
  ]);
  for (const i of left) {
    const next = new Map(best);
    for (const [taken, { score, parts }] of best)
      right.forEach((j, bit) => {
        if (taken & (1 << bit)) return;
        const one = fit(i, j);
        if (one.score <= 0) return;
        const sum = score + one.score;
        const set = taken | (1 << bit);
        if (sum > (next.get(set)?.score ?? -1)) next.set(set, { score: sum, parts: [...parts, one] });
      });
    best = next;
  }
  return [...[...best.values()].reduce((a, b) => (b.score > a.score ? b : a)).parts];
}

function likeliestFirst(
  left: readonly number[],
  right: readonly number[],
  fit: (i: number, j: number) => Fit,
): Fit[] {
  const all = left
    .flatMap((i) => right.map((j) => ({ i, j, one: fit(i, j) })))
    .filter(({ one }) => one.score > 0)
    .sort((p, q) => q.one.score - p.one.score);
  const [gone, taken] = [new Set<number>(), new Set<number>()];
  return all.flatMap(({ i, j, one }) => {
    if (gone.has(i) || taken.has(j)) return [];
    gone.add(i);
    taken.add(j);
    return [one];
  });
}

/** So far from each other, in heights, two places are no longer alike. */
const FAR = 0.25;
/** Nearer to the middle than this part of the height a joint is on neither side. */
const MIDDLE = 0.02;

/** How alike two joints are, 0…1. */
function alike(a: Measured, i: number, b: Measured, j: number): number {
  const [p, q] = [a.places[i]!, b.places[j]!];
  const away = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) / FAR;
  const place = Math.exp(-away * away);
  const size = Math.min(a.sizes[i]!, b.sizes[j]!) / Math.max(a.sizes[i]!, b.sizes[j]!);
  const sides = Math.abs(sideOf(a, i) - sideOf(b, j));
  return 0.35 * direction(boneOf(a, i), boneOf(b, j)) + 0.3 * place + 0.15 * size + 0.2 * (1 - sides / 2);
}

function sideOf({ bones, places }: Measured, i: number): number {
  const { side } = bones[i]!;
  if (side !== 'centre') return side === 'left' ? 1 : -1;
  const [x] = places[i]!;
  return Math.abs(x) < MIDDLE ? 0 : Math.sign(x);
}

/** From the joint above, in heights; null of a root, and where the two coincide. */
function boneOf({ rig, places }: Measured, i: number): Triple | null {
  const parent = rig.parents[i]!;
  if (parent < 0) return null;
  const [p, q] = [places[parent]!, places[i]!];
  const bone: Triple = [q[0] - p[0], q[1] - p[1], q[2] - p[2]];
  return Math.hypot(...bone) < 1e-4 ? null : bone;
}

/** 1 where two bones point the same way and are as long, 0 where they point against each other. */
function direction(a: Triple | null, b: Triple | null): number {
  if (!a || !b) return a === b ? 1 : 0.5;
  const [m, n] = [Math.hypot(...a), Math.hypot(...b)];
  const cosine = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (m * n);
  return (0.7 * (1 + cosine)) / 2 + 0.3 * (Math.min(m, n) / Math.max(m, n));
}
