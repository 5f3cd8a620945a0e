/** Set up a placement: how long it takes, which part of it shows and how often, what it counts for. What is keyed of its weight is stretched with it. */
import { isKeyedWeight } from '../../layers/weight.ts';
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import type { Curve } from '../../curve/curve.ts';
import { later } from '../../curve/later.ts';
import { retimedBy } from '../../curve/retimed-by.ts';
import { withEnds } from '../../layers/layer-range.ts';
import type { LayerRange } from '../../layers/layer.ts';
import { lengthOf } from '../../layers/placements/block-time.ts';
import { actionOf } from '../../layers/placements/placement-settings.ts';
import type { PlacementSettings } from '../../layers/placements/placement-settings.ts';
import { constantCurve, curvesIn, withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { grownTo } from '../shared/lay-keys.ts';
import { mixedRotations } from '../shared/rotations-option.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { tidyFrame } from '../actions/action-on-shot.ts';
import { blockOptions, maybe } from './block-options.ts';
import { heldAbove } from './carry-on.ts';
import { withCrossingsFitted } from './crossings.ts';
import { openPlacement, placementOption } from './placement-option.ts';
import type { Placement } from './placement-option.ts';
import { longEnough, SHORTEST_BLOCK } from './shortest-block.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

export const setPlacement = defineEdit({
  id: 'actions.setPlacement',
  title: 'Set up placement',
  summary: 'Stretches, cuts or repeats a placed action, or says how much of it counts and for which parts.',
  words: 'clip block stretch trim cut repeat loop weight ramp parts additive',
  group: 'actions',
  locks: 'none',
  options: z.object({
    placement: placementOption,
    stretch: maybe(blockOptions.stretch),
    stays: z
      .enum(['start', 'end'])
      .default('start')
      .meta({
        title: 'Stays put',
        labels: { start: 'its beginning', end: 'its end' },
        description: 'When it is stretched.',
      }),
    from: frame.min(0).optional().meta({
      title: 'Part from',
      unit: 'frame',
      step: 1,
      description: 'Of the action, from 0.',
    }),
    to: frame.min(0).optional().meta({ title: 'Part to', unit: 'frame', step: 1 }),
    repeats: maybe(blockOptions.repeats),
    backward: maybe(blockOptions.backward),
    start: frame.optional().meta({
      title: 'Shows from',
      unit: 'frame',
      step: 1,
      description: 'What is cut off ahead does not show; the rest stays where it is.',
    }),
    end: frame.optional().meta({
      title: 'Shows to',
      unit: 'frame',
      step: 1,
      description: 'Beyond its end it holds its last pose.',
    }),
    rampIn: maybe(blockOptions.rampIn),
    rampOut: maybe(blockOptions.rampOut),
    weight: maybe(blockOptions.weight),
    adds: maybe(blockOptions.adds),
    rotations: maybe(mixedRotations),
    goesOn: z.boolean().optional().meta({
      title: 'Goes on over the ground',
      description: 'Each time round begins where the one before came to.',
    }),
    carriesOn: z.boolean().optional().meta({
      title: 'Carries on',
      description:
        'It begins where the figure stands, and is worked out anew when what lies before it changes; off, it stays where it lies now.',
    }),
    parts: z
      .enum(['selected', 'all'])
      .optional()
      .meta({
        title: 'Parts',
        labels: { selected: 'what is selected', all: 'all of the action' },
        description: 'The body parts or controls that it counts for.',
      }),
  }),
  run(shot, selection, { placement: named, parts, weight, ...given }) {
    const block = openPlacement(shot, named);
    const { id } = block;
    const members = parts
      ? membersOf(shot, block, parts === 'all' ? null : chosenNodes(shot, selection))
      : null;
    const settings = settingsWith(shot, block, given);
    if (settings.carriesOn && settings.roots.length === 0)
      return refused(shot, selection, finding('nothingTravels', {}, block.name));
    const range = rangeWith(block, settings, given);
    if (range.end > LIMITS.frame) refuse('beyondFrames', {}, LIMITS.frame);
    const next: Placement = {
      ...block,
      settings,
      range,
      ...(members && { members }),
      weight: weight === undefined ? weightWith(block, settings) : constantCurve(weight, shot.range.start),
    };
    if (JSON.stringify(plain(next)) === JSON.stringify(plain(block))) return outcome(shot, shot, selection);
    const fitted = withCrossingsFitted(withLayer(shot, id, () => next));
    const { shot: after, finding: grown } = grownTo(fitted.shot, range.end);
    const keyed = weight !== undefined && isKeyedWeight(block.weight);
    return outcome(shot, after, selection, {
      findings: [
        finding('coveredRange', {}, tidyFrame(range.start), tidyFrame(range.end)),
        ...(keyed ? [finding('keysReplaced', {}, block.weight.times.length)] : []),
        ...fitted.findings,
        ...(grown ? [grown] : []),
      ],
      measures: [
        {
          name: 'length',
          value: tidyFrame(range.end - range.start),
          unit: 'frames',
          before: tidyFrame(block.range.end - block.range.start),
        },
      ],
    });
  },
});

const plain = ({ settings, range, members, weight }: Placement) => [
  settings,
  range,
  members,
  [...weight.times],
  [...weight.values],
];

interface Given {
  readonly stretch?: number | undefined;
  readonly stays: 'start' | 'end';
  readonly from?: number | undefined;
  readonly to?: number | undefined;
  readonly repeats?: number | undefined;
  readonly backward?: boolean | undefined;
  readonly start?: number | undefined;
  readonly end?: number | undefined;
  readonly rampIn?: number | undefined;
  readonly rampOut?: number | undefined;
  readonly adds?: boolean | undefined;
  readonly rotations?: 'channels' | 'orientations' | undefined;
  readonly goesOn?: boolean | undefined;
  readonly carriesOn?: boolean | undefined;
}

function settingsWith(shot: Shot, { settings: was, range }: Placement, given: Given): PlacementSettings {
  const { length } = actionOf(was, shot.actions ?? []) ?? { length: was.to };
  const from = given.from ?? was.from;
  const to = Math.min(given.to ?? was.to, length);
  if (!(to > from)) refuse('badRange', {}, from, to);
  const repeats = given.repeats ?? was.repeats;
  const factor = given.stretch ?? was.factor;
  const backward = given.backward ?? was.backward;
  const others =
    from !== was.from ||
    to !== was.to ||
    repeats !== was.repeats ||
    factor !== was.factor ||
    backward !== was.backward;
  if (was.course && others) refuse('blockBent', {});
  const goesOn = given.goesOn ?? (was.repeats <= 1 && repeats > 1 ? was.roots.length > 0 : was.goesOn);
  return {
    ...was,
    ...{
      from,
      to,
      repeats,
      backward,
      goesOn,
      // As older files have it until something of it is said.
      sums: was.sums || given.goesOn !== undefined || given.adds !== undefined,
      factor,
      // What stays, and what is cut off ahead of it or behind goes along.
      first:
        given.stays === 'end' && factor !== was.factor
          ? range.end - (range.end - was.first) * (factor / was.factor)
          : was.first,
      adds: given.adds ?? was.adds,
      ...carriedOn(shot, was, given.carriesOn),
      rotations: given.rotations ?? was.rotations,
    },
  };
}

/** Carried on, what holds what travels stays where the shot has it. */
function carriedOn(
  shot: Shot,
  was: PlacementSettings,
  carriesOn = was.carriesOn,
): Partial<PlacementSettings> {
  if (!carriesOn || was.carriesOn) return { carriesOn };
  const action = actionOf(was, shot.actions ?? []);
  const held = heldAbove(shot, was.roots, new Map(curvesIn(action?.curves ?? [], shot.nodes)));
  return { carriesOn, leaves: [...new Set([...was.leaves, ...held])] };
}

/** Where it shows: what is cut off of it goes along when it is stretched; with another part or other repeats it shows as a whole. */
function rangeWith(
  { range, settings: was }: Placement,
  settings: PlacementSettings,
  given: Given,
): LayerRange {
  const { first } = settings;
  // Through a change of time it shows where that took it.
  const natural = settings.course ? range.end : first + lengthOf(settings);
  const k = settings.factor / was.factor;
  const other = settings.from !== was.from || settings.to !== was.to || settings.repeats !== was.repeats;
  const end = given.end ?? (other ? natural : first + (range.end - was.first) * k);
  const start =
    given.start ??
    (other
      ? range.start <= end - SHORTEST_BLOCK
        ? range.start
        : first
      : first + (range.start - was.first) * k);
  if (!(end > start)) refuse('badRange', {}, start, end);
  longEnough({ start, end });
  const ramps = { rampIn: given.rampIn ?? range.rampIn, rampOut: given.rampOut ?? range.rampOut };
  return withEnds({ ...range, ...ramps }, { start, end });
}

/** What is keyed of the weight, where the block has come to lie. */
function weightWith({ weight, settings: was }: Placement, { first, factor }: PlacementSettings): Curve {
  if (!isKeyedWeight(weight) || (factor === was.factor && first === was.first)) return weight;
  return later(retimedBy(later(weight, -was.first), factor / was.factor), first);
}

/** The controls that the action moves, and those of them that are chosen. */
function membersOf(shot: Shot, { settings }: Placement, chosen: readonly string[] | null): string[] {
  const action = actionOf(settings, shot.actions ?? []);
  const moved = shot.nodes.flatMap(({ id }, row) => (action?.curves[row] ? [id] : []));
  const members = chosen ? moved.filter((id) => chosen.includes(id)) : moved;
  return members.length > 0 ? members : refuse('nothingOfAction', {});
}
