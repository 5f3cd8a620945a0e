/** Cross a placement with the one before it: over some frames the one gives way to the other, and together they are one. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { overlapOf, withCrossingsFitted } from './crossings.ts';
import { movedTo } from './move-placement.ts';
import { openPlacement, placementOption, placementsOf } from './placement-option.ts';
import type { Placement } from './placement-option.ts';

export const crossPlacements = defineEdit({
  id: 'actions.cross',
  title: 'Cross placements',
  summary: 'Lets a placed action come in while the one before it goes out, so that the two together are one.',
  words: 'clip block crossfade blend transition',
  group: 'actions',
  locks: 'none',
  options: z.object({
    placement: placementOption,
    before: z.string().nullable().default(null).meta({
      title: 'With',
      placement: true,
      empty: 'the one before it',
      description: 'Which it takes over from; left out, the last that begins before it on the same controls.',
    }),
    frames: z.number().min(0).max(LIMITS.frame).nullable().default(null).meta({
      title: 'Over',
      unit: 'frames',
      step: 1,
      description: 'It moves so that they overlap by so many; left out, as they lie; 0 crosses them no more.',
    }),
  }),
  run(shot, selection, { placement: named, before: other, frames }) {
    const next = openPlacement(shot, named);
    const { id } = next;
    const before = other === null ? beforeOf(shot, next) : openPlacement(shot, other);
    if (before.id === id) refuse('nothingToCross', {}, next.name);
    if (frames === 0) {
      if (before.settings.crosses !== id) return outcome(shot, shot, selection);
      return outcome(shot, withCrossing(shot, before, null), selection);
    }
    const { end, start } = before.range;
    const begin = frames === null ? next.range.start : end - Math.min(frames, end - start);
    const moved = begin === next.range.start ? { shot, findings: [] } : movedTo(shot, next, begin);
    const now = openPlacement(moved.shot, id);
    const overlap = overlapOf(before, now);
    if (overlap <= 0) return refused(shot, selection, finding('doNotOverlap', {}, before.name, next.name));
    const fitted = withCrossingsFitted(withCrossing(overIt(moved.shot, before.id, id), before, id));
    return outcome(shot, fitted.shot, selection, {
      findings: [finding('crossed', {}, before.name, next.name, begin, end), ...moved.findings],
      measures: [{ name: 'crossed over', value: overlap, unit: 'frames' }],
    });
  },
});

const withCrossing = (shot: Shot, { id, settings: held }: Placement, crosses: string | null): Shot =>
  held.crosses === crosses
    ? shot
    : withLayer(shot, id, (was) => ({ ...was, settings: { ...was.settings, crosses } }));

/** The placement on some of the same controls that begins last before it. */
function beforeOf(shot: Shot, next: Placement): Placement {
  const shared = placementsOf(shot).filter(
    ({ id, members, range }) =>
      id !== next.id &&
      range.start <= next.range.start &&
      members.some((node) => next.members.includes(node)),
  );
  const last = shared.sort((a, b) => a.range.start - b.range.start).pop();
  return last ?? refuse('nothingToCross', {}, next.name);
}

/** The shot with the next above the one before: what is above takes over. */
function overIt(shot: Shot, before: string, next: string): Shot {
  const [low, high] = [before, next].map((id) => shot.layers.findIndex((layer) => layer.id === id)) as [
    number,
    number,
  ];
  if (high > low) return shot;
  const layers = shot.layers.filter(({ id }) => id !== next);
  layers.splice(low, 0, shot.layers[high]!);
  return { ...shot, layers };
}
