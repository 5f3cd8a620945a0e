/** Move a placement: the block as a whole, with what is keyed of its weight. */
import { isKeyedWeight } from '../../layers/weight.ts';
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { piecesLater } from '../../base/time-pieces.ts';
import { LIMITS } from '../../base/limits.ts';
import { later } from '../../curve/later.ts';
import { withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { grownTo } from '../shared/lay-keys.ts';
import { withCrossingsFitted } from './crossings.ts';
import { openPlacement, placementOption } from './placement-option.ts';
import type { Placement } from './placement-option.ts';

export const movePlacement = defineEdit({
  id: 'actions.movePlacement',
  title: 'Move placement',
  summary: 'Moves a placed action to another frame.',
  words: 'clip block shift slide time',
  group: 'actions',
  locks: 'none',
  options: z.object({ placement: placementOption, frame: frameOption('Frame', 'Where it begins.') }),
  run(shot, selection, { placement: named, frame }) {
    const block = openPlacement(shot, named);
    const { start } = block.range;
    if (frame === start) return outcome(shot, shot, selection);
    const { shot: after, findings } = movedTo(shot, block, frame);
    return outcome(shot, after, selection, {
      findings,
      measures: [{ name: 'begins at', value: frame, unit: 'frame', before: start }],
    });
  },
});

/** The shot with a placement that shows from a frame; refuses one that would leave the frames that there are. */
export function movedTo(
  shot: Shot,
  block: Placement,
  frame: number,
): { readonly shot: Shot; readonly findings: Finding[] } {
  const { start, end } = block.range;
  const by = frame - start;
  if (end + by > LIMITS.frame || frame < -LIMITS.frame) refuse('beyondFrames', {}, LIMITS.frame);
  const moved = withLayer(shot, block.id, () => ({
    ...block,
    range: { ...block.range, start: frame, end: end + by },
    settings: {
      ...block.settings,
      first: block.settings.first + by,
      course: block.settings.course && [...piecesLater(block.settings.course, by)],
    },
    weight: isKeyedWeight(block.weight) ? later(block.weight, by) : block.weight,
  }));
  const fitted = withCrossingsFitted(moved);
  const { shot: after, finding: grown } = grownTo(fitted.shot, end + by);
  return { shot: after, findings: [...fitted.findings, ...(grown ? [grown] : [])] };
}
