/** Map an action: the same motion as an action of the character here, to be kept beside the other. */
import { z } from 'zod';
import { curvesToJson } from '../../document/action.ts';
import type { ActionJson } from '../../document/action.ts';
import { splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { contactsJson } from './action-contacts.ts';
import { actionOnShot, actionOption, nothingTaken } from './action-on-shot.ts';
import { motionOptions, mappingOptions } from './mapping-options.ts';
import { rootsAmong, skeletonAround } from './save-action.ts';

/** Whose channels they are: a character's name, or the shot's where they are of several or of none. */
function bearer(shot: Shot, channels: readonly ChannelId[]): string {
  const nodes = new Set(channels.map((id) => splitChannel(id).node));
  const [one, ...others] = new Set(
    shot.nodes.flatMap(({ id, character }) => (nodes.has(id) ? [character] : [])),
  );
  return shot.characters.find(({ id }) => others.length === 0 && id === one)?.name ?? shot.name;
}

export const mapAction = defineEdit({
  id: 'actions.map',
  title: 'Map action',
  summary: 'Makes a saved action one of a character of this shot; the shot stays as it is.',
  words: 'retarget transfer character flip mirror convert',
  group: 'actions',
  locks: 'none',
  options: z.object({ action: actionOption, ...mappingOptions, ...motionOptions }),
  *run(shot, selection, { action, ...choice }) {
    const taken = yield* actionOnShot({ ...shot, locked: [] }, selection, action, false, choice);
    const refusal = nothingTaken(shot, selection, taken);
    if (refusal) return refusal;
    const channels = [...taken.curves.keys()];
    // How limbs showed there is nothing that shows here.
    const { limbs: _, contacts: __, ...rest } = action;
    const made: ActionJson = {
      ...rest,
      name: `${action.name.slice(0, 60)} on ${bearer(shot, channels)}`.slice(0, 80),
      curves: curvesToJson(taken.curves),
      skeleton: skeletonAround(shot, channels),
      roots: rootsAmong(shot, channels),
      ...(taken.contacts.length > 0 && { contacts: contactsJson(taken.contacts) }),
    };
    return outcome(shot, shot, selection, {
      made,
      findings: taken.findings,
      measures: [{ name: 'channels', value: channels.length, unit: '' }],
    });
  },
});
