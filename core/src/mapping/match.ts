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
import { measured, standsAbove } from '../rig/skeleton.ts';
import type { Measured, Skeleton } from '../rig/skeleton.ts';
import { armsOf, hipsOf } from '../rig/landmarks.ts';
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
  /** Joints of the source that could as well change places, by structure. */
  readonly doubtful: readonly (readonly [string, string])[];
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
  let doubtful: Matching['doubtful'] = [];
  if (by !== 'names') {
    const most = Math.max(source.bones.length, target.bones.length);
    if (most > MOST_JOINTS) refuse('tooManyJoints', {}, most, MOST_JOINTS);
    const anchors = new Map(pairs.map((pair) => [pair.source, pair.target]));
    const [a, b] = [measured(source), measured(target)];
    const found = byStructure(a, b, new Map([...landmarks(a, b, anchors), ...anchors]));
    doubtful = found.doubtful.filter((two) => two.every(open));
    for (const [id, to] of found.pairs)
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
    doubtful,
  };
}

/** The joints that both surely have, where nobody says otherwise: of arms, and hips. */
function landmarks(a: Measured, b: Measured, said: ReadonlyMap<string, string>): [string, string][] {
  const [ours, theirs] = [armsOf(a), armsOf(b)];
  const taken = new Set(said.values());
  const open = (rows: readonly (readonly [number, number])[]) => {
    const pairs = rows.map(([i, j]): [string, string] => [a.bones[i]!.id, b.bones[j]!.id]);
    return pairs.some(([from, to]) => said.has(from) || taken.has(to)) ? [] : pairs;
  };
  const [hips, other] = [hipsOf(a, ours), hipsOf(b, theirs)];
  return [
    ...(hips < 0 || other < 0 ? [] : open([[hips, other]])),
    ...ours.flatMap((one) => {
      const partner = theirs.find((arm) => sideOf(b, arm.wrist) === sideOf(a, one.wrist));
      const joints = ['shoulder', 'elbow', 'wrist'] as const;
      return partner ? open(joints.map((joint) => [one[joint], partner[joint]])) : [];
    }),
  ];
}

/** Each joint of the one is held against each of the other. */
const MOST_JOINTS = 1000;

/** What two subtrees give when they stand for each other; the pairs in it are found by going down. */
interface Fit {
  readonly score: number;
  /** The joints that they begin with. */
  readonly from: readonly [number, number];
  readonly pair: readonly [number, number] | null;
  readonly parts: readonly Fit[];
}

/** What a joint costs that is left out between two that are paired. */
const SKIPPED = 0.05;
/** Less alike than this, two joints are better left alone. */
const LIKE_ENOUGH = 0.5;
/** What a pair counts that is known already. */
const ANCHORED = 4;
/** Beyond so many children the likeliest pair is taken first. */
const MOST_WEIGHED = 10;

/** Where two limbs that change places fit as well but for this, either answer may be meant. */
const AS_WELL = 0.003;

function byStructure(a: Measured, b: Measured, anchors: ReadonlyMap<string, string>) {
  const anchored = new Set(anchors.values());
  const likeness = (i: number, j: number): number => {
    const [from, to] = [a.bones[i]!.id, b.bones[j]!.id];
    if (anchors.get(from) === to) return ANCHORED;
    if (anchors.has(from) || anchored.has(to)) return -1;
    return alike(a, i, b, j) - LIKE_ENOUGH;
  };
  const memo = new Map<number, Fit>();
  /** The best of pairing them, and of leaving out one of the two and going on with one that hangs on it. */
  const down = (i: number, j: number): Fit => {
    const key = i * b.bones.length + j;
    const known = memo.get(key);
    if (known) return known;
    const together = below(a.children[i]!, b.children[j]!);
    const from = [i, j] as const;
    let best: Fit = { score: likeness(i, j) + together.score, from, pair: from, parts: together.parts };
    const consider = (fit: Fit, cost: number) => {
      if (fit.score - cost > best.score) best = { score: fit.score - cost, from, pair: null, parts: [fit] };
    };
    for (const child of a.children[i]!) consider(down(child, j), costOf(a, i));
    for (const child of b.children[j]!) consider(down(i, child), costOf(b, j));
    memo.set(key, best);
    return best;
  };
  /** The best of pairing what hangs on two joints, where some on either side may be left out for all that hangs on them. */
  const below = (ours: readonly number[], theirs: readonly number[]) => {
    let best: Forest = { score: 0, parts: [] };
    for (const left of opened(a, ours))
      for (const right of opened(b, theirs)) {
        const parts = assigned(left.rows, right.rows, down);
        const score =
          parts.reduce((sum, one) => sum + one.score, 0) - SKIPPED * (left.skipped + right.skipped);
        if (score > best.score) best = { score, parts };
      }
    return best;
  };
  const found: (readonly [number, number])[] = [];
  const doubtful: [string, string][] = [];
  const nameOf = (row: number) => a.bones[row]!.id;
  const collect = ({ parts }: Forest) => {
    parts.forEach((one, at) => {
      if (one.pair) found.push(one.pair);
      for (const other of parts.slice(at + 1)) {
        const changed = down(one.from[0], other.from[1]).score + down(other.from[0], one.from[1]).score;
        if (one.score + other.score - changed < AS_WELL)
          doubtful.push([nameOf(one.from[0]), nameOf(other.from[0])]);
      }
      collect(one);
    });
  };
  collect(below(a.roots, b.roots));
  const sure = pastTwists(a, b, found);
  const pairs = [...sure, ...leftOver(a, b, sure, likeness)];
  return { pairs: pairs.map(([i, j]) => [nameOf(i), b.bones[j]!.id] as const), doubtful };
}

interface Forest {
  readonly score: number;
  readonly parts: readonly Fit[];
}

/** What it costs to leave a joint out. */
const costOf = (of: Measured, row: number): number => (isInLine(of, row) ? SKIPPED / 5 : SKIPPED);

/** Whether a joint lies on the straight way between its neighbours, as a twist joint does. */
function isInLine({ children, rig, at }: Measured, row: number): boolean {
  const [child, ...others] = children[row]!;
  const parent = rig.parents[row]!;
  if (child === undefined || others.length > 0 || parent < 0) return false;
  const [p, q, r] = [at[parent]!, at[row]!, at[child]!];
  const way = (from: Triple, to: Triple) => Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
  return way(p, q) + way(q, r) < 1.002 * way(p, r);
}

/** Joints side by side, and how many above them were left out for them. */
interface Row {
  readonly rows: readonly number[];
  readonly skipped: number;
}
/** So many joints that branch are left out side by side at most. */
const MOST_OPENED = 2;

/** The joints themselves, and with some of them left out down to where they branch, for all that hangs there. */
function opened({ children }: Measured, rows: readonly number[]): Row[] {
  const known = new Set<string>();
  const result: Row[] = [];
  const add = (row: Row, times: number) => {
    const key = [...row.rows].sort((p, q) => p - q).join();
    if (known.has(key)) return;
    known.add(key);
    result.push(row);
    if (times === MOST_OPENED) return;
    row.rows.forEach((joint, at) => {
      let [end, skipped] = [joint, 1];
      while (children[end]!.length === 1) [end, skipped] = [children[end]![0]!, skipped + 1];
      if (children[end]!.length === 0) return;
      add({ rows: row.rows.toSpliced(at, 1, ...children[end]!), skipped: row.skipped + skipped }, times + 1);
    });
  };
  add({ rows, skipped: 0 }, 0);
  return result;
}

/** So many joints hang on a hand with fingers. */
const BRANCHES = 3;

/**
 * A twist joint that was taken for the hand that the other figure's fingers hang on, since it lies near to it: the joint that it leads to is that hand. Laid out straight, the first
 * joint of a finger lies as near to a wrist as the wrist does.
 */
function pastTwists(
  a: Measured,
  b: Measured,
  found: readonly (readonly [number, number])[],
): (readonly [number, number])[] {
  const moved = found.flatMap(([i, j]): (readonly [number, number])[] => {
    if (isInLine(a, i) && b.children[j]!.length >= BRANCHES) return [[a.children[i]![0]!, j]];
    if (isInLine(b, j) && a.children[i]!.length >= BRANCHES) return [[i, b.children[j]![0]!]];
    return [];
  });
  const [ours, theirs] = [new Set(moved.map(([i]) => i)), new Set(moved.map(([, j]) => j))];
  return [...found.filter(([i, j]) => !ours.has(i) && !theirs.has(j)), ...moved];
}

/** Less alike than this beyond what is enough, what is left over on both sides stays alone. */
const LEFT_ALIKE = 0.3;

/** Pairs of what the trees leave over, since on the one a limb hangs on a joint that lies beside it on the other: likeliest first. */
function leftOver(
  a: Measured,
  b: Measured,
  found: readonly (readonly [number, number])[],
  likeness: (i: number, j: number) => number,
): [number, number][] {
  const [ours, theirs] = [new Map(found), new Map(found.map(([i, j]) => [j, i]))];
  const left = a.bones.flatMap((_, i) => (ours.has(i) ? [] : [i]));
  const right = b.bones.flatMap((_, j) => (theirs.has(j) ? [] : [j]));
  const all = left
    .flatMap((i) => right.map((j) => [i, j, likeness(i, j)] as const))
    .filter(([i, j, like]) => like > LEFT_ALIKE && inOrder(a, b, i, j, ours, theirs))
    .sort((p, q) => q[2] - p[2]);
  const pairs: [number, number][] = [];
  for (const [i, j] of all)
    if (!ours.has(i) && !theirs.has(j)) {
      pairs.push([i, j]);
      ours.set(i, j);
      theirs.set(j, i);
    }
  return pairs;
}

/** Whether what both hang on goes together: the nearest joint above that has a partner, on either side, has it above the other. */
function inOrder(
  a: Measured,
  b: Measured,
  i: number,
  j: number,
  ours: ReadonlyMap<number, number>,
  theirs: ReadonlyMap<number, number>,
): boolean {
  const nearest = (of: Measured, row: number, partner: ReadonlyMap<number, number>) => {
    for (let up = of.rig.parents[row]!; up >= 0; up = of.rig.parents[up]!)
      if (partner.has(up)) return partner.get(up)!;
    return -1;
  };
  const [above, over] = [nearest(a, i, ours), nearest(b, j, theirs)];
  return (above < 0 || standsAbove(b, above, j)) && (over < 0 || standsAbove(a, over, i));
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

/** So far from each other, in heights, two places are no longer alike; and so far along the bones from the body. */
const [FAR, FAR_ALONG] = [0.15, 0.15];
/** Nearer to the middle than this part of the height a joint is on neither side. */
const MIDDLE = 0.02;

/** How alike two joints are, 0…1: along the bones as well as by place, since arms hang in one figure at rest and are spread in another. */
function alike(a: Measured, i: number, b: Measured, j: number): number {
  const [p, q] = [a.places[i]!, b.places[j]!];
  const near = (away: number) => Math.exp(-away * away);
  const part = (m: number, n: number, least: number) =>
    m === least || n === least ? (m === n ? 1 : 0.5) : Math.min(m, n) / Math.max(m, n);
  const sides = Math.abs(sideOf(a, i) - sideOf(b, j));
  return (
    0.15 * direction(boneOf(a, i), boneOf(b, j)) +
    0.45 * near(Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) / FAR) +
    0.1 * near((a.along[i]! - b.along[j]!) / FAR_ALONG) +
    0.05 * part(a.sizes[i]!, b.sizes[j]!, 1) +
    0.05 * part(a.children[i]!.length, b.children[j]!.length, 0) +
    0.2 * (1 - sides / 2) +
    0.05 * Number(isInLine(a, i) === isInLine(b, j))
  );
}

function sideOf({ bones, places }: Measured, i: number): number {
  const { side } = bones[i]!;
  if (side !== 'centre') return side === 'left' ? 1 : -1;
  const [x] = places[i]!;
  return Math.abs(x) < MIDDLE ? 0 : Math.sign(x);
}

/** From the joint above, in heights; null of the body's first joint and what carries it, and where the two coincide. */
function boneOf({ rig, places, along }: Measured, i: number): Triple | null {
  const parent = rig.parents[i]!;
  if (parent < 0 || along[i] === 0) return null;
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
