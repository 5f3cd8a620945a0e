/** Pose on a pass: finds the values on the pass that show the wanted pose, whatever lies below and above. */
import { z } from 'zod';
import { frameOption } from '../shared/frame-option.ts';
import { finding } from '../../base/finding.ts';
import { splitChannel, withLayer } from '../../document/shot.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { wholeOption } from '../poses/whole-option.ts';
import { writePose } from '../poses/write-pose.ts';
import { openPass, passOption } from './pass-option.ts';

export const poseOnPass = defineEdit({
  id: 'passes.pose',
  title: 'Pose on a pass',
  summary: 'Keys the pass so that the wanted values show; the layers below stay as they are.',
  words: 'layer additive key adjust',
  group: 'passes',
  locks: 'none',
  options: z.object({
    pass: passOption,
    values: z
      .record(z.string(), z.number())
      .meta({ title: 'Values', description: 'What shall show, by channel address.' }),
    frame: frameOption('Frame', 'Where the keys are written.'),
    repeats: repeatsOption,
    whole: wholeOption,
  }),
  run(shot, selection, { pass: id, values, frame, repeats, whole }) {
    const pass = openPass(shot, id);
    const written = writePose(shot, id, new Map(Object.entries(values)), frame, repeats);
    if (whole && written.missed.length > 0) return refused(shot, selection, ...written.missed);
    const nodes = new Set(written.touched.map((channel) => splitChannel(channel).node));
    const joining = [...nodes].filter((node) => !pass.members.includes(node));
    const after =
      joining.length === 0
        ? written.shot
        : withLayer(written.shot, id, (was) => ({ ...was, members: [...was.members, ...joining] }));
    return outcome(shot, after, selection, {
      touched: written.touched,
      findings: [
        ...written.findings,
        ...(written.overwritten > 0 ? [finding('keysOverwritten', { frame }, written.overwritten)] : []),
      ],
      measures: [{ name: 'channels keyed', value: written.touched.length, unit: '' }],
    });
  },
});
