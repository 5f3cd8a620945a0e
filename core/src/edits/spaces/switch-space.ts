/** Switch: from a frame on another target holds, without a jump. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { relationOption, switchedRelation, wishesOf, withinOptions } from './relation-option.ts';
import { respaced } from './respaced.ts';
import { spansOf, withTarget } from './switch-curve.ts';

export const targetOption = z.number().int().min(0).max(63).default(0).meta({
  title: 'To',
  description: 'The place of the target in the relation’s list.',
});

export const switchSpace = defineEdit({
  id: 'spaces.switch',
  title: 'Switch space',
  summary: 'From a frame on the control follows another target; it does not jump.',
  words: 'parent constraint hand over pass attach detach pick up put down',
  group: 'spaces',
  worksOn: 'relation',
  locks: 'none',
  options: z.object({
    relation: relationOption,
    frame: frameOption('At', 'The first frame on which it follows the other.'),
    to: targetOption,
    ...withinOptions(),
  }),
  *run(shot, selection, { relation: id, frame, to, ...given }) {
    const relation = switchedRelation(shot, id);
    if (to >= relation.targets.length) refuse('noTarget', {}, to, relation.targets.length);
    if (frame < shot.range.start || frame > shot.range.end || !Number.isInteger(frame - shot.range.start))
      refuse('switchOutside', { frame }, frame, shot.range.start, shot.range.end);
    const curve = curveOf(shot, null, relation.switch);
    const next = spansOf(curve, shot.range).find(({ start }) => start > frame);
    const end = next ? next.start - 1 : shot.range.end;
    const spans = withTarget(curve, shot.range, { start: frame, end }, to);
    const later = hasKeysAfter(shot, relation.node, frame, end);
    // Where nothing is keyed after it the control goes along with its new target; else its motion stays as it was.
    return yield* respaced(
      shot,
      selection,
      relation,
      spans,
      () => (later ? 'existing' : 'hold'),
      wishesOf(given),
    );
  },
});

const TRANSFORM = /^[trs][xyz]$/;

function hasKeysAfter(shot: Shot, node: string, frame: number, end: number): boolean {
  const entries = shot.curves[rigOf(shot).indexOf(node)] ?? {};
  return Object.entries(entries).some(
    ([name, { times }]) => TRANSFORM.test(name) && times.some((time) => time > frame + 1e-6 && time <= end),
  );
}
