/** Characters, nodes and relations: what the rig is made from. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { isReservedName, LIMITS } from '../../base/limits.ts';
import { EULER_ORDERS } from '../../math/euler.ts';
import { NODE_KINDS, PARTS, SIDES } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { relationKindOf, RELATION_KINDS } from '../../rig/relations/kinds.ts';
import { channelsOfRelation, readsOf, writesOf } from '../../rig/relations/reads-and-writes.ts';
import type { Chain } from '../../rig/relations/reach.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import type { Character, NodeMass } from '../shot.ts';
import { describeProblem } from '../describe-problem.ts';
import { relationsOfChains } from '../versions/chains-of-version-2.ts';
import { sameList } from './going.ts';
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
  choices: z
    .array(z.string())
    .optional()
    .describe('Channels that say which one, and are no quantities; those that relations name are so anyway'),
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

const address = z.string().min(1).nullable();
const relation = z.looseObject({
  id: z.string().min(1),
  kind: z
    .string()
    .min(1)
    .describe(`One of ${RELATION_KINDS.map(({ kind }) => kind).join(', ')}; others are kept, and do nothing`),
  node: z.string().describe('What it places; of a reach the end of the limb'),
  targets: z
    .array(
      z.object({
        node: z.string().nullable().describe('Null is the world'),
        offset: z
          .object({
            matrix: z.array(number).length(16).describe('Column-major'),
            turn: turn.describe('The orientation in it'),
          })
          .describe("From the target's axes to what the node is carried by"),
        share: address.describe('The channel that says how much it counts beside the others; null counts 1'),
      }),
    )
    .max(LIMITS.targets),
  weight: address.describe('The channel that says how much of it holds, 0 to 1; null is all of it'),
  switch: address.describe('The stepped channel that says which one target holds, by its place in the list'),
  settings: z.record(z.string(), z.unknown()),
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
  height: z
    .number()
    .positive()
    .max(LIMITS.number)
    .optional()
    .describe('How tall it is meant to stand, cm; left out, as its numbers say'),
});

/** Refuses a name that no node has. */
export function knownNode({ indexOf }: Around, wrong: Wrong, path: string, id: string | null): void {
  if (id !== null && indexOf(id) < 0) wrong(path, `there is no node “${id}”`);
}

export const charactersPart = {
  ...plainPart(z.array(character), { time: 'none' }),
  // In the order of the schema, whichever edit set what.
  write: (characters: readonly Character[]) =>
    characters.map(({ id, name, facing, height, ...more }) => ({
      ...{ id, name },
      ...(facing === undefined ? {} : { facing }),
      ...(height === undefined ? {} : { height }),
      ...more,
    })),
} as unknown as Part<readonly Character[], z.infer<typeof character>[]>;

const mass = z.object({
  node: z.string(),
  share: z.number().min(0).max(1).describe('Of the mass of its whole character'),
});

export const massesPart: Part<readonly NodeMass[], z.infer<typeof mass>[]> = plainPart(
  z.array(mass).max(LIMITS.nodes).describe('What nodes weigh that were set by hand'),
  {
    time: 'none',
    check(masses, around, wrong) {
      const seen = new Set<string>();
      masses.forEach(({ node: id }, i) => {
        knownNode(around, wrong, `masses[${i}]`, id);
        if (seen.has(id)) wrong(`masses[${i}]`, `“${id}” stands twice`);
        seen.add(id);
      });
    },
  },
) as never;

/** Zod's inferred lists are writable and the document's are not: the same data. */
export const nodesPart = {
  ...plainPart(nodes, {
    time: 'none',
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

export const relationsPart = plainPart(z.array(relation).max(LIMITS.relations), {
  time(relations, { pieces, say }) {
    const carried = relations.map((one) => {
      const kind = relationKindOf(one);
      const settings = kind && kind.time !== 'none' ? kind.settings.safeParse(one.settings) : null;
      if (!kind || kind.time === 'none' || !settings?.success) return one;
      const taken = kind.time(settings.data, pieces);
      if (taken === null) say(finding('staysInTime', { node: one.node }, [`${kind.title}, ${one.node}`]));
      return taken === null || JSON.stringify(taken) === JSON.stringify(settings.data)
        ? one
        : { ...one, settings: taken };
    });
    return sameList(relations, carried) as never;
  },
  older: [{ until: 2, field: 'chains', becomes: (chains: readonly Chain[]) => relationsOfChains(chains) }],
  sentWhole: true,
  check(json, around, wrong) {
    const ids = new Set<string>();
    const addresses = new Set(
      around.nodes.flatMap(({ id, channels }) => channels.map((name) => `${id}.${name}`)),
    );
    const parentOf = (id: string) => around.nodes[around.indexOf(id)]?.parent ?? null;
    json.forEach((one, i) => {
      const at = `relations[${i}]`;
      if (ids.has(one.id)) wrong(`${at}.id`, `“${one.id}” stands twice`);
      ids.add(one.id);
      knownNode(around, wrong, `${at}.node`, one.node);
      one.targets.forEach(({ node: target }, k) => knownNode(around, wrong, `${at}.targets[${k}]`, target));
      for (const id of channelsOfRelation(one))
        if (!addresses.has(id)) wrong(at, `there is no channel “${id}”`);
      const kind = relationKindOf(one);
      if (!kind) return;
      const settings = kind.settings.safeParse(one.settings);
      if (!settings.success) wrong(`${at}.settings`, describeProblem(settings.error));
      for (const id of [...readsOf(one), ...writesOf(one, parentOf)]) knownNode(around, wrong, at, id);
    });
  },
}) as unknown as Part<readonly Relation[], z.infer<typeof relation>[]>;
