/**
 * Complete the columns: every control that is keyed at all gets a key on every pose column, hidden and switched-off ones too,
 * so that a change from stepped to spline does not make anything drift. The curves keep their shape.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { rowAtTime } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { keyPlace } from '../../curve/with-key.ts';
import type { KeyPlace, RepeatWay } from '../../curve/with-key.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { changeLayers } from '../../document/change-layers.ts';
import { columnsOfNode, poseColumns } from '../../document/pose-columns.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { RepeatNotes, repeatsOption } from '../shared/repeats-option.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { channelsIn, leftAlone, scopeOption } from './scope.ts';

export const completeColumns = defineEdit({
  id: 'timing.completeColumns',
  title: 'Complete the columns',
  summary: 'Gives every keyed control a key on every pose column, and lists where one was missing.',
  words: 'key all fill blocking poses breakdown every control',
  group: 'timing',
  locks: 'none',
  options: z.object({ scope: scopeOption, repeats: repeatsOption }),
  run(shot, selection, { scope, repeats }) {
    const channels = channelsIn(shot, selection, scope);
    const columns = poseColumns(shot, channels);
    if (columns.frames.length === 0) return refused(shot, selection, finding('noColumns', {}));
    const missing = new Map<string, Set<number>>();
    const rig = rigOf(shot);
    const notes = new RepeatNotes();
    const gaps: Measure[] = [];
    let keys = 0;
    const changes = changeLayers(shot, channels, Infinity, (curve, channel, pass) => {
      // A pass is no pose: its few keys are meant where they stand.
      if (pass !== null) return curve;
      const { node } = splitChannel(channel);
      const own = columnsOfNode(columns, rig.nodes[rig.indexOf(node)]!.character);
      const {
        curve: whole,
        absent,
        times,
      } = placesOf(shot, curve, own, repeats, (way) => notes.add(channel, way));
      if (absent.length === 0) return curve;
      const known = missing.get(node) ?? new Set();
      absent.forEach((frame) => known.add(frame));
      missing.set(node, known);
      const after = addKeysKeepingShape(whole, times);
      keys += after.times.length - curve.times.length;
      return after;
    });
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
        ...notes.findings(),
        ...leftAlone(changes),
      ],
      measures: [
        { name: 'columns', value: columns.frames.length, unit: '' },
        { name: 'keys added', value: keys, unit: '' },
        { name: 'controls completed', value: missing.size, unit: '' },
        ...gaps,
      ],
    });
  },
});

/** The columns on which a curve has no key, and where its keys for them go; repeats are baked where that is asked. */
function placesOf(
  shot: Shot,
  curve: Curve,
  frames: readonly number[],
  repeats: RepeatWay,
  note: (way: KeyPlace['way']) => void,
): { curve: Curve; absent: number[]; times: number[] } {
  let whole = curve;
  const absent: number[] = [];
  const times: number[] = [];
  for (const frame of frames) {
    const place = keyPlace(whole, frame, repeats, shot.range);
    whole = place.curve;
    if (rowAtTime(whole, place.time) >= 0) continue;
    note(place.way);
    absent.push(frame);
    times.push(place.time);
  }
  return { curve: whole, absent, times };
}
