/** Save a pose: what shows at one frame, as an action without length, to be set or blended in elsewhere. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { restValue } from '../../rig/node.ts';
import { ACTION_VERSION, curvesToJson } from '../../document/action.ts';
import type { ActionJson } from '../../document/action.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { selectedChannels } from '../../document/selection.ts';
import { constantCurve, rigOf, splitChannel } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { nameAndWords, rootsAmong, skeletonAround } from './save-action.ts';

export const savePose = defineEdit({
  id: 'actions.savePose',
  title: 'Save a pose',
  summary: 'Saves what the selected controls show at the play-head to the pantry; the shot stays as it is.',
  words: 'clip library store pose snapshot',
  group: 'actions',
  needs: 'channels',
  locks: 'none',
  options: z.object({ ...nameAndWords, frame: frameOption('At frame', 'The pose that is saved.') }),
  run(shot, selection, { name, tags, notes, frame }) {
    const rig = rigOf(shot);
    const channels = selectedChannels(shot, { ...selection, keys: {} }).filter(
      (id) => rig.channelIndex(id) >= 0,
    );
    if (channels.length === 0) return refused(shot, selection, finding('emptyAction', {}));
    const shown = valuesAt(shot, frame);
    const valueOf = (id: string) => shown[rig.channelIndex(id)] ?? restValue(splitChannel(id).name);
    const made: ActionJson = {
      format: 'kneader-action',
      version: ACTION_VERSION,
      ...{ name, tags, notes, source: shot.name, rate: shot.rate, length: 0 },
      curves: curvesToJson(new Map(channels.map((id) => [id, constantCurve(valueOf(id))]))),
      skeleton: skeletonAround(shot, channels),
      roots: rootsAmong(shot, channels),
    };
    return outcome(shot, shot, selection, {
      made,
      measures: [{ name: 'channels', value: channels.length, unit: '' }],
    });
  },
});
