/** The curves of the base, and the passes over them. */
import { z } from 'zod';
import { curvesIn, PASS_KINDS } from '../shot.ts';
import type { ChannelId, CurveTable, Pass } from '../shot.ts';
import { curveFromJson, curveSchema, curveToJson } from './curve-json.ts';
import type { CurveJson } from './curve-json.ts';
import { curvesByAddress, heldTable, readTable, writeTable } from './curve-table.ts';
import { heldCurve } from './part.ts';
import type { Part } from './part.ts';
import { knownNode } from './rig-parts.ts';

export const curvesPart: Part<CurveTable, Record<ChannelId, CurveJson>> = {
  json: curvesByAddress,
  held: heldTable,
  read: (json, around) => readTable(json, around, 'curves'),
  write: writeTable,
  *curves(table, { nodes }) {
    for (const [channel, curve] of curvesIn(table, nodes)) yield { pass: null, channel, curve };
  },
};

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
  bookends: z.object({ start: z.number(), end: z.number() }).nullable(),
  curves: curvesByAddress,
});

export const passesPart: Part<readonly Pass[], z.infer<typeof pass>[]> = {
  json: z.array(pass),
  held: z.array(pass.extend({ weight: heldCurve, curves: heldTable })),
  check(passes, around, wrong) {
    passes.forEach(({ members }, i) =>
      members.forEach((member, m) => knownNode(around, wrong, `passes[${i}].members[${m}]`, member)),
    );
    if (new Set(passes.map(({ id }) => id)).size < passes.length) wrong('passes', 'two passes share an id');
    passes.forEach(({ weight }, i) => {
      if (weight.times.length === 0) wrong(`passes[${i}].weight`, 'it has no key');
    });
  },
  read: (passes, around) =>
    passes.map((json, i) => ({
      ...json,
      weight: curveFromJson(json.weight, `passes[${i}].weight`),
      curves: readTable(json.curves, around, `passes[${i}].curves`),
    })),
  write: (passes, around) =>
    passes.map((held) => ({
      ...held,
      members: [...held.members],
      weight: curveToJson(held.weight),
      curves: writeTable(held.curves, around),
    })),
  *curves(passes, { nodes }) {
    for (const { id, curves, weight } of passes) {
      for (const [channel, curve] of curvesIn(curves, nodes)) yield { pass: id, channel, curve };
      yield { pass: id, channel: null, curve: weight };
    }
  },
};
