/** Pose columns: how they are found, and which are added or taken out by hand. */
import { z } from 'zod';
import { poseColumns } from '../../document/pose-columns.ts';
import { DEFAULT_COLUMNS } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { MOST_FRAMES } from '../../base/frame-range.ts';

const frames = (title: string, description: string) =>
  z.array(z.number().min(-MOST_FRAMES).max(MOST_FRAMES)).optional().meta({ title, description });

export const setColumns = defineEdit({
  id: 'timing.setColumns',
  title: 'Pose columns',
  summary: 'Says which frames are pose columns: by a share of keyed controls, and by hand.',
  words: 'pose mark blocking breakdown extremes',
  group: 'timing',
  locks: 'none',
  options: z.object({
    share: z.number().min(0.01).max(1).optional().meta({
      title: 'Share of controls',
      unit: '',
      step: 0.05,
      description: 'A frame is a column when this share of the keyed controls has a key there.',
    }),
    add: frames('Add frames', 'Columns whatever the keys say.'),
    remove: frames('Take out frames', 'No columns whatever the keys say.'),
  }),
  run(shot, selection, { share, add = [], remove = [] }) {
    const before = shot.poseColumns ?? DEFAULT_COLUMNS;
    const added = new Set([...before.added, ...add].filter((frame) => !remove.includes(frame)));
    const removed = new Set([...before.removed, ...remove].filter((frame) => !add.includes(frame)));
    const sorted = (of: Set<number>) => [...of].sort((a, b) => a - b);
    const after = { share: share ?? before.share, added: sorted(added), removed: sorted(removed) };
    const same = JSON.stringify(after) === JSON.stringify({ ...before });
    const next = same ? shot : { ...shot, poseColumns: after };
    return outcome(shot, next, selection, {
      measures: [
        {
          name: 'columns',
          before: poseColumns(shot).frames.length,
          value: poseColumns(next).frames.length,
          unit: '',
        },
      ],
    });
  },
});
