/**
 * A clip: copied keys, or whole curves, on their way to somewhere else. It is plain JSON, so that the system's clipboard
 * carries it between tabs; whatever comes back is parsed.
 */
import { z } from 'zod';
import { framesOf, inRange, MOST_FRAMES } from '../base/frame-range.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { finding, InputError } from '../base/finding.ts';
import type { Curve } from '../curve/curve.ts';
import { allRows, rebuild } from '../curve/rebuild.ts';
import { curveWithin } from '../curve/curve-through.ts';
import { partOf } from '../curve/part.ts';
import { addKeysKeepingShape } from '../curve/split.ts';
import { curveFromJson, curveSchema, curveToJson } from '../document/parts/curve-json.ts';
import { describeProblem } from '../document/describe-problem.ts';
import { stackOf } from './evaluation.ts';
import { targetsOf } from '../document/selection.ts';
import type { Selection, Target } from '../document/selection.ts';
import { rigOf } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';

export const clipSchema = z.looseObject({
  format: z.literal('kneader-keys'),
  version: z.literal(1),
  /** The frame that its first frame was. */
  start: z.number().min(-MOST_FRAMES).max(MOST_FRAMES),
  /** Frames from its first to its last. */
  length: z
    .number()
    .min(0)
    .max(2 * MOST_FRAMES),
  /** Whole curves land where they were; keys land at the play-head. */
  whole: z.boolean(),
  /** Curves by channel address, in the order in which they were chosen; frames count from the start. */
  curves: z.record(z.string(), curveSchema),
});
export type ClipJson = z.infer<typeof clipSchema>;

export interface Clip {
  readonly json: ClipJson;
  readonly curves: ReadonlyMap<ChannelId, Curve>;
}

/** Parses a clip; throws an `InputError` that says what is wrong. */
export function readClip(value: unknown): Clip {
  const parsed = clipSchema.safeParse(value);
  if (!parsed.success) throw new InputError(finding('badClip', {}, describeProblem(parsed.error)));
  const json = parsed.data;
  const curves = Object.entries(json.curves).map(
    ([id, curve]) => [id, curveFromJson(curve, `curves[“${id}”]`)] as const,
  );
  return { json, curves: new Map(curves) };
}

/** How near a copied curve keeps to what shows, in the channel's unit. */
const NEAR_ENOUGH = 0.01;

/** Whether layers make something else of what `copyKeys` would take. */
export function showsOtherwise(shot: Shot, selection: Selection): boolean {
  if (shot.layers.length === 0) return false;
  const { base, top } = stackOf(shot);
  return targetsOf(shot, selection).some(({ channel, count }) => {
    const c = rigOf(shot).channelIndex(channel);
    return count > 0 && c >= 0 && (selection.layer !== null || top[c] !== base[c]);
  });
}

/**
 * What shows of the selected channels over what is chosen, the marked range or the whole shot: as few keys as keep to it. Null where
 * there is nothing.
 */
export function copyWhatShows(shot: Shot, selection: Selection): ClipJson | null {
  const { top } = stackOf(shot);
  const rig = rigOf(shot);
  const targets = targetsOf(shot, selection).filter(({ count }) => count > 0);
  const channels = targets.map(({ channel }) => channel).filter((id) => rig.channelIndex(id) >= 0);
  if (channels.length === 0) return null;
  const chosen = Object.values(selection.keys).some((ids) => ids.length > 0);
  const range = chosen ? coveredBy(targets) : (selection.range ?? shot.range);
  const places = [...new Set([...framesOf(range), range.end])].sort((a, b) => a - b);
  const curves = channels.map((channel) => {
    const signal = top[rig.channelIndex(channel)]!;
    const shown = curveWithin(signal, places, NEAR_ENOUGH);
    const moved = rebuild(shown, null, (columns) =>
      columns.times.forEach((time, i) => (columns.times[i] = time - range.start)),
    );
    return [channel, curveToJson(moved)] as const;
  });
  return {
    format: 'kneader-keys',
    version: 1,
    start: range.start,
    length: range.end - range.start,
    whole: false,
    curves: Object.fromEntries(curves),
  };
}

/**
 * The selected keys, or whole curves where no key and no range is chosen; null where there is nothing. Channels that have no
 * key at an end of the copied range get one first, so that nothing drifts.
 */
export function copyKeys(shot: Shot, selection: Selection): ClipJson | null {
  const chosen = Object.values(selection.keys).some((ids) => ids.length > 0);
  // Over a range whatever is keyed anywhere shows something, repeats too.
  const targets = targetsOf(shot, selection).filter(
    ({ count }) => count > 0 || (!chosen && selection.range !== null),
  );
  if (targets.length === 0) return null;
  const whole = !chosen && selection.range === null;
  const range = !chosen && selection.range ? selection.range : coveredBy(targets);
  const curves = targets.map(({ channel, curve, rows }) => {
    if (!whole && !chosen) return [channel, curveToJson(partOf(curve, range))] as const;
    const kept = new Set(allRows(curve).filter((row) => rows[row] === 1));
    const ids = new Set([...kept].map((row) => curve.ids[row]!));
    const ended = whole ? curve : addKeysKeepingShape(curve, [range.start, range.end]);
    const known = new Set(curve.ids);
    return [channel, curveToJson(cut(ended, range, (id) => ids.has(id) || !known.has(id)))] as const;
  });
  return {
    format: 'kneader-keys',
    version: 1,
    start: range.start,
    length: range.end - range.start,
    whole,
    curves: Object.fromEntries(curves),
  };
}

function coveredBy(targets: readonly Target[]): FrameRange {
  let [start, end] = [Infinity, -Infinity];
  for (const { curve, rows } of targets) {
    for (let row = 0; row < rows.length; row += 1) {
      if (rows[row] === 0) continue;
      start = Math.min(start, curve.times[row]!);
      end = Math.max(end, curve.times[row]!);
    }
  }
  return { start, end };
}

function cut(curve: Curve, range: FrameRange, takes: (id: number) => boolean): Curve {
  const rows = allRows(curve).filter((row) => inRange(range, curve.times[row]!) && takes(curve.ids[row]!));
  return rebuild(curve, rows, (columns) => {
    for (let row = 0; row < rows.length; row += 1) columns.times[row]! -= range.start;
  });
}
