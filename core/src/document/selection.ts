/**
 * What an edit acts on. The narrowest part that is filled counts: keys, else channels, else the channels
 * of the nodes; `range` confines any of them; `pass` says on which layer.
 */
import { z } from 'zod';
import { bisectRight } from '../base/bisect.ts';
import { inRange } from '../base/frame-range.ts';
import type { FrameRange } from '../base/frame-range.ts';
import type { Curve } from '../curve/curve.ts';
import { isKeyed } from '../layers/kinds.ts';
import { curveOf, layerOf, rigOf, WEIGHT } from './shot.ts';
import type { ChannelId, Shot } from './shot.ts';

export interface Selection {
  readonly nodes: readonly string[];
  readonly channels: readonly ChannelId[];
  /** Ids of the chosen keys by channel. */
  readonly keys: Readonly<Record<ChannelId, readonly number[]>>;
  readonly range: FrameRange | null;
  /** The layer that is meant: the pass whose curves it is about, or a filter; null is the base. */
  readonly layer: string | null;
}

/** The form of a selection that comes from storage; in what was stored long ago the layer is called the pass. */
export const selectionSchema = z.preprocess(
  (stored) =>
    typeof stored === 'object' && stored !== null && 'pass' in stored
      ? { layer: stored.pass, ...stored }
      : stored,
  z.object({
    nodes: z.array(z.string()),
    channels: z.array(z.string()),
    keys: z.record(z.string(), z.array(z.number())),
    range: z.object({ start: z.number(), end: z.number() }).nullable(),
    layer: z.string().nullable(),
  }),
);

export const NOTHING: Selection = { nodes: [], channels: [], keys: {}, range: null, layer: null };

/** A channel that is meant, its curve, and which of its keys. */
export interface Target {
  readonly channel: ChannelId;
  readonly curve: Curve;
  /** 1 for each row that is meant; kept, and not to be written to. */
  readonly rows: Uint8Array;
  /** How many rows are meant. */
  readonly count: number;
}

/** The channels that the selection means, in the shot's order; unknown ones are left out. */
export function selectedChannels(shot: Shot, selection: Selection): ChannelId[] {
  const rig = rigOf(shot);
  const withKeys = Object.keys(selection.keys).filter((id) => selection.keys[id]!.length > 0);
  if (withKeys.length > 0) return withKeys.filter((id) => rig.channelIndex(id) >= 0);
  if (selection.channels.length > 0) return selection.channels.filter((id) => rig.channelIndex(id) >= 0);
  return selection.nodes.flatMap((node) => {
    const row = rig.indexOf(node);
    return row < 0 ? [] : rig.nodes[row]!.channels.map((name) => `${node}.${name}`);
  });
}

/** Whether the weight of the layer that is worked on is chosen: its keys, or all of it. */
export function meansWeight({ layer, keys, channels }: Selection): boolean {
  if (layer === null) return false;
  const keyed = Object.values(keys).some((ids) => ids.length > 0);
  return keyed ? (keys[WEIGHT]?.length ?? 0) > 0 : channels.includes(WEIGHT);
}

/** The channels that the selection means, and beside them the weight of the layer where that is chosen: whatever is a curve. */
export function selectedCurves(shot: Shot, selection: Selection): ChannelId[] {
  const channels = selectedChannels(shot, selection);
  return meansWeight(selection) ? [...channels, WEIGHT] : channels;
}

/** The selection as it can stand: a layer that holds no keys is worked on for its strength alone, and the base has none. */
export function settledSelection(shot: Shot, selection: Selection): Selection {
  const layer = selection.layer === null ? null : layerOf(shot, selection.layer);
  if (layer ? isKeyed(layer) || meansWeight(selection) : !selection.channels.includes(WEIGHT))
    return selection;
  return onLayer(selection, null);
}

/** The selection for work on another layer: the keys of one are none of the other. */
export function onLayer(selection: Selection, layer: string | null): Selection {
  return { ...selection, layer, keys: {}, channels: selection.channels.filter((id) => id !== WEIGHT) };
}

/** The selection without keys that the shot does not have; the same object where all are there. */
export function withLivingKeys(shot: Shot, selection: Selection): Selection {
  let gone = false;
  const keys = Object.entries(selection.keys).flatMap(([channel, ids]) => {
    const known = new Set(curveOf(shot, selection.layer, channel).ids);
    const living = ids.filter((id) => known.has(id));
    gone ||= living.length < ids.length;
    return living.length > 0 ? [[channel, living] as const] : [];
  });
  return gone ? { ...selection, keys: Object.fromEntries(keys) } : selection;
}

/** Whether any key is meant. */
export function hasTargets(shot: Shot, selection: Selection): boolean {
  return selectedCurves(shot, selection).some(
    (channel) => (targetOf(shot, selection, channel)?.count ?? 0) > 0,
  );
}

/** The channels that have keys, with the rows that are meant. */
export function targetsOf(shot: Shot, selection: Selection): Target[] {
  return selectedCurves(shot, selection).flatMap((channel) => targetOf(shot, selection, channel) ?? []);
}

/** Asked by every panel and picture about the same choice, which may be of millions. */
const chosenKept = new WeakMap<readonly number[], { readonly ids: Uint32Array; readonly rows: Uint8Array }>();

/** 1 for each row of a curve whose key is chosen; kept by the choice, and not to be written to. */
export function chosenRows({ ids }: Curve, chosen: readonly number[]): Uint8Array {
  const known = chosenKept.get(chosen);
  if (known?.ids === ids) return known.rows;
  const rows = new Uint8Array(ids.length);
  // A choice mostly stands in the order of the keys: then one pass finds it.
  let next = 0;
  for (let row = 0; row < ids.length && next < chosen.length; row += 1) {
    if (ids[row] !== chosen[next]) continue;
    rows[row] = 1;
    next += 1;
  }
  if (next < chosen.length) {
    const meant = new Set(chosen);
    for (let row = 0; row < ids.length; row += 1) rows[row] = meant.has(ids[row]!) ? 1 : 0;
  }
  chosenKept.set(chosen, { ids, rows });
  return rows;
}

function targetOf(shot: Shot, selection: Selection, channel: ChannelId): Target | null {
  const curve = curveOf(shot, selection.layer, channel);
  if (curve.times.length === 0) return null;
  const rows = selectedRows(curve, selection, channel);
  let count = 0;
  for (let row = 0; row < rows.length; row += 1) count += rows[row]!;
  return { channel, curve, rows, count };
}

function selectedRows(curve: Curve, selection: Selection, channel: ChannelId): Uint8Array {
  const { range } = selection;
  const chosen = selection.keys[channel];
  const picked = chosen && chosen.length > 0 ? chosenRows(curve, chosen) : null;
  if (picked && range === null) return picked;
  if (picked && range !== null)
    return picked.map((meant, row) => (inRange(range, curve.times[row]!) ? meant : 0));
  const rows = new Uint8Array(curve.times.length);
  if (range === null) return rows.fill(1);
  return rows.fill(
    1,
    bisectRight(curve.times, range.start - 1e-9),
    bisectRight(curve.times, range.end + 1e-9),
  );
}
