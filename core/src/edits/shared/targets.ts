/** What edits on keys share: finding their targets, and saying what was left and why. */
import { standsAt } from '../../base/bisect.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { finish } from '../../base/work.ts';
import type { Work } from '../../base/work.ts';
import { FLAG, sameShape } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { targetsOf } from '../../document/selection.ts';
import type { Selection, Target } from '../../document/selection.ts';
import { withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

/** Rows of a target that are meant and not locked, and how many were locked. */
export function openRows({ curve, rows }: Target): { rows: number[]; locked: number } {
  const open: number[] = [];
  let locked = 0;
  for (let row = 0; row < rows.length; row += 1) {
    if (!rows[row]) continue;
    if ((curve.flags[row]! & FLAG.locked) !== 0) locked += 1;
    else open.push(row);
  }
  return { rows: open, locked };
}

export interface CurveChanges {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly lockedKeys: number;
}

/**
 * Changes each target's curve by its open rows; the same curve back means nothing changed there.
 * @param change gets the rows that are meant and open, at least one
 */
export function changeTargets(shot: Shot, selection: Selection, change: CurveChange): CurveChanges {
  return finish(changeTargetsOver(shot, selection, change));
}

type CurveChange = (curve: Curve, rows: readonly number[], channel: ChannelId) => Curve;

/** The same in slices, one target at a time, for changes that take long. */
export function* changeTargetsOver(
  shot: Shot,
  selection: Selection,
  change: CurveChange,
): Work<CurveChanges, Shot> {
  const changed = new Map<ChannelId, Curve>();
  let lockedKeys = 0;
  const targets = targetsOf(shot, selection);
  for (const [i, target] of targets.entries()) {
    if (i > 0) yield { done: i / targets.length, soFar: () => withCurves(shot, selection.layer, changed) };
    const { rows, locked } = openRows(target);
    lockedKeys += locked;
    if (rows.length === 0) continue;
    const after = change(target.curve, rows, target.channel);
    if (!sameShape(after, target.curve)) changed.set(target.channel, after);
  }
  return { shot: withCurves(shot, selection.layer, changed), touched: [...changed.keys()], lockedKeys };
}

export const lockedKeysFinding = (count: number): Finding[] =>
  count > 0 ? [finding('lockedKeys', {}, count)] : [];

/** What is said where a character is asked for that the shot does not have. */
export const whichCharacter = (shot: Shot): Finding =>
  finding(
    'whichCharacter',
    {},
    shot.characters.map(({ id }) => id),
  );

/** What is said of keys that stayed since a locked one stands where they would land. */
export const blockedFinding = (count: number): Finding[] =>
  count > 0 ? [finding('blockedByLocked', {}, count)] : [];

/**
 * Rows that can move without landing on a locked key. Those that would, stay, and so do those that would land on one that stays:
 * a blocked move loses no key.
 * @param landing the time at which a row comes to lie
 */
export function freeOfLocked(
  curve: Curve,
  rows: readonly number[],
  landing: (row: number) => number,
): number[] {
  if (curve.flags.every((flag) => (flag & FLAG.locked) === 0)) return [...rows];
  let free = [...rows];
  let standing = curve.times.filter((_, row) => (curve.flags[row]! & FLAG.locked) !== 0);
  while (standing.length > 0) {
    const blocked = free.filter((row) => standsAt(standing, landing(row)));
    if (blocked.length === 0) break;
    const stays = new Set(blocked);
    free = free.filter((row) => !stays.has(row));
    standing = Float64Array.from(blocked, (row) => curve.times[row]!);
  }
  return free;
}
