/** Add an offset pass over the chosen controls. It starts at nothing: the motion is what it was until it is posed. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { selectedChannels } from '../../shot/selection.ts';
import { constantCurve, splitChannel } from '../../shot/shot.ts';
import type { Pass, Shot } from '../../shot/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';

export const addOffsetPass = defineEdit({
  id: 'passes.addOffset',
  title: 'Add offset pass',
  summary: 'Lays a pass over the selected controls; poses on it add to the motion below.',
  words: 'layer additive override new',
  group: 'passes',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    name: z
      .string()
      .trim()
      .max(60)
      .default('')
      .meta({ title: 'Name', description: 'Empty: “Offset” and a number.' }),
    rotations: z.enum(['channels', 'orientations']).default('channels').meta({
      title: 'Rotations',
      description: 'Add angle by angle, or compose as orientations.',
    }),
    bookends: z.object({ start: z.number(), end: z.number() }).nullable().default(null).meta({
      title: 'Bookends',
      description: 'Zero keys at the two ends of this range confine the pass to it.',
    }),
  }),
  run(shot, selection, { name, rotations, bookends }) {
    if (bookends && !(bookends.end > bookends.start)) {
      return refused(shot, selection, finding('badRange', {}, bookends.start, bookends.end));
    }
    const members = [...new Set(selectedChannels(shot, selection).map((id) => splitChannel(id).node))];
    const pass: Pass = {
      id: freshId(shot),
      name: name || freshName(shot),
      kind: 'offset',
      colour: shot.passes.length % 8,
      members,
      muted: false,
      solo: false,
      locked: false,
      weight: constantCurve(1, shot.range.start),
      rotations,
      bookends,
      curves: [],
    };
    const after = { ...shot, passes: [...shot.passes, pass] };
    return outcome(shot, after, selection, {
      selection: { ...selection, pass: pass.id, keys: {} },
      measures: [{ name: 'controls', value: members.length, unit: '' }],
      findings: bookends ? [finding('bookends', {}, bookends.start, bookends.end)] : [],
    });
  },
});

function freshId(shot: Shot): string {
  const numbers = shot.passes.map((pass) => Number(/^pass-(\d+)$/.exec(pass.id)?.[1] ?? 0));
  return `pass-${Math.max(0, ...numbers) + 1}`;
}

function freshName(shot: Shot): string {
  const names = new Set(shot.passes.map((pass) => pass.name));
  for (let number = 1; ; number += 1) if (!names.has(`Offset ${number}`)) return `Offset ${number}`;
}
