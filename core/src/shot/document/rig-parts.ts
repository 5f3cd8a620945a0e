/** Characters, nodes and chains: what the rig is made from. */
import { z } from 'zod';
import { isReservedName, LIMITS } from '../../base/limits.ts';
import { EULER_ORDERS } from '../../math/euler.ts';
import { NODE_KINDS, PARTS, SIDES } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import type { Chain } from '../../rig/rig.ts';
import type { Character } from '../shot.ts';
import { once, plainPart } from './part.ts';
import type { Around, Part, Wrong } from './part.ts';

const number = z.number().min(-LIMITS.number).max(LIMITS.number);
const vector = z.tuple([number, number, number]);
const turn = z.tuple([z.number(), z.number(), z.number(), z.number()]);

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
  channels: z.array(
    z
      .string()
      .regex(/^[^.]+$/)
      .refine((name) => !isReservedName(name), { error: 'no channel can have this name' }),
  ),
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
const nodes = z.array(node).min(1).max(LIMITS.nodes);

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

const character = z.looseObject({
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
});

/** Refuses a name that no node has. */
export function knownNode({ indexOf }: Around, wrong: Wrong, path: string, id: string | null): void {
  if (id !== null && indexOf(id) < 0) wrong(path, `there is no node “${id}”`);
}

export const charactersPart: Part<readonly Character[], z.infer<typeof character>[]> = plainPart(
  z.array(character),
) as never;

/** Zod's inferred lists are writable and the document's are not: the same data. */
export const nodesPart = {
  ...plainPart(nodes, {
    sentWhole: true,
    check(json, around, wrong) {
      const ids = new Set<string>();
      json.forEach((one, i) => {
        if (ids.has(one.id)) wrong(`nodes[${i}].id`, `“${one.id}” stands twice`);
        ids.add(one.id);
        if (Math.abs(Math.hypot(...one.rest.rotation) - 1) > 1e-3)
          wrong(`nodes[${i}].rest.rotation`, 'its length is not 1');
        if (new Set(one.channels).size < one.channels.length)
          wrong(`nodes[${i}].channels`, 'a name stands twice');
        knownNode(around, wrong, `nodes[${i}].parent`, one.parent);
        knownNode(around, wrong, `nodes[${i}].pair`, one.pair);
      });
    },
  }),
  held: once((value) => nodes.safeParse(value).success, 'nodes that no longer fit their form'),
} as unknown as Part<readonly Node[], z.infer<typeof nodes>>;

export const chainsPart = plainPart(z.array(chain), {
  sentWhole: true,
  check(json, around, wrong) {
    json.forEach((one, i) => {
      for (const end of ['root', 'middle', 'end', 'target', 'pole'] as const)
        knownNode(around, wrong, `chains[${i}].${end}`, one[end]);
      knownNode(around, wrong, `chains[${i}].tip.joint`, one.tip?.joint ?? null);
      knownNode(around, wrong, `chains[${i}].tip.follows`, one.tip?.follows ?? null);
    });
  },
}) as unknown as Part<readonly Chain[], z.infer<typeof chain>[]>;
