/** Match: over a range the control follows another target and moves as it did. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { curveOf } from '../../document/shot.ts';
import { defineEdit } from '../edit.ts';
import { rangeIn } from '../timing/scope.ts';
import { relationOption, switchedRelation, wishesOf, withinOptions } from './relation-option.ts';
import { respaced } from './respaced.ts';
import { withTarget } from './switch-curve.ts';
import { targetOption } from './switch-space.ts';

export const matchSpace = defineEdit({
  id: 'spaces.match',
  title: 'Match into space',
  summary: 'Over the chosen range the control is carried by another target, and moves as it did.',
  words: 'space convert constraint bake transfer same motion',
  group: 'spaces',
  worksOn: 'relation',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    relation: relationOption,
    to: targetOption,
    keys: z
      .enum(['existing', 'needed'])
      .default('existing')
      .meta({
        title: 'Keys',
        labels: { existing: 'where they are', needed: 'as needed' },
        description:
          'On the frames that have keys, and more only where the tolerance asks; or as few as hold it.',
      }),
    ...withinOptions(),
  }),
  *run(shot, selection, { relation: id, to, keys, ...given }) {
    const relation = switchedRelation(shot, id);
    if (to >= relation.targets.length) refuse('noTarget', {}, to, relation.targets.length);
    const range = rangeIn(shot, selection);
    const whole = { start: Math.round(range.start), end: Math.round(range.end) };
    const spans = withTarget(curveOf(shot, null, relation.switch), shot.range, whole, to);
    return yield* respaced(shot, selection, relation, spans, () => keys, wishesOf(given));
  },
});
