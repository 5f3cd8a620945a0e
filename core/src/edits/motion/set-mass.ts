/** What a control weighs, set by hand. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { bodyOf } from '../../bodies/body-of.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';

export const setMass = defineEdit({
  id: 'motion.setMass',
  title: 'Set mass',
  summary: 'Says how much of a character’s mass a joint bears; the others share the rest.',
  words: 'weight heavy light centre of mass balance',
  group: 'motion',
  locks: 'none',
  options: z.object({
    node: z.string().meta({ title: 'Control', description: 'Its name.' }),
    share: z.number().min(0).max(100).nullable().default(null).meta({
      title: 'Mass',
      unit: '%',
      step: 1,
      description: 'Of the mass of its character; null: as the table of body parts says.',
    }),
  }),
  run(shot, selection, { node, share }) {
    const rig = rigOf(shot);
    const row = rig.indexOf(node);
    if (row < 0) return refused(shot, selection, finding('unknownNode', {}, node));
    const { character } = rig.nodes[row]!;
    const after = withMass(shot, node, share === null ? null : share / 100);
    const weighs = (one: Shot) =>
      100 *
      bodyOf(one, character)
        .segments.filter((segment) => segment.row === row)
        .reduce((sum, segment) => sum + segment.share, 0);
    const sum = (after.masses ?? [])
      .filter((mass) => rig.nodes[rig.indexOf(mass.node)]?.character === character)
      .reduce((all, mass) => all + mass.share, 0);
    return outcome(shot, after, selection, {
      findings: sum > 1 ? [finding('massesOver', {}, sum)] : [],
      measures: [{ name: 'mass', value: weighs(after), unit: '%', before: weighs(shot), where: { node } }],
    });
  },
});

function withMass(shot: Shot, node: string, share: number | null): Shot {
  const before = shot.masses ?? [];
  if ((before.find((mass) => mass.node === node)?.share ?? null) === share) return shot;
  const others = before.filter((mass) => mass.node !== node);
  const masses = share === null ? others : [...others, { node, share }];
  const { masses: _, ...rest } = shot;
  return masses.length > 0 ? { ...rest, masses } : rest;
}
