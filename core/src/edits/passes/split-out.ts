/** Some members of a pass in a pass of their own, right above it: what shows stays, to the bit. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { freshLayerId, freshLayerName } from '../shared/fresh-layer.ts';
import { openPass, passOption } from './pass-option.ts';
import { onlyNodes, withoutNodes } from './pass-nodes.ts';

export const splitOut = defineEdit({
  id: 'passes.splitOut',
  title: 'Split out',
  summary:
    'Puts the selected members of a pass into a pass of their own, with their keys and the same weight.',
  words: 'layer divide separate members extract',
  group: 'passes',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    pass: passOption,
    name: z.string().trim().max(60).default('').meta({
      title: 'Name',
      description: 'Of the new pass; empty: the name of the old one and a number.',
    }),
  }),
  run(shot, selection, { pass: id, name }) {
    const pass = openPass(shot, id);
    const moving = new Set(chosenNodes(shot, selection).filter((node) => pass.members.includes(node)));
    if (moving.size === 0) return refused(shot, selection, finding('noMembersChosen', {}, pass.name));
    if (moving.size === pass.members.length)
      return refused(shot, selection, finding('allMembersChosen', {}, pass.name));
    const { pass: left, touched } = withoutNodes(shot, pass, moving);
    const made = {
      ...onlyNodes(shot, pass, moving),
      id: freshLayerId(shot),
      name: name || freshLayerName(shot, pass.name),
    };
    const layers = shot.layers.flatMap((one) => (one === pass ? [left, made] : [one]));
    return outcome(shot, { ...shot, layers }, selection, {
      selection: { ...selection, layer: made.id, keys: {} },
      touched,
      measures: [{ name: 'controls', value: moving.size, unit: '' }],
    });
  },
});
