/** Bake lead-in and lead-out: repeats become keys over a range of frames. */
import { shownAgainst } from '../shared/bake.ts';
import { notKept, UNASKED } from '../shared/same-motion.ts';
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import { repeats } from '../../curve/lead.ts';
import { differenceOf } from '../../curve/difference.ts';
import { unitOf } from '../../rig/node.ts';
import { splitChannel } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

const bound = (title: string, description: string) =>
  z
    .number()
    .min(-MOST_FRAMES)
    .max(MOST_FRAMES)
    .optional()
    .meta({ title, unit: 'frame', step: 1, description });

export const bakeLead = defineEdit({
  id: 'keys.bakeLead',
  title: 'Bake lead-in and lead-out',
  summary: 'Turns what the curves do outside their keys into keys, and lets them hold beyond.',
  words: 'cycle loop infinity repeat extrapolate keys convert',
  group: 'keys',
  needs: 'keys',
  locks: 'strip',
  promise: 'sameMotion',
  options: z.object({
    from: bound('From', 'Left out, the beginning of the shot.'),
    to: bound('To', 'Left out, the end of the shot.'),
  }),
  run(shot, selection, { from = shot.range.start, to = shot.range.end }) {
    if (!(to >= from)) return refused(shot, selection, finding('badRange', {}, from, to));
    let keys = 0;
    let worst: Measure | null = null;
    const changes = changeTargets(
      shot,
      { ...selection, range: null, keys: {}, channels: channelsOf(selection) },
      (curve, _, channel) => {
        // Where both sides repeat, the other cannot go on without its cycle: it is baked over the shot.
        const early = repeats(curve.leadIn) ? Math.min(from, shot.range.start) : from;
        const late = repeats(curve.leadOut) ? Math.max(to, shot.range.end) : to;
        const result = bakeLeads(curve, early, late);
        if (result === curve) return curve;
        keys += result.times.length - curve.times.length;
        const { greatest, frame } = differenceOf(curve, result, { start: from, end: to });
        const unit = unitOf(splitChannel(channel).name);
        if (greatest > (worst?.value ?? -1))
          worst = { name: 'greatest change', value: greatest, unit, where: { channel, frame } };
        return result;
      },
    );
    if (changes.touched.length === 0) return refused(shot, selection, finding('nothingToBake', {}));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: [
        ...lockedKeysFinding(changes.lockedKeys),
        ...notKept(shownAgainst(shot, changes.shot, changes.touched), UNASKED),
      ],
      measures: [{ name: 'keys added', value: keys, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});

/** Chosen keys stand for their whole curves here. */
function channelsOf({
  keys,
  channels,
}: {
  keys: Readonly<Record<string, readonly number[]>>;
  channels: readonly string[];
}): readonly string[] {
  const chosen = Object.keys(keys).filter((id) => keys[id]!.length > 0);
  return chosen.length > 0 ? chosen : channels;
}
