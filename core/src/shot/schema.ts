/** The shot file's form, version 1: what `docs/shot-file.schema.json` publishes. */
import { z } from 'zod';
import { EULER_ORDERS } from '../math/euler.ts';
import { NODE_KINDS, PARTS, SIDES } from '../rig/node.ts';
import { curveSchema } from './curve-json.ts';
import { PASS_KINDS } from './shot.ts';

export const SHOT_VERSION = 1;

const vector = z.tuple([z.number(), z.number(), z.number()]);
const turn = z.tuple([z.number(), z.number(), z.number(), z.number()]);
const range = z.object({ start: z.number(), end: z.number() });
const curves = z.record(z.string(), curveSchema).describe('By channel address, node.channel');

const solid = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('capsule'),
    from: vector,
    to: vector,
    radiusFrom: z.number().positive(),
    radiusTo: z.number().positive(),
    colour: z.string(),
  }),
  z.object({ kind: z.literal('ellipsoid'), centre: vector, radii: vector, colour: z.string() }),
  z.object({ kind: z.literal('box'), centre: vector, size: vector, colour: z.string() }),
]);

const node = z.looseObject({
  id: z.string().min(1),
  parent: z.string().nullable(),
  kind: z.enum(NODE_KINDS),
  rest: z.object({
    translation: vector.describe("cm, in the parent's axes"),
    rotation: turn.describe('Quaternion x, y, z, w'),
    scale: vector,
  }),
  order: z.enum(EULER_ORDERS).describe('xyz means R = Rx·Ry·Rz'),
  channels: z.array(z.string().regex(/^[^.]+$/)),
  side: z.enum(SIDES),
  pair: z.string().nullable(),
  part: z.enum(PARTS),
  character: z.string().nullable(),
  solids: z.array(solid),
  flipSigns: z
    .record(z.string(), z.union([z.literal(1), z.literal(-1)]))
    .optional()
    .describe(
      'Signs by channel set by hand: a flip copies each channel with its sign; left out, it is computed',
    ),
});

const chain = z.looseObject({
  id: z.string(),
  root: z.string(),
  middle: z.string(),
  end: z.string(),
  target: z.string(),
  pole: z.string(),
  blend: z.string(),
  tip: z.object({ joint: z.string(), follows: z.string() }).nullable(),
});

const pass = z.looseObject({
  id: z.string().min(1),
  name: z.string(),
  kind: z.enum(PASS_KINDS),
  colour: z.number().int().min(0).max(7),
  members: z.array(z.string()),
  muted: z.boolean(),
  solo: z.boolean(),
  locked: z.boolean(),
  weight: curveSchema,
  rotations: z.enum(['channels', 'orientations']),
  bookends: range.nullable(),
  curves,
});

const columnRule = z.object({
  share: z.number().min(0).max(1).describe('Share of the keyed controls that have a key on a column'),
  added: z.array(z.number()).describe('Frames that are columns whatever the keys say'),
  removed: z.array(z.number()).describe('Frames that are none'),
});

export const shotSchema = z.looseObject({
  format: z.literal('kneader-shot'),
  version: z.literal(SHOT_VERSION),
  name: z.string().min(1).max(200),
  rate: z.object({ numerator: z.number().positive(), denominator: z.number().positive() }),
  range: range.describe('Frames, both ends included'),
  characters: z.array(
    z.looseObject({
      id: z.string(),
      name: z.string(),
      facing: z
        .number()
        .min(-360)
        .max(360)
        .optional()
        .describe(
          'Where it faces at rest, degrees about the upright from +z toward +x; left out, as its sides say',
        ),
    }),
  ),
  nodes: z.array(node).min(1).max(20000),
  chains: z.array(chain),
  curves,
  passes: z.array(pass),
  locked: z.array(z.string()).describe('Channels that no edit changes'),
  poseColumns: columnRule.optional().describe('How pose columns are found; the usual rule when left out'),
});
/** The JSON Schema that docs/ publishes. */
export function shotFileSchemaText(): string {
  const schema = { title: 'Kneader shot file', ...z.toJSONSchema(shotSchema, { io: 'input' }) };
  return `${JSON.stringify(schema, null, 2)}\n`;
}

export type ShotJson = z.infer<typeof shotSchema>;
