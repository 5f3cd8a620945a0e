/** Stepped to spline, for a whole shot in one step; and back. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { FLAG, rowAtTime, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { changeLayers } from '../../document/change-layers.ts';
import { columnsOfNode, poseColumns } from '../../document/pose-columns.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import { isSwitch } from '../../document/switches.ts';
import { defineEdit, outcome } from '../edit.ts';
import { channelsIn, leftAlone, scopeOption } from './scope.ts';

export const toSpline = defineEdit({
  id: 'timing.toSpline',
  title: 'Stepped to spline',
  summary: 'Turns stepped segments into curves on all controls at once.',
  words: 'blocking polish smooth interpolate stepped convert',
  group: 'timing',
  locks: 'none',
  options: z.object({
    scope: scopeOption,
    kind: z.enum(['steady', 'smooth', 'flat', 'linear']).default('steady').meta({
      title: 'Tangents',
      description: 'steady never overshoots the poses.',
    }),
    complete: z.boolean().default(true).meta({
      title: 'Complete the columns first',
      description: 'Each control gets a key on every pose column, so that nothing drifts between them.',
    }),
    kept: z.boolean().default(true).meta({
      title: 'As they were',
      description: 'Segments that were turned to stepped come back with the tangents that they had.',
    }),
  }),
  run(shot, selection, { scope, kind, complete, kept }) {
    const channels = channelsIn(shot, selection, scope);
    const columns = poseColumns(shot, channels);
    const rig = rigOf(shot);
    let segments = 0;
    let added = 0;
    let restored = 0;
    const uneven = new Set<string>();
    const changes = changeLayers(shot, channels, -Infinity, (curve, channel, pass) => {
      if (!curve.segments.includes(SEGMENT.stepped) || isSwitch(shot, channel)) return curve;
      const { node } = splitChannel(channel);
      const frames = columnsOfNode(columns, rig.nodes[rig.indexOf(node)]!.character);
      const absent = pass === null ? frames.filter((frame) => rowAtTime(curve, frame) < 0) : [];
      if (absent.length > 0) uneven.add(node);
      const whole = complete && absent.length > 0 ? addKeysKeepingShape(curve, absent) : curve;
      added += whole.times.length - curve.times.length;
      segments += whole.segments.filter(
        (segment, row) => segment === SEGMENT.stepped && row + 1 < whole.times.length,
      ).length;
      restored += kept ? whole.flags.filter((flag) => (flag & WAS) !== 0).length : 0;
      return splined(whole, TANGENT[kind], kept);
    });
    const names = [...uneven];
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: [
        ...(names.length > 0
          ? [complete ? finding('missingOnColumns', {}, names) : finding('willDrift', {}, names)]
          : []),
        ...(restored > 0 ? [finding('keptTangents', {}, restored)] : []),
        ...leftAlone(changes),
      ],
      measures: [
        { name: 'segments turned', value: segments, unit: '' },
        { name: 'keys added', value: added, unit: '' },
      ],
    });
  },
});

const WAS = FLAG.wasCubic | FLAG.wasLinear;

/** Every stepped segment a curve, or what it was; tangents between two of them follow the rule. */
function splined(curve: Curve, kind: number, kept: boolean): Curve {
  const { segments, flags } = curve;
  const was = (row: number) => (kept ? flags[row]! & WAS : 0);
  const isStepped = (row: number) => row >= 0 && segments[row] === SEGMENT.stepped && was(row) === 0;
  return rebuild(curve, null, (columns) => {
    for (let row = 0; row < segments.length; row += 1) {
      if (segments[row] === SEGMENT.stepped && was(row) !== 0)
        columns.segments[row] = was(row) === FLAG.wasLinear ? SEGMENT.linear : SEGMENT.cubic;
      columns.flags[row]! &= ~WAS;
      if (isStepped(row)) {
        columns.segments[row] = SEGMENT.cubic;
        columns.tangentsOut[row] = kind;
      }
      if (isStepped(row - 1)) columns.tangentsIn[row] = kind;
    }
  });
}

export const toStepped = defineEdit({
  id: 'timing.toStepped',
  title: 'Spline to stepped',
  summary:
    'Lets every pose hold until the next key, on all controls at once; the tangents are kept for the way back.',
  words: 'blocking hold pose to pose convert',
  group: 'timing',
  locks: 'none',
  options: z.object({ scope: scopeOption }),
  run(shot, selection, { scope }) {
    let segments = 0;
    const changes = changeLayers(shot, channelsIn(shot, selection, scope), -Infinity, (curve) => {
      const turned = curve.segments.filter((segment) => segment !== SEGMENT.stepped).length;
      if (turned === 0) return curve;
      segments += turned;
      return rebuild(curve, null, (columns) => {
        curve.segments.forEach((kind, row) => {
          if (kind === SEGMENT.stepped) return;
          columns.flags[row] =
            (columns.flags[row]! & ~WAS) | (kind === SEGMENT.linear ? FLAG.wasLinear : FLAG.wasCubic);
          columns.segments[row] = SEGMENT.stepped;
        });
      });
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: leftAlone(changes),
      measures: [{ name: 'segments turned', value: segments, unit: '' }],
    });
  },
});
