/** An action as a shot takes it: its curves by the shot's channels, what is left out and why. What laying it as keys and placing it share. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { asPart } from '../../base/work.ts';
import type { Work } from '../../base/work.ts';
import type { Curve } from '../../curve/curve.ts';
import { partOf } from '../../curve/part.ts';
import { actionSchema, readAction } from '../../document/action.ts';
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import { framesPerSecond, rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { motionOptions, mappedAction, mappingFindings, mappingOptions } from './mapping-options.ts';
import type { Action } from '../../document/action.ts';
import type { Mapped } from '../../mapping/map-action.ts';
import { feetStand } from './feet-stand.ts';
import type { FeetStand } from './feet-stand.ts';
import type { ActionContact, MappingChoice } from '../../layers/layer.ts';
import { movedBy } from '../../rig/influence.ts';
import { contactsOnShot } from './action-contacts.ts';

export const actionOption = actionSchema.meta({ title: 'Action', description: 'As saving made it.' });

export const layOptions = {
  carryOn: z.boolean().default(false).meta({
    title: 'Carry on',
    description:
      'What moves the figure (its root or hips) begins where the figure stands then, and goes the way it faces.',
  }),
  onlySelected: z.boolean().default(false).meta({
    title: 'Only on what is selected',
    description: 'Body parts or controls that are selected; the rest of the action is left out.',
  }),
  ...mappingOptions,
  ...motionOptions,
};

/** What an action is in the pantry: the application says it, so that the shot knows when it has changed there. */
export const keptOption = z
  .object({ id: z.string(), print: z.string() })
  .nullable()
  .default(null)
  .meta({ title: 'In the pantry', description: 'Its id there, and a digest of what it does.' });

export interface ActionOnShot {
  readonly name: string;
  /** Of all that the shot has, frames of the action from 0. */
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  /** Those of them that are meant and open. */
  readonly meant: readonly ChannelId[];
  /** Frames of the shot for each frame of the action: the same seconds. */
  readonly stretch: number;
  /** The action's length, its frames. */
  readonly length: number;
  /** What stands in it, on joints of the shot; frames of the action. */
  readonly contacts: readonly ActionContact[];
  readonly findings: readonly Finding[];
}

/** Rates farther apart than this are a broken file. */
const MOST_STRETCH = 1000;

/** @param json an action, checked by its schema; refuses one that is broken, or of a rate that is none */
export function* actionOnShot(
  shot: Shot,
  selection: Selection,
  json: unknown,
  onlySelected: boolean,
  choice: MappingChoice,
): Work<ActionOnShot> {
  const action = readAction(json);
  const mapped = yield* asPart(mappedAction(shot, action, choice), 0, 0.6);
  const stood = yield* asPart(standing(shot, action, mapped, choice), 0.6, 1);
  const stretch = framesPerSecond(shot.rate) / framesPerSecond(action.json.rate);
  if (!(stretch < MOST_STRETCH && stretch > 1 / MOST_STRETCH)) refuse('impossibleRate', {}, stretch);
  const chosen = onlySelected ? new Set(selectedChannels(shot, { ...selection, keys: {} })) : null;
  if (chosen?.size === 0) refuse('nothingSelected', {}, 'controls or channels');
  const rig = rigOf(shot);
  const locks = new Set(shot.locked);
  const unmatched = new Set<string>(mapped.missing);
  const missing: string[] = [...mapped.lacking];
  const locked: string[] = [];
  const curves = new Map<ChannelId, Curve>();
  const meant: ChannelId[] = [];
  for (const [channel, curve] of stood.curves) {
    const isMeant = !chosen || chosen.has(channel);
    const { node } = splitChannel(channel);
    if (rig.channelIndex(channel) >= 0) {
      curves.set(channel, within(curve, action.range));
      if (isMeant && locks.has(channel)) locked.push(channel);
      else if (isMeant) meant.push(channel);
    } else if (isMeant && rig.indexOf(node) < 0) unmatched.add(node);
    else if (isMeant) missing.push(channel);
  }
  const moved = movedBy(
    rig,
    meant.map((id) => rig.indexOf(splitChannel(id).node)),
  );
  const stands = contactsOnShot(shot, action.json.contacts ?? [], mapped, choice.flipped);
  return {
    contacts: stands.contacts.filter(({ node }) => moved[rig.indexOf(node)] === 1),
    name: action.json.name,
    curves,
    meant,
    stretch,
    length: action.range.end,
    findings: [
      ...mappingFindings(mapped),
      ...stood.findings,
      ...stands.findings,
      ...(unmatched.size > 0 ? [finding('unmatchedNodes', {}, [...unmatched])] : []),
      ...(missing.length > 0 ? [finding('unmatchedChannels', {}, missing)] : []),
      ...(locked.length > 0 ? [finding('lockedChannels', {}, locked)] : []),
    ],
  };
}

/** What a mapping makes with its feet held, where it comes from a figure of another build. */
function* standing(
  shot: Shot,
  action: Action,
  { curves, pairs, size }: Mapped,
  { feet, flipped }: MappingChoice,
): Work<FeetStand> {
  const isOther =
    Math.abs(size - 1) > 1e-6 ||
    pairs.some(({ turned, longer }) => turned > 0.1 || Math.abs(longer - 1) > 1e-3);
  if (!feet || !isOther) return { curves, findings: [] };
  const other = new Map(shot.nodes.map(({ id, pair }) => [id, pair ?? id]));
  const shown = flipped ? pairs.map((pair) => ({ ...pair, target: other.get(pair.target)! })) : pairs;
  return yield* asPart(feetStand(shot, action, curves, shown), 0, 1);
}

/** A refusal where nothing of the action has a place here; else null. */
export const nothingTaken = (
  shot: Shot,
  selection: Selection,
  { meant, findings }: ActionOnShot,
): Outcome | null =>
  meant.length > 0
    ? null
    : refused(shot, selection, ...(findings.length > 0 ? findings : [finding('emptyAction', {})]));

/** The curve without what lies outside the action's length. */
function within(curve: Curve, { start, end }: FrameRange): Curve {
  const { times } = curve;
  const inside = times.length === 0 || (times[0]! >= start - 1e-6 && times[times.length - 1]! <= end + 1e-6);
  return inside ? curve : partOf(curve, { start, end });
}

/** Frames as they are said. */
export const tidyFrame = (frame: number) => Math.round(frame * 100) / 100;
