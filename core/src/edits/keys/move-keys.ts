/** Move keys in time, in value, or in both. A moved key that lands on another takes its place, which is counted. */
import { z } from 'zod';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { defineEdit, outcome } from '../edit.ts';
import { blockedFinding, changeTargets, freeOfLocked, lockedKeysFinding } from '../shared/targets.ts';

export const moveKeys = defineEdit({
  id: 'keys.move',
  title: 'Move keys',
  summary: 'Moves the selected keys in time and in value.',
  words: 'shift offset nudge translate value frames slide',
  group: 'keys',
  needs: 'keys',
  locks: 'strip',
  options: z.object({
    frames: z
      .number()
      .min(-MOST_FRAMES)
      .max(MOST_FRAMES)
      .default(0)
      .meta({ title: 'Frames', unit: 'frames', step: 1, description: 'How far they move in time.' }),
    value: z.number().min(-1e9).max(1e9).default(0).meta({
      title: 'Value',
      unit: '',
      step: 0.1,
      description: "How far they move in value, in the channel's unit.",
    }),
    valueByChannel: z.record(z.string(), z.number().min(-1e9).max(1e9)).default({}).meta({
      title: 'Value by channel',
      description: 'In place of Value, for channels that move by their own.',
    }),
    wholeFrames: z
      .boolean()
      .default(true)
      .meta({ title: 'Land on whole frames', description: 'Times are rounded after the move.' }),
  }),
  run(shot, selection, { frames, value, valueByChannel, wholeFrames }) {
    let overwritten = 0;
    let moved = 0;
    let blocked = 0;
    if (frames === 0 && value === 0 && Object.keys(valueByChannel).length === 0)
      return outcome(shot, shot, selection);
    const land = (time: number) => (wholeFrames && frames !== 0 ? Math.round(time + frames) : time + frames);
    const changes = changeTargets(shot, selection, (curve, wanted, channel) => {
      const rows = frames === 0 ? [...wanted] : freeOfLocked(curve, wanted, (row) => land(curve.times[row]!));
      blocked += wanted.length - rows.length;
      if (rows.length === 0) return curve;
      moved += rows.length;
      // The moved keys come last, so that they win where two meet; where all move, all stay in their order.
      const whole = rows.length === curve.times.length;
      const moving = new Uint8Array(curve.times.length);
      for (const row of rows) moving[row] = 1;
      const order = whole ? null : [...allRows(curve).filter((row) => moving[row] === 0), ...rows];
      const still = curve.times.length - rows.length;
      const result = rebuild(curve, order, (columns) => {
        for (let i = still; i < curve.times.length; i += 1) {
          columns.times[i] = land(columns.times[i]!);
          columns.values[i]! += valueByChannel[channel] ?? value;
        }
      });
      overwritten += curve.times.length - result.times.length;
      return result;
    });
    const findings = [...lockedKeysFinding(changes.lockedKeys), ...blockedFinding(blocked)];
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [{ name: 'keys moved', value: moved, unit: '' }],
    });
  },
});
