/**
 * Complete the columns: every control that is keyed at all gets a key on every pose column, hidden and switched-off ones too,
 * so that a change from stepped to spline does not make anything drift. The curves keep their shape.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { rowAtTime } from '../../curve/curve.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { changeLayers } from '../../shot/layers.ts';
import { poseColumns } from '../../shot/pose-columns.ts';
import { splitChannel } from '../../shot/shot.ts';
import { RepeatNotes, repeatsOption } from '../repeats-option.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { channelsIn, leftAlone, scopeOption } from './scope.ts';

export const completeColumns = defineEdit({
  id: 'timing.completeColumns',
  title: 'Complete the columns',
  summary: 'Gives every keyed control a key on every pose column, and lists where one was missing.',
  group: 'timing',
  locks: 'none',
  options: z.object({ scope: scopeOption, repeats: repeatsOption }),
  run(shot, selection, { scope, repeats }) {
    const { frames } = poseColumns(shot);
    if (frames.length === 0) return refused(shot, selection, finding('noColumns', {}));
    const missing = new Map<string, Set<number>>();
    const notes = new RepeatNotes();
    const gaps: Measure[] = [];
    let keys = 0;
    const changes = changeLayers(
      shot,
      channelsIn(shot, selection, scope),
      Infinity,
      (curve, channel, pass) => {
        // A pass is no pose: its few keys are meant where they stand.
        if (pass !== null) return curve;
        const absent = frames.filter((frame) => rowAtTime(curve, frame) < 0);
        if (absent.length === 0) return curve;
        const { node } = splitChannel(channel);
        const known = missing.get(node) ?? new Set();
        absent.forEach((frame) => known.add(frame));
        missing.set(node, known);
        keys += absent.length;
        return addKeysKeepingShape(curve, absent);
      },
    );
    for (const [node, at] of missing) {
      const sorted = [...at].sort((a, b) => a - b);
      gaps.push({
        name: `missing on ${node}`,
        value: sorted.length,
        unit: 'columns',
        where: { node, frame: sorted[0]! },
      });
    }
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: [
        ...(missing.size > 0
          ? [
              finding(
                'missingOnColumns',
                {},
                [...missing].map(([node, at]) => `${node} (${at.size})`),
              ),
            ]
          : []),
        ...leftAlone(changes),
      ],
      measures: [
        { name: 'columns', value: frames.length, unit: '' },
        { name: 'keys added', value: keys, unit: '' },
        { name: 'controls completed', value: missing.size, unit: '' },
        ...gaps,
      ],
    });
  },
});
