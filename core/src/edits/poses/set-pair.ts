/** A control's partner and flip signs set by hand, where names and the rest pose do not say it. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { rigOf } from '../../document/shot.ts';
import { SIDES } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { whichCharacter } from '../shared/targets.ts';

export const setPair = defineEdit({
  id: 'poses.setPair',
  title: 'Set partner',
  summary: 'Says which control mirrors which, and on which side it stands.',
  words: 'mirror symmetry partner sides left right',
  group: 'poses',
  locks: 'none',
  options: z.object({
    node: z.string().meta({ title: 'Control', description: 'Its name.' }),
    side: z.enum(SIDES).optional().meta({ title: 'Side', description: 'left, right, or centre.' }),
    pair: z.string().nullable().optional().meta({
      title: 'Partner',
      description: 'The control that mirrors it; itself in the centre; null for none.',
    }),
  }),
  run(shot, selection, { node, side, pair }) {
    const rig = rigOf(shot);
    const index = rig.indexOf(node);
    if (index < 0) return refused(shot, selection, finding('unknownNode', {}, node));
    if (typeof pair === 'string' && rig.indexOf(pair) < 0)
      return refused(shot, selection, finding('unknownNode', {}, pair));
    const before = rig.nodes[index]!;
    const now = { side: side ?? before.side, pair: pair === undefined ? before.pair : pair };
    if (now.pair === node && now.side !== 'centre')
      return refused(shot, selection, finding('selfPair', {}, node));
    if (now.side === before.side && now.pair === before.pair) return outcome(shot, shot, selection);
    const opposite = { left: 'right', right: 'left', centre: 'centre' } as const;
    const nodes = shot.nodes.map((one): Node => {
      if (one.id === node) return { ...one, ...now };
      // Pairs are mutual: the new partner learns of it, and an old one that pointed here is let go.
      if (one.id === now.pair) return { ...one, pair: node, side: opposite[now.side] };
      return one.pair === node ? { ...one, pair: null } : one;
    });
    return outcome(shot, { ...shot, nodes }, selection, {
      measures: [{ name: 'controls', value: 1, unit: '' }],
    });
  },
});

export const setFlipSigns = defineEdit({
  id: 'poses.setFlipSigns',
  title: 'Set flip signs',
  summary:
    "Sets by hand how a control's channels go over to its partner, or lets the rest pose say it again.",
  words: 'mirror symmetry negate axes sides',
  group: 'poses',
  locks: 'none',
  options: z.object({
    node: z.string().meta({ title: 'Control', description: 'Its name; its partner gets the same signs.' }),
    signs: z
      .record(z.string(), z.union([z.literal(1), z.literal(-1)]))
      .nullable()
      .default(null)
      .meta({ title: 'Signs', description: '1 or −1 by channel; null: as the rest pose says.' }),
  }),
  run(shot, selection, { node, signs }) {
    const before = shot.nodes.find(({ id }) => id === node);
    if (!before) return refused(shot, selection, finding('unknownNode', {}, node));
    const odd = Object.keys(signs ?? {}).find((name) => !before.channels.includes(name));
    if (odd !== undefined) return refused(shot, selection, finding('badSign', {}, odd));
    if (JSON.stringify(before.flipSigns ?? null) === JSON.stringify(signs))
      return outcome(shot, shot, selection);
    const nodes = shot.nodes.map((one): Node => {
      if (one.id !== node && one.id !== before.pair) return one;
      const { flipSigns: _, ...rest } = one;
      return signs === null ? rest : { ...rest, flipSigns: signs };
    });
    return outcome(shot, { ...shot, nodes }, selection, {
      measures: [{ name: 'channels', value: Object.keys(signs ?? {}).length, unit: '' }],
    });
  },
});

export const setFacing = defineEdit({
  id: 'poses.setFacing',
  title: 'Set facing',
  summary: 'Says where a character faces at rest, so that it is flipped about the middle of its body.',
  words: 'forward front direction orientation heading',
  group: 'poses',
  locks: 'none',
  options: z.object({
    character: z.string().meta({ title: 'Character', description: 'Its id.' }),
    degrees: z.number().min(-360).max(360).nullable().default(null).meta({
      title: 'Faces',
      unit: '°',
      step: 90,
      description: 'About the upright: 0 is +z, 90 is +x; null: as left and right controls say.',
    }),
  }),
  run(shot, selection, { character, degrees }) {
    const before = shot.characters.find(({ id }) => id === character);
    if (!before) return refused(shot, selection, whichCharacter(shot));
    if ((before.facing ?? null) === degrees) return outcome(shot, shot, selection);
    const characters = shot.characters.map((one) => {
      if (one.id !== character) return one;
      const { facing: _, ...rest } = one;
      return degrees === null ? rest : { ...rest, facing: degrees };
    });
    return outcome(shot, { ...shot, characters }, selection, {
      measures: [{ name: 'faces', value: degrees ?? 0, unit: '°' }],
    });
  },
});
