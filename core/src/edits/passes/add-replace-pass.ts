/**
 * Add a replace pass over the chosen controls. It starts from what shows, never from the rest pose: from one frame, so that it holds that pose, or with
 * keys on the pose columns, so that the timing of what lies below stays.
 */
import { z } from 'zod';
import { nameOption } from '../shared/name-option.ts';
import { finding, refuse } from '../../base/finding.ts';
import { inRange } from '../../base/frame-range.ts';
import { curveThrough, shownBy } from '../../curve/curve-through.ts';
import type { Curve } from '../../curve/curve.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { bookendsOption, rampsOption, rangeOf } from '../shared/range-options.ts';
import { usually } from '../placements/block-options.ts';
import { mixedRotations } from '../shared/rotations-option.ts';
import { placeForPass, underFilters } from './under-filters.ts';

export const addReplacePass = defineEdit({
  id: 'passes.addReplace',
  title: 'Add replace pass',
  summary: 'Lays a pass over the selected controls that takes over from what shows, and starts from it.',
  words: 'layer override new take over',
  group: 'passes',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    name: nameOption('“Replace” and a number'),
    from: z
      .enum(['frame', 'columns'])
      .default('frame')
      .meta({
        title: 'Starts from',
        labels: { frame: 'what shows here', columns: 'the pose columns' },
        description: 'One pose that holds; or a key on each pose column, so that the timing below stays.',
      }),
    frame: frameOption('Frame', 'Where the pose is taken from.'),
    rotations: usually(mixedRotations, 'orientations'),
    bookends: bookendsOption,
    ramps: rampsOption,
  }),
  run(shot, selection, { name, from, frame, rotations, bookends, ramps }) {
    const members = chosenNodes(shot, selection);
    const range = rangeOf(bookends, ramps);
    const pass = freshLayer(shot, name, 'Replace', {
      kind: 'replace',
      members,
      settings: { rotations },
      range,
    });
    // What shows where the pass comes to lie: filters above it go on working on it.
    const { top } = stackOf({ ...shot, layers: shot.layers.slice(0, placeForPass(shot)) });
    const times =
      from === 'frame' ? [frame] : poseColumns(shot).frames.filter((at) => !range || inRange(range, at));
    if (times.length === 0) refuse('noColumns', {});
    const curves = new Map<ChannelId, Curve>();
    const rig = rigOf(shot);
    const nodes = new Set(members.map((id) => rig.indexOf(id)));
    rig.channels.forEach(({ id, node }, c) => {
      const signal = top[c]!;
      if (!nodes.has(node) || signal.still) return;
      curves.set(
        id,
        from === 'frame'
          ? heldAt(frame, signal.at(frame))
          : curveThrough(shownBy(signal.at.bind(signal)), times),
      );
    });
    const after = withCurves(underFilters(shot, pass), pass.id, curves);
    return outcome(shot, after, selection, {
      selection: { ...selection, layer: pass.id, keys: {} },
      touched: [...curves.keys()],
      measures: [
        { name: 'controls', value: members.length, unit: '' },
        { name: 'keys', value: curves.size * times.length, unit: '' },
      ],
      findings: [
        ...(curves.size === 0 ? [finding('nothingToReplace', {})] : []),
        ...(range ? [finding('bookends', {}, range.start, range.end)] : []),
      ],
    });
  },
});

const heldAt = (frame: number, value: number): Curve =>
  buildCurve(1, (columns) => {
    columns.times[0] = frame;
    columns.values[0] = value;
  });
