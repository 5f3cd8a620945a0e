/** What edits of time share: on what they act, what was left, and the options for frames. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import type { LayerChanges } from '../../document/change-layers.ts';
import type { Retimed } from '../../document/retime.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

export const scopeOption = z
  .enum(['everything', 'selected'])
  .default('everything')
  .meta({
    title: 'Acts on',
    labels: { selected: 'what is selected' },
    description:
      'Everything keeps all controls together; or only the selected controls, channels or curves of keys.',
  });
/** Whether what is between two poses may come to lie between frames. */
export const wholeFramesOption = z.boolean().default(true).meta({
  title: 'Land on whole frames',
  description: 'Times are rounded after they are scaled.',
});

/** What becomes of tangents when gaps get other lengths. */
export const tangentsOption = z
  .enum(['shape', 'rules'])
  .default('shape')
  .meta({
    title: 'Tangents',
    labels: { shape: 'keep shape', rules: 'by rules' },
    description:
      'keep shape: slopes and handles go with their gap; by rules: smooth and steady look at the new neighbours.',
  });

export type Scope = z.output<typeof scopeOption>;

/** The channels meant; null is everything. Refuses an empty selection where it is asked for. */
export function channelsIn(shot: Shot, selection: Selection, scope: Scope): ReadonlySet<ChannelId> | null {
  if (scope === 'everything') return null;
  const channels = selectedChannels(shot, selection);
  if (channels.length === 0) refuse('nothingSelected', {}, 'controls or channels');
  return new Set(channels);
}

/** Sentences for what was locked and left. */
export function leftAlone({ lockedChannels, lockedPasses, lockedKeys }: LayerChanges): Finding[] {
  return [
    ...(lockedChannels.length > 0 ? [finding('lockedChannels', {}, lockedChannels)] : []),
    ...lockedPasses.map((name) => finding('lockedPass', {}, name)),
    ...(lockedKeys.length > 0 ? [finding('lockedKeysInTheWay', {}, lockedKeys)] : []),
  ];
}

/** Sentences for what time carried along: what was left, repeats that a cut fell into, keys that met. */
export function retimedFindings(changes: Retimed): Finding[] {
  const { goOn, baked, merged, otherCycle } = changes;
  return [
    ...leftAlone(changes),
    ...changes.findings,
    ...(goOn.length > 0 ? [finding('repeatsGoOn', {}, goOn)] : []),
    ...(baked.length > 0 ? [finding('repeatsBaked', {}, baked)] : []),
    ...(otherCycle.length > 0 ? [finding('cycleChanged', {}, otherCycle)] : []),
    ...(merged > 0 ? [finding('keysMerged', {}, merged)] : []),
  ];
}

/** The selected range, or the whole shot; refuses one that has no length or is not within the shot. */
export function rangeIn(shot: Shot, selection: Selection): FrameRange {
  const range = selection.range ?? shot.range;
  if (range.start < shot.range.start - 1e-6 || range.end > shot.range.end + 1e-6)
    refuse('rangeOutsideShot', {}, range.start, range.end, shot.range.start, shot.range.end);
  if (range.end - range.start < 1e-6) refuse('badRange', {}, range.start, range.end);
  return range;
}

/** Refuses a frame that the shot does not have. */
export function frameIn(shot: Shot, frame: number): number {
  const { start, end } = shot.range;
  if (frame < start - 1e-6 || frame > end + 1e-6) refuse('frameOutsideShot', { frame }, frame, start, end);
  return frame;
}
