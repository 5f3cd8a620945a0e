/** Move a switch: it happens sooner or later, and the motion stays. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { curveOf } from '../../document/shot.ts';
import { defineEdit } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { relationOption, switchedRelation, wishesOf, withinOptions } from './relation-option.ts';
import { respaced } from './respaced.ts';
import { spansOf, withTarget } from './switch-curve.ts';

export const moveSwitch = defineEdit({
  id: 'spaces.moveSwitch',
  title: 'Move switch',
  summary: 'Moves the frame of a space switch; the control stays where it is on every frame.',
  words: 'space parent retime edge earlier later',
  group: 'spaces',
  worksOn: 'relation',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    relation: relationOption,
    from: frameOption('Switch at', 'The frame of the switch that moves.'),
    frame: frameOption('To', 'The frame that it moves to.'),
    ...withinOptions(),
  }),
  *run(shot, selection, { relation: id, from, frame, ...given }) {
    const relation = switchedRelation(shot, id);
    const curve = curveOf(shot, null, relation.switch);
    const spans = spansOf(curve, shot.range);
    const at = spans.findIndex(({ start }) => Math.abs(start - from) < 1e-6);
    if (at <= 0) refuse('noSwitchThere', { frame: from }, from);
    const [low, high] = [spans[at - 1]!.start + 1, spans[at]!.end];
    const to = Math.round(Math.min(Math.max(frame, low), high));
    const range = to > from ? { start: from, end: to - 1 } : { start: to, end: from - 1 };
    const moved = withTarget(curve, shot.range, range, spans[to > from ? at - 1 : at]!.target);
    return yield* respaced(shot, selection, relation, moved, () => 'existing', wishesOf(given));
  },
});
