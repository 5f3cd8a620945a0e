/** A pose out of an action: what it shows at one of its frames, set or blended into the pose at the play-head, for the chosen body parts. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { actionSchema, readAction } from '../../document/action.ts';
import { selectedChannels } from '../../document/selection.ts';
import { rigOf } from '../../document/shot.ts';
import { defineEdit, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { blended } from '../poses/blend-pose.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { mappedAction, mappingFindings, mappingOptions } from './mapping-options.ts';

export const blendActionPose = defineEdit({
  id: 'actions.blendPose',
  title: 'Blend in a pose of an action',
  summary: 'Takes the pose at a frame of a saved action, for what is selected, and sets or blends it in.',
  words: 'clip library pose breakdown mix apply frame part',
  group: 'actions',
  locks: 'refuse',
  options: z.object({
    action: actionSchema.meta({ title: 'Action', description: 'As saving made it.' }),
    at: z.number().min(0).max(LIMITS.frame).default(0).meta({
      title: 'Its frame',
      unit: 'frame',
      step: 1,
      description: 'Of the action, from 0; beyond its end it is the last.',
    }),
    frame: frameOption('At frame', 'The pose that changes.'),
    amount: z.number().min(-2).max(3).default(1).meta({
      title: 'Amount',
      unit: '',
      step: 0.05,
      description: '1 is the action’s pose, 0 the one that stands.',
    }),
    ...mappingOptions,
    repeats: repeatsOption,
  }),
  *run(shot, selection, { action: json, at, frame, amount, repeats, ...choice }) {
    const action = readAction(json);
    const mapped = yield* mappedAction(shot, action, choice);
    const rig = rigOf(shot);
    const chosen = new Set(selectedChannels(shot, { ...selection, keys: {} }));
    const meant = [...mapped.curves.keys()].filter(
      (id) => rig.channelIndex(id) >= 0 && (chosen.size === 0 || chosen.has(id)),
    );
    if (meant.length === 0) return refused(shot, selection, finding('nothingOfAction', {}));
    const place = Math.min(at, action.range.end);
    const result = blended(
      shot,
      selection,
      meant,
      frame,
      (id) => evaluate(mapped.curves.get(id)!, place),
      amount,
      repeats,
    );
    const { report } = result;
    return { ...result, report: { ...report, findings: [...mappingFindings(mapped), ...report.findings] } };
  },
});
