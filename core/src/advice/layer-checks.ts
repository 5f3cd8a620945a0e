/** What is easily overlooked of a pass: an offset that pops in a loop, motion that goes past what lies below, a replace pass that hides. */
import { finding } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import { framesOf } from '../base/frame-range.ts';
import { effectOf, isKeyed } from '../layers/kinds.ts';
import type { Layer } from '../layers/layer.ts';
import { weightOf } from '../layers/weight.ts';
import { movedBy } from '../rig/influence.ts';
import { placeIn, stackOf, worldAt } from '../evaluation/evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';

/** Values nearer than this are the same at both ends of a loop, in the channel's unit. */
const SAME = 0.01;
/** Speeds and reaches that grow by less than this part are no matter. */
const GROWN = 1.25;
/** Most frames that are looked at for speeds. */
const MOST_LOOKS = 600;

/** The cheap ones, for a mark in its row; empty where nothing is to be said. */
export function layerMarks(shot: Shot, layer: Layer): Finding[] {
  if (!isKeyed(layer)) return [];
  const { levels, top } = stackOf(shot);
  const level = levels.findIndex(({ layer: one }) => one.id === layer.id);
  if (level < 0) return [];
  const { below } = levels[level]!;
  const above = levels[level + 1]?.below ?? top;
  const { start, end } = shot.range;
  const [ends, hidden]: [ChannelId[], ChannelId[]] = [[], []];
  rigOf(shot).channels.forEach(({ id }, c) => {
    if (above[c] === below[c]) return;
    const closes = (signal: { at(frame: number): number }) =>
      Math.abs(signal.at(start) - signal.at(end)) < SAME;
    if (closes(below[c]!) && !closes(above[c]!)) ends.push(id);
    if (effectOf(layer) === 'covers' && !below[c]!.still && coversAll(shot, layer)) hidden.push(id);
  });
  return [
    ...(ends.length > 0 ? [finding('endsDiffer', { frame: end }, ends)] : []),
    ...(hidden.length > 0 ? [finding('hidesBelow', {}, hidden)] : []),
  ];
}

const coversAll = (shot: Shot, layer: Layer): boolean => {
  const weight = weightOf(layer);
  return [...framesOf(shot.range)].every((frame) => Math.abs(weight.at(frame) - 1) < 1e-9);
};

/** All of them: how much faster and farther joints go than the motion below does alone, too. */
export function layerChecks(shot: Shot, layer: Layer): Finding[] {
  const marks = layerMarks(shot, layer);
  if (!isKeyed(layer) || layer.muted) return marks;
  const without = {
    ...shot,
    layers: shot.layers.map((one) => (one.id === layer.id ? { ...one, muted: true } : one)),
  };
  const rig = rigOf(shot);
  const nodes = new Set(layer.members.map((id) => rig.indexOf(id)).filter((row) => row >= 0));
  const watched = [...movedBy(rig, nodes)].flatMap((moves, row) => (moves === 1 ? [row] : []));
  const [was, is] = [extremes(without, watched), extremes(shot, watched)];
  const name = (row: number) => rig.nodes[row]!.id;
  return [
    ...marks,
    ...(is.speed > GROWN * was.speed && is.speed - was.speed > 0.5
      ? [
          finding(
            'goesFaster',
            { node: name(is.node), frame: is.frame },
            name(is.node),
            was.speed,
            is.speed,
            is.frame,
          ),
        ]
      : []),
    ...(is.reach > GROWN * was.reach && is.reach - was.reach > 1
      ? [finding('goesFarther', {}, was.reach, is.reach)]
      : []),
  ];
}

/** The fastest joint from frame to frame, cm, and the greatest extent of any joint's way, cm. */
function extremes(shot: Shot, watched: readonly number[]) {
  const frames = framesOf(
    shot.range,
    Math.max(1, Math.ceil((shot.range.end - shot.range.start) / MOST_LOOKS)),
  );
  let [speed, node, at, reach] = [0, watched[0] ?? 0, shot.range.start, 0];
  const first = worldAt(shot, frames[0]!);
  let last = first;
  for (const frame of frames) {
    const pose = worldAt(shot, frame);
    for (const row of watched) {
      const [now, before, begin] = [placeIn(pose, row), placeIn(last, row), placeIn(first, row)];
      const step = Math.hypot(...now.map((value, axis) => value - before[axis]!));
      if (step > speed) [speed, node, at] = [step, row, frame];
      reach = Math.max(reach, Math.hypot(...now.map((value, axis) => value - begin[axis]!)));
    }
    last = pose;
  }
  return { speed, node, frame: at, reach };
}
