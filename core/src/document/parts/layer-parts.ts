/** The curves of the base, and the layers over them. */
import { isKeyedWeight } from '../../layers/weight.ts';
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { sameShape } from '../../curve/curve.ts';
import { layerThroughTime } from '../../layers/through-time.ts';
import { isKeyed, kindOf, LAYER_KINDS } from '../../layers/kinds.ts';
import type { CurveTable, Layer } from '../../layers/layer.ts';
import { overlaidInTime } from '../../layers/time-filters.ts';
import { problemOf } from '../describe-problem.ts';
import { curvesIn } from '../shot.ts';
import type { ChannelId } from '../shot.ts';
import { curveFromJson, curveSchema, curveToJson } from './curve-json.ts';
import type { CurveJson } from './curve-json.ts';
import { curvesByAddress, heldTable, readTable, writeTable } from './curve-table.ts';
import { sameList } from './going.ts';
import { heldCurve } from './part.ts';
import { layersOfPasses } from '../versions/passes-of-version-1.ts';
import type { OldPass } from '../versions/passes-of-version-1.ts';
import type { Part, Wrong } from './part.ts';
import { knownNode } from './rig-parts.ts';

export const curvesPart: Part<CurveTable, Record<ChannelId, CurveJson>> = {
  older: 'as ever',
  time: 'edit',
  json: curvesByAddress,
  held: heldTable,
  read: (json, around) => readTable(json, around, 'curves'),
  write: writeTable,
  *curves(table, { nodes }) {
    for (const [channel, curve] of curvesIn(table, nodes)) yield { pass: null, channel, curve };
  },
};

const frames = z
  .number()
  .min(0)
  .max(2 * LIMITS.frame);
const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

const layer = z.looseObject({
  id: z.string().min(1),
  kind: z
    .string()
    .min(1)
    .describe(
      `${LAYER_KINDS.map(({ kind }) => kind).join(', ')}; one of another kind is kept as it is, and does nothing`,
    ),
  name: z.string(),
  colour: z.number().int().min(0).max(7),
  members: z.array(z.string()).describe('Ids of the nodes that it changes'),
  channels: z
    .array(z.string())
    .nullable()
    .default(null)
    .describe(
      "The members' channels that it changes, by name for all of them or by address for one; null is all that its kind takes",
    ),
  muted: z.boolean(),
  solo: z.boolean(),
  locked: z.boolean(),
  weight: curveSchema,
  range: z
    .object({ start: frame, end: frame, rampIn: frames, rampOut: frames })
    .nullable()
    .describe('Where it counts, and over how many frames it comes in and goes out'),
  settings: z.record(z.string(), z.unknown()).describe('As its kind says, see “layerSettings”'),
  curves: curvesByAddress.describe('What is keyed on it, by channel address'),
});
type LayerJson = z.input<typeof layer>;

export const layersPart: Part<readonly Layer[], LayerJson[]> = {
  time(layers, going) {
    const [across, stay]: string[][] = [[], []];
    const ids = new Set(layers.map(({ id }) => id));
    const carried = layers.flatMap((layer): Layer[] => {
      if (layer.locked) {
        const holdsFrames =
          layer.range !== null || isKeyedWeight(layer.weight) || kindOf(layer)?.time.is === 'inPiece';
        if (holdsFrames) going.say(finding('lockedPass', {}, layer.name));
        return [layer];
      }
      const { taken, stays, looksAcross } = layerThroughTime(layer, going.pieces, going.range, going.weight);
      if (looksAcross) across!.push(layer.name);
      if (stays) stay!.push(layer.name);
      const copies = taken.map((one, i) => {
        const id = i === 0 ? layer.id : unusedId(ids, layer.id);
        return { id, ...one };
      });
      going.copies.set(
        layer.id,
        copies.map(({ id, weight }) => ({ id, weight })),
      );
      return copies.map(({ id, weight, settings, range }, i) =>
        asItWas(layer, {
          ...layer,
          ...{ id, range, settings, weight: weight(layer.weight) },
          name: i === 0 ? layer.name : `${layer.name} (${i + 1})`,
        }),
      );
    });
    if (across!.length > 0) going.say(finding('looksAcross', {}, across!));
    if (stay!.length > 0) going.say(finding('staysInTime', {}, stay!));
    return sameList(layers, carried);
  },
  older: [{ until: 1, field: 'passes', becomes: (passes: readonly OldPass[]) => layersOfPasses(passes) }],
  json: z.array(layer).max(LIMITS.layers),
  held: z.array(layer.extend({ weight: heldCurve, curves: heldTable })).max(LIMITS.layers),
  check(layers, around, wrong) {
    layers.forEach((one, i) => {
      const at = `layers[${i}]`;
      one.members.forEach((member, m) => knownNode(around, wrong, `${at}.members[${m}]`, member));
      if (new Set(one.members).size < one.members.length) wrong(`${at}.members`, 'a node stands twice');
      if (one.weight.times.length === 0) wrong(`${at}.weight`, 'it has no key');
      if (one.range && one.range.end < one.range.start) wrong(`${at}.range`, 'it ends before it starts');
      const { settings } = kindOf(one) ?? {};
      if (settings) checkSettings(settings, one.settings, `${at}.settings`, wrong);
      if (kindOf(one) && !isKeyed(one) && Object.keys(one.curves).length > 0)
        wrong(`${at}.curves`, 'nothing can be keyed on a filter');
    });
    const crowded = overlaidInTime(layers);
    if (crowded !== null)
      wrong('layers', `more than ${LIMITS.timeFilters} filters move time over “${crowded}”`);
    if (new Set(layers.map(({ id }) => id)).size < layers.length) wrong('layers', 'two layers share an id');
  },
  read: (layers, around) =>
    layers.map((json, i) => ({
      ...json,
      channels: json.channels ?? null,
      // Settings that a file leaves out are what they are by default.
      settings: kindOf(json)?.settings.loose().parse(json.settings) ?? json.settings,
      weight: curveFromJson(json.weight, `layers[${i}].weight`),
      curves: readTable(json.curves, around, `layers[${i}].curves`),
    })),
  write: (layers, around) =>
    layers.map(
      ({
        id,
        kind,
        name,
        colour,
        members,
        channels,
        muted,
        solo,
        locked,
        weight,
        range,
        settings,
        curves,
        ...rest
      }) => ({
        // Always in this order, however a layer was made.
        ...{
          id,
          kind,
          name,
          colour,
          members: [...members],
          channels: channels && [...channels],
          muted,
          solo,
          locked,
        },
        ...{ weight: curveToJson(weight), range, settings, curves: writeTable(curves, around) },
        ...rest,
      }),
    ),
  *curves(layers, { nodes }) {
    for (const { id, curves, weight } of layers) {
      for (const [channel, curve] of curvesIn(curves, nodes)) yield { pass: id, channel, curve };
      yield { pass: id, channel: null, curve: weight };
    }
  },
};

/** The layer itself where nothing of it is another. */
function asItWas(before: Layer, after: Layer): Layer {
  const sameRange = JSON.stringify(before.range) === JSON.stringify(after.range);
  const sameSettings = JSON.stringify(before.settings) === JSON.stringify(after.settings);
  if (before.id === after.id && sameRange && sameSettings && sameShape(before.weight, after.weight))
    return before;
  return {
    ...after,
    range: sameRange ? before.range : after.range,
    settings: sameSettings ? before.settings : after.settings,
  };
}

/** An id that none has; it is taken from then on. */
function unusedId(ids: Set<string>, like: string): string {
  for (let number = 2; ; number += 1) {
    const id = `${like}-${number}`;
    if (ids.has(id)) continue;
    ids.add(id);
    return id;
  }
}

function checkSettings(schema: z.ZodObject, given: unknown, at: string, wrong: Wrong): void {
  const parsed = schema.safeParse(given);
  if (parsed.success) return;
  const { path, words } = problemOf(parsed.error);
  wrong(path ? `${at}.${path}` : at, words);
}
