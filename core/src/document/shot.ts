/**
 * The document. Plain readonly data; an edit makes a new shot that shares all that it does not change.
 *
 * Curves stand in a table beside the nodes: `curves[i][name]` is the curve of channel `name` of `nodes[i]`.
 * Changing one channel copies one row and one list of pointers, however many channels there are.
 */
import { EMPTY_CURVE, sameShape } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { refuse } from '../base/finding.ts';
import { isKeyed } from '../layers/kinds.ts';
import { compileRig } from '../rig/rig.ts';
import type { Rig } from '../rig/rig.ts';
import type { Relation } from '../rig/relations/relation.ts';
import type { Node, Vector } from '../rig/node.ts';
import type { Source } from './sources.ts';
import { buildCurve } from '../curve/rebuild.ts';
import type { CurveTable, Layer, NodeCurves, StoredAction } from '../layers/layer.ts';

/** `node.channel`, `hand_l.rz`; `WEIGHT` on a layer. */
export type ChannelId = string;

/** In place of a channel: how much of a layer counts. Its keys are chosen and edited like those of any other curve. */
export const WEIGHT: ChannelId = '.weight';

export interface Rate {
  /** Frames per second as a fraction: 24/1, 30000/1001. */
  readonly numerator: number;
  readonly denominator: number;
}

export interface Character {
  readonly id: string;
  readonly name: string;
  /** Where it faces at rest, degrees about the upright from +z toward +x; left out, as its sides say. */
  readonly facing?: number;
  /** How tall it is meant to stand, cm, beside what its numbers say; left out, as they say. */
  readonly height?: number;
}

/** What a node weighs, set by hand. */
export interface NodeMass {
  readonly node: string;
  /** Of the mass of its whole character, 0…1; the other parts share the rest as ever. */
  readonly share: number;
}

/** How pose columns are found, and which were set by hand; `pose-columns.ts` reads it. */
export interface ColumnRule {
  /** A frame is a column when at least this share of the keyed controls has a key there, 0…1. */
  readonly share: number;
  /** Frames that are columns, or are none, whatever the keys say. */
  readonly added: readonly number[];
  readonly removed: readonly number[];
}

export const DEFAULT_COLUMNS: ColumnRule = { share: 0.5, added: [], removed: [] };

/** How a layer counts in a variant. */
export interface LayerState {
  readonly layer: string;
  readonly muted: boolean;
  readonly solo: boolean;
  readonly weight: Curve;
}

/** A named state of the stack; `variants.ts` puts a shot into it. */
export interface Variant {
  readonly id: string;
  readonly name: string;
  /** Of every layer that there was, from bottom to top. */
  readonly states: readonly LayerState[];
}

/** A span in which a point of a body stands. */
export interface ContactHold {
  /** On which of its frames it stands as it lies. */
  readonly lies: 'first' | 'middle' | 'last';
  /** Frames in which it comes over and goes. */
  readonly ramp: number;
  /** What of its turn stands too: where it heads about the upright, or all; left out, none. */
  readonly turn?: 'heading' | 'whole';
}

export interface Contact extends FrameRange {
  readonly id: string;
  readonly node: string;
  /** What of it stands: `heel`, `ball`, `palm`. */
  readonly point: string;
  /** cm, in the node's own axes. */
  readonly at: Vector;
  /** Set by hand: it stays when contacts are found anew. */
  readonly byHand: boolean;
  /** How it is held, where it is. */
  readonly hold?: ContactHold;
  /** The placement that brings it, of one that is not the shot's own; in no file. */
  readonly block?: string;
}

/** Controls that are chosen together. */
export interface SelectionSet {
  readonly id: string;
  readonly name: string;
  readonly nodes: readonly string[];
  /** Which digit chooses it, 1…9; left out, none does. */
  readonly digit?: number | undefined;
}

/** A frame with a name. */
export interface Marker {
  readonly id: string;
  readonly name: string;
  readonly frame: number;
  /** Which of the eight colours of passes, 0…7. */
  readonly colour: number;
}

/** A sentence about a frame or some frames, for whoever works on the shot next. */
export interface Note {
  readonly id: string;
  readonly text: string;
  /** Both ends included; the same for one frame. */
  readonly start: number;
  readonly end: number;
  /** Who said it; empty where nobody is named. */
  readonly by: string;
  readonly done: boolean;
}

export interface Shot {
  readonly name: string;
  readonly rate: Rate;
  readonly range: FrameRange;
  readonly characters: readonly Character[];
  readonly nodes: readonly Node[];
  /** What places nodes by others, in the order in which they hold. */
  readonly relations: readonly Relation[];
  readonly curves: CurveTable;
  /** What lies over the base, from bottom to top. */
  readonly layers: readonly Layer[];
  /** What placements among the layers show; left out, there is none. */
  readonly actions?: readonly StoredAction[];
  /** Named states of the layers; left out, there are none. */
  readonly variants?: readonly Variant[];
  /** Channels that no edit changes. */
  readonly locked: readonly ChannelId[];
  /** Of a shot that is a cycle its length, frames, wherever the shot ends; left out, its last frame is its first again. */
  readonly period?: number;
  /** Left out: the usual rule, nothing set by hand. */
  readonly poseColumns?: ColumnRule;
  /** What nodes weigh that were set by hand; left out, all as the table of body parts says. */
  readonly masses?: readonly NodeMass[];
  /** Spans in which points of bodies stand, in the order of time; left out, none are known. */
  readonly contacts?: readonly Contact[];
  /** Controls that are chosen together; left out, there are none. */
  readonly selectionSets?: readonly SelectionSet[];
  /** Frames with names, in the order of time; left out, there are none. */
  readonly markers?: readonly Marker[];
  /** What people said about frames of it, in the order of their frames; left out, nothing. */
  readonly notes?: readonly Note[];
  /** Words by which the shot is found; left out, there are none. */
  readonly tags?: readonly string[];
  /** The files that its characters came in; left out, they came in none. */
  readonly sources?: readonly Source[];
  /** Fields of the file that this version does not know; written back as they came. */
  readonly extras: Readonly<Record<string, unknown>>;
}

export function rigOf(shot: Shot): Rig {
  return compileRig(shot.nodes, shot.relations);
}

export function framesPerSecond(rate: Rate): number {
  return rate.numerator / rate.denominator;
}

/** The address cut in two; channel names hold no dot, node ids may. */
export function splitChannel(id: ChannelId): { node: string; name: string } {
  const dot = id.lastIndexOf('.');
  return { node: id.slice(0, dot), name: id.slice(dot + 1) };
}

/** The curve of a channel on the base (`pass` null) or on a layer; the empty curve where there is none. */
export function curveOf(shot: Shot, pass: string | null, id: ChannelId): Curve {
  if (id === WEIGHT) return (pass !== null && layerOf(shot, pass)?.weight) || EMPTY_CURVE;
  const { node, name } = splitChannel(id);
  const row = rigOf(shot).indexOf(node);
  return tableOf(shot, pass)[row]?.[name] ?? EMPTY_CURVE;
}

export function layerOf(shot: Shot, id: string): Layer | null {
  return shot.layers.find((pass) => pass.id === id) ?? null;
}

function tableOf(shot: Shot, pass: string | null): CurveTable {
  return pass === null ? shot.curves : (layerOf(shot, pass)?.curves ?? []);
}

/** The shot with some curves in place of others; an empty curve takes the channel's curve away, and lets all of a layer count. Refuses keys on a filter. */
export function withCurves(shot: Shot, pass: string | null, changed: ReadonlyMap<ChannelId, Curve>): Shot {
  const weight = changed.get(WEIGHT);
  if (weight && pass !== null && weight !== curveOf(shot, pass, WEIGHT)) {
    const rest = new Map(changed);
    rest.delete(WEIGHT);
    const own = weight.times.length > 0 ? weight : constantCurve(1, shot.range.start);
    return withCurves(
      withLayer(shot, pass, (was) => ({ ...was, weight: own })),
      pass,
      rest,
    );
  }
  const rig = rigOf(shot);
  const before = tableOf(shot, pass);
  let after: (NodeCurves | undefined)[] | null = null;
  for (const [id, curve] of changed) {
    if (id === WEIGHT) continue;
    const { node, name } = splitChannel(id);
    const row = rig.indexOf(node);
    if (curve === (before[row]?.[name] ?? EMPTY_CURVE)) continue;
    after ??= before.slice();
    const entries = { ...after[row] };
    if (curve.times.length === 0) delete entries[name];
    else entries[name] = curve;
    after[row] = entries;
  }
  if (after === null) return shot;
  const curves = after;
  if (pass === null) return { ...shot, curves };
  const layer = layerOf(shot, pass);
  if (layer && !isKeyed(layer)) refuse('holdsNoKeys', {}, layer.name);
  return withLayer(shot, pass, (was) => ({ ...was, curves }));
}

/** The shot without layers, and without the actions that only they showed. */
export function withoutLayers(shot: Shot, goes: (layer: Layer) => boolean): Shot {
  const gone = new Set(shot.layers.filter(goes).map(({ id }) => id));
  const layers = shot.layers.flatMap((layer): Layer[] => {
    if (gone.has(layer.id)) return [];
    const { crosses } = layer.settings;
    // Nobody who takes its id later is meant.
    return typeof crosses === 'string' && gone.has(crosses)
      ? [{ ...layer, settings: { ...layer.settings, crosses: null } }]
      : [layer];
  });
  return withActionsPlaced({ ...shot, layers });
}

/** The shot without actions that no layer shows. */
export function withActionsPlaced(shot: Shot): Shot {
  if (!shot.actions) return shot;
  const placed = new Set(shot.layers.map(({ settings }) => settings['action']));
  const actions = shot.actions.filter(({ id }) => placed.has(id));
  if (actions.length === shot.actions.length) return shot;
  const { actions: _, ...rest } = shot;
  return actions.length > 0 ? { ...rest, actions } : rest;
}

/** The shot with one layer changed. */
export function withLayer(shot: Shot, id: string, change: (layer: Layer) => Layer): Shot {
  return { ...shot, layers: shot.layers.map((layer) => (layer.id === id ? change(layer) : layer)) };
}

/** What of a layer holds frames, its own curves aside. */
export type LayerTimes = Pick<Layer, 'weight' | 'range'> & Partial<Pick<Layer, 'settings'>>;

/** The shot with its open layers' weights, ranges and settings changed; the same object where nothing is. */
export function withLayerTimes(shot: Shot, change: (layer: Layer) => LayerTimes): Shot {
  const layers = shot.layers.map((layer) => {
    if (layer.locked) return layer;
    const { weight, range, settings = layer.settings } = change(layer);
    const sameRange = String(Object.values(range ?? {})) === String(Object.values(layer.range ?? {}));
    if (sameShape(weight, layer.weight) && sameRange && settings === layer.settings) return layer;
    return { ...layer, weight, range: sameRange ? layer.range : range, settings };
  });
  return layers.some((layer, i) => layer !== shot.layers[i]) ? { ...shot, layers } : shot;
}

/** The shot with columns set by hand at other frames; the same object where they stay. */
export function withColumnFrames(shot: Shot, change: (frames: readonly number[]) => readonly number[]): Shot {
  const rule = shot.poseColumns;
  if (!rule) return shot;
  const [added, removed] = [rule.added, rule.removed].map((frames) =>
    [...new Set(change(frames))].sort((a, b) => a - b),
  ) as [number[], number[]];
  if (String(added) === String(rule.added) && String(removed) === String(rule.removed)) return shot;
  return { ...shot, poseColumns: { ...rule, added, removed } };
}

/** Every channel that has a curve on the base or on a pass, with that curve. */
export function* curvesIn(table: CurveTable, nodes: readonly Node[]): Generator<[ChannelId, Curve]> {
  for (let row = 0; row < nodes.length; row += 1) {
    const entries = table[row];
    if (!entries) continue;
    for (const name of nodes[row]!.channels) {
      const curve = entries[name];
      if (curve) yield [`${nodes[row]!.id}.${name}`, curve];
    }
  }
}

/** A curve of a shot and whose it is; `channel` null is the weight of the pass. */
export interface PlacedCurve {
  readonly pass: string | null;
  readonly channel: ChannelId | null;
  readonly curve: Curve;
}

/** The number of keys of the base curves. */
export function keyCount(shot: Shot): number {
  let count = 0;
  for (const [, curve] of curvesIn(shot.curves, shot.nodes)) count += curve.times.length;
  return count;
}

/** A curve that is `value` at all times: one key. */
export function constantCurve(value: number, frame = 0): Curve {
  return buildCurve(1, (columns) => {
    columns.times[0] = frame;
    columns.values[0] = value;
  });
}

/** An empty shot over a rig. */
export function newShot(
  name: string,
  nodes: readonly Node[],
  relations: readonly Relation[],
  rate: Rate,
  range: FrameRange,
): Shot {
  return {
    name,
    rate,
    range,
    characters: [],
    nodes,
    relations,
    curves: [],
    layers: [],
    locked: [],
    extras: {},
  };
}
