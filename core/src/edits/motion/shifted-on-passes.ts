/** A flight over the keys as they are: a retime filter for its time and an offset pass for its place. Both muted, all is as it was. */
import { finding, refuse } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { framesOf } from '../../base/frame-range.ts';
import { LIMITS } from '../../base/limits.ts';
import { rising } from '../../base/frames.ts';
import { curveThrough, curveWithin, shownBy } from '../../curve/curve-through.ts';
import type { Curve } from '../../curve/curve.ts';
import { overlaidInTime } from '../../layers/time-filters.ts';
import { curvesIn, rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { pathReader } from './flying.ts';
import { shiftsOn } from './shifted-keys.ts';
import type { Shifted, ShiftRequest } from './shifted-keys.ts';

/** @param was when it flew, in the shot as it is */
export function shiftedOnPasses(shot: Shot, request: ShiftRequest, was: FrameRange): Shifted {
  const { flying, air, shiftOver, keys: policy, toleranceCm } = request;
  const longer = air.end - was.end;
  const timed = longer === 0 ? shot : withRetime(shot, was, air);
  const rig = rigOf(timed);
  const shift = shiftOver(pathReader(timed, flying));
  const members = flying.carriers.map((row) => rig.nodes[row]!.id);
  const pass = freshLayer(timed, '', 'Flight', {
    kind: 'offset',
    members,
    settings: { rotations: 'channels' },
    range: null,
  });
  const laid: Shot = { ...timed, layers: [...timed.layers, pass] };
  const changed = new Map<ChannelId, Curve>();
  let keys = 0;
  for (const row of flying.carriers) {
    const shifts = shiftsOn(timed, row, shift);
    ['tx', 'ty', 'tz'].forEach((name, axis) => {
      const by = shifts[axis]!;
      const shown = shownBy((frame) => by.at(frame), []);
      // It eases ahead of the take-off and after the landing, where that was asked.
      const ends = rising([timed.range.start, air.start, air.end, timed.range.end]);
      const isStill = ends.every((frame) => Math.abs(by.at(frame)) < 1e-9);
      if (isStill && Math.abs(by.at((air.start + air.end) / 2)) < 1e-9) return;
      const curve =
        policy === 'every'
          ? curveThrough(shown, rising(ends, framesOf(air)))
          : curveWithin(shown, ends, toleranceCm / 2);
      keys += curve.times.length;
      changed.set(`${rig.nodes[row]!.id}.${name}`, curve);
    });
  }
  if (changed.size === 0) return { shot: timed, touched: [], keys: 0, findings: [] };
  return {
    shot: withCurves(laid, pass.id, changed),
    touched: [...changed.keys()],
    keys,
    findings: [finding('flightOnPasses', {}, pass.name, longer)],
  };
}

/** The shot with other time between take-off and landing, as a filter over all that moves. */
function withRetime(shot: Shot, was: FrameRange, air: FrameRange): Shot {
  const moving = new Set<string>();
  for (const table of [shot.curves, ...shot.layers.map(({ curves }) => curves)])
    for (const [id] of curvesIn(table, shot.nodes)) moving.add(splitChannel(id).node);
  const filter = freshLayer(shot, '', 'Time of flight', {
    kind: 'retime',
    members: [...moving],
    settings: { at: [air.start, air.end], shows: [was.start, was.end] },
    range: null,
  });
  const layers = [...shot.layers, filter];
  const crowded = overlaidInTime(layers);
  if (crowded !== null) refuse('tooManyTimeFilters', { node: crowded }, crowded, LIMITS.timeFilters);
  const end = Math.max(shot.range.start + 1, shot.range.end + air.end - was.end);
  return { ...shot, layers, range: { ...shot.range, end } };
}
