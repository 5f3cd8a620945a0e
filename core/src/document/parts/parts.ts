/**
 * The list of the document's parts. Shot files, the published schema, the browser's storage, the history's count, checks and the way
 * to the worker ask this list: a new kind of part is its own file and a line here, and a field of `Shot` without a line does not
 * compile.
 */
import { z } from 'zod';
import { rising } from '../../base/frames.ts';
import { LIMITS } from '../../base/limits.ts';
import { imagesOf, placesOf } from '../../base/time-pieces.ts';
import { byteLength } from '../../curve/curve.ts';
import { RELATION_KINDS } from '../../rig/relations/kinds.ts';
import { LAYER_KINDS } from '../../layers/kinds.ts';
import type { Shot } from '../shot.ts';
import type { PlacedCurve } from '../shot.ts';
import { actionsPart } from './actions-part.ts';
import { contactsPart } from './contacts-part.ts';
import { curvesPart, layersPart } from './layer-parts.ts';
import { markersPart, notesPart, selectionSetsPart, tagsPart } from './mark-parts.ts';
import { plainPart } from './part.ts';
import type { Part } from './part.ts';
import { sourcesPart } from './sources-part.ts';
import { charactersPart, massesPart, nodesPart, relationsPart } from './rig-parts.ts';
import { variantsPart } from './variants-part.ts';

type Field = keyof Omit<Shot, 'extras'>;
type Parts = { readonly [Name in Field]-?: Pick<Part<NonNullable<Shot[Name]>, never>, 'read'> };

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);
const frames = z.array(frame);

/** In the order of the file. */
const PARTS = {
  name: plainPart(z.string().min(1).max(LIMITS.name), { time: 'none' }),
  rate: plainPart(z.object({ numerator: z.number().positive(), denominator: z.number().positive() }), {
    time: 'edit',
    check: ({ numerator, denominator }, _, wrong) => {
      const rate = numerator / denominator;
      if (!(rate <= LIMITS.rate && rate >= 1 / LIMITS.rate))
        wrong('rate', `it must lie between 1/${LIMITS.rate} and ${LIMITS.rate} frames in a second`);
    },
  }),
  range: plainPart(z.object({ start: frame, end: frame }).describe('Frames, both ends included'), {
    time: 'edit',
    check: ({ start, end }, _, wrong) => {
      if (end < start) wrong('range', 'it ends before it starts');
    },
  }),
  characters: charactersPart,
  nodes: nodesPart,
  relations: relationsPart,
  curves: curvesPart,
  actions: actionsPart,
  layers: layersPart,
  variants: variantsPart,
  locked: plainPart(z.array(z.string()).describe('Channels that no edit changes'), { time: 'none' }),
  period: plainPart(
    z
      .number()
      .positive()
      .max(2 * LIMITS.frame)
      .describe('Of a shot that is a cycle its length in frames, wherever it ends'),
    {
      time(period, { pieces, range }) {
        const images = imagesOf(pieces, { start: range.start, end: range.start + period });
        return images.reduce((sum, { start, end }) => sum + end - start, 0) || period;
      },
    },
  ),
  poseColumns: plainPart(
    z
      .object({
        share: z.number().min(0).max(1).describe('Share of the keyed controls that have a key on a column'),
        added: frames.describe('Frames that are columns whatever the keys say'),
        removed: frames.describe('Frames that are none'),
      })
      .describe('How pose columns are found; the usual rule when left out'),
    {
      // A frame at which time was put in stands on both of its sides; whole frames stay whole.
      time(rule, { pieces }) {
        const carried = (all: readonly number[]) =>
          rising(
            all.flatMap((at) =>
              placesOf(pieces, at).map((place) => (Number.isInteger(at) ? Math.round(place) : place)),
            ),
          );
        const [added, removed] = [carried(rule.added), carried(rule.removed)];
        const same = String(added) === String(rule.added) && String(removed) === String(rule.removed);
        return same ? rule : { ...rule, added, removed };
      },
    },
  ),
  masses: massesPart,
  contacts: contactsPart,
  selectionSets: selectionSetsPart,
  markers: markersPart,
  notes: notesPart,
  tags: tagsPart,
  sources: sourcesPart,
} satisfies Parts;

/** Parts that a shot may be without. */
const OPTIONAL_NAMES = [
  'actions',
  'contacts',
  'markers',
  'masses',
  'notes',
  'period',
  'poseColumns',
  'selectionSets',
  'sources',
  'tags',
  'variants',
] as const satisfies Field[];
const OPTIONAL: ReadonlySet<string> = new Set(OPTIONAL_NAMES);

/** The same list for those who go through it: what is read from a part's own field fits that part. */
export const EVERY_PART = Object.entries(PARTS) as unknown as readonly (readonly [
  Field,
  Part<unknown, unknown>,
])[];

export const SHOT_VERSION = 3;

type OptionalField = (typeof OPTIONAL_NAMES)[number];
type JsonOf<P> = P extends { json: z.ZodType<infer Json> } ? Json : never;
export type ShotJson = {
  format: 'kneader-shot';
  version: typeof SHOT_VERSION;
} & { [Name in OptionalField]?: JsonOf<(typeof PARTS)[Name]> } & {
  [Name in Exclude<keyof typeof PARTS, OptionalField>]: JsonOf<(typeof PARTS)[Name]>;
};

const formOf = (which: 'json' | 'held') =>
  Object.fromEntries(
    EVERY_PART.map(([name, part]) => [name, OPTIONAL.has(name) ? part[which].optional() : part[which]]),
  );

/** The shot file's form: what `docs/shot-file.schema.json` publishes. */
export const shotSchema = z.looseObject({
  format: z.literal('kneader-shot'),
  version: z.literal(SHOT_VERSION),
  ...formOf('json'),
});

/** The form of a shot in memory. */
export const heldShot = z.object({ ...formOf('held'), extras: z.record(z.string(), z.unknown()) });

/** The JSON Schema that docs/ publishes. */
export function shotFileSchemaText(): string {
  const schema = {
    title: 'Kneader shot file',
    ...z.toJSONSchema(shotSchema, { io: 'input' }),
    $defs: {
      layerSettings: Object.fromEntries(
        LAYER_KINDS.map(({ kind, settings }) => [kind, z.toJSONSchema(settings, { io: 'input' })]),
      ),
      relationSettings: Object.fromEntries(
        RELATION_KINDS.map(({ kind, settings }) => [kind, z.toJSONSchema(settings, { io: 'input' })]),
      ),
    },
  };
  return `${JSON.stringify(schema, null, 2)}\n`;
}

/** Bytes of all curves of a shot. */
export function bytesOf(shot: Shot): number {
  let bytes = 0;
  for (const { curve } of allCurves(shot)) bytes += byteLength(curve);
  return bytes;
}

/** Every curve that a shot holds, whatever holds it: what counts bytes asks this, and not the layers. */
export function* allCurves(shot: Shot): Generator<PlacedCurve> {
  for (const [name, { curves }] of EVERY_PART) if (curves) yield* curves(shot[name], shot);
}

/** Those whose frames are the shot's: what looks for keys at frames asks this. */
export function* timedCurves(shot: Shot): Generator<PlacedCurve> {
  for (const [name, { curves, ownTime }] of EVERY_PART)
    if (curves && !ownTime) yield* curves(shot[name], shot);
}
