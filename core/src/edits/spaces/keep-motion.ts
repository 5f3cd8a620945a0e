/**
 * Keeping a motion while what carries it changes: the channels of nodes are written anew so that they lie in the world where they lay.
 *
 * The worlds come from the shot as it was (or from whoever asks, for nodes that shall follow something); what carries the nodes comes from the
 * shot as it shall be. Angles go on from frame to frame, so that nothing turns the long way.
 */
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { refuse } from '../../base/finding.ts';
import { curveAlong, curveThrough, curveWithin } from '../../curve/curve-through.ts';
import { FLAG } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { angleBetween } from '../../math/quaternion.ts';
import { channelsOn } from '../../rig/keep.ts';
import { channelKind } from '../../rig/node.ts';
import { newWorldPose, seatIn } from '../../rig/pose.ts';
import { readsOf } from '../../rig/relations/reads-and-writes.ts';
import type { Seat, WorldPose } from '../../rig/relations/relation.ts';
import { seatFrom } from '../../rig/relations/seat.ts';
import { channelValues, stackOf, worldAt, worldInto } from '../../shot/evaluation.ts';
import { constantCurve, curveOf, rigOf, withCurves } from '../../shot/shot.ts';
import type { ChannelId, Shot } from '../../shot/shot.ts';
import type { Measure } from '../edit.ts';
import { spliced } from './spliced.ts';

/** A node whose channels are written over some frames. */
export interface Rewrite {
  readonly node: string;
  readonly range: FrameRange;
  /** existing: where it has keys, and where the tolerance asks for more; needed: as few as hold it; hold: one, on the first frame; or on these frames alone. */
  readonly keys: 'existing' | 'needed' | 'hold' | readonly number[];
}

export interface KeepWishes {
  /** cm */
  readonly distance: number;
  /** degrees */
  readonly angle: number;
}

interface Kept {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly keys: number;
}

const TRANSFORM = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sx', 'sy', 'sz'];

/**
 * @param before the shot whose motion stays, @param after the shot with other relations, with at least the nodes of `before` in their rows
 * @param wanted where a node shall lie instead; null leaves it where it lay
 */
export function* keepMotion(
  before: Shot,
  after: Shot,
  rewrites: readonly Rewrite[],
  { distance, angle }: KeepWishes,
  wanted: (node: string, frame: number) => Seat | null = () => null,
): Work<Kept, Shot> {
  const rig = rigOf(after);
  const changed = new Map<ChannelId, Curve>();
  const sceneAt = scenesOf(before, after);
  let keys = 0;
  for (const [i, { node, range, keys: policy }] of rewrites.entries()) {
    if (i > 0) yield { done: i / rewrites.length };
    const row = rig.indexOf(node);
    refuseCovered(after, row);
    const names = rig.nodes[row]!.channels.filter((name) => TRANSFORM.includes(name));
    const moving = motionOf(sceneAt, after, row, range, wanted);
    const own = names.map(
      (name) => changed.get(`${node}.${name}`) ?? curveOf(after, null, `${node}.${name}`),
    );
    const locks = names.find((name, k) => isLocked(after, `${node}.${name}`, own[k]!, range));
    if (locks !== undefined)
      refuse('lockedMotion', { node, channel: `${node}.${locks}` }, `${node}.${locks}`);
    const times = timesFor(before, after, node, own, range, policy);
    for (const [k, name] of names.entries()) {
      const at = (frame: number) => moving(frame)[name]!;
      const tolerance = toleranceOf(name, distance, angle);
      const inner =
        policy === 'needed'
          ? curveWithin(at, times, tolerance)
          : policy === 'existing'
            ? curveAlong(at, times, tolerance)
            : curveThrough(at, times);
      const still = own[k]!.times.length === 0 && inner.values.every((value) => value === restOf(name));
      if (still) continue;
      keys += inner.times.length;
      // What had no keys was at rest, and outside the range it stays so.
      const outside = own[k]!.times.length > 0 ? own[k]! : constantCurve(restOf(name), after.range.start);
      changed.set(`${node}.${name}`, spliced(outside, inner, range, after.range));
    }
  }
  return { shot: withCurves(after, null, changed), touched: [...changed.keys()], keys };
}

const isLocked = (shot: Shot, channel: ChannelId, { times, flags }: Curve, { start, end }: FrameRange) =>
  shot.locked.includes(channel) ||
  times.some((time, row) => time >= start && time <= end && (flags[row]! & FLAG.locked) !== 0);
const restOf = (name: string) => (channelKind(name) === 'scale' ? 1 : 0);
const toleranceOf = (name: string, distance: number, angle: number) =>
  ({ position: distance / 2, rotation: angle / 2, scale: 1e-4, other: 1e-4 })[channelKind(name)];

/** What a layer makes of a channel cannot be seen through here: it is baked or muted first. */
function refuseCovered(shot: Shot, row: number): void {
  if (shot.layers.length === 0) return;
  const rig = rigOf(shot);
  const { base, top, levels } = stackOf(shot);
  for (let c = rig.firstChannel[row]!; c < rig.firstChannel[row + 1]!; c += 1) {
    if (top[c] === base[c] || !TRANSFORM.includes(rig.channels[c]!.name)) continue;
    const over = levels.findLast(({ below }, i) => (levels[i + 1]?.below ?? top)[c] !== below[c]);
    refuse('layerOverSpace', {}, over?.layer.name ?? '', rig.nodes[row]!.id);
  }
}

type Values = Readonly<Record<string, number>>;

/** A frame: what the shot shows that shall be, with every node where it lay. */
interface Scene {
  readonly values: Float64Array;
  readonly pose: WorldPose;
}
/** Bytes of scenes that are kept: all nodes that are written ask for the same frames. */
const MOST_SCENES = 96e6;

function scenesOf(before: Shot, after: Shot): (frame: number) => Scene {
  const rig = rigOf(after);
  const rows = before.nodes.length;
  const most = Math.max(64, Math.floor(MOST_SCENES / (8 * (rig.channels.length + 20 * rig.nodes.length))));
  const known = new Map<number, Scene>();
  const was = { pose: newWorldPose(rigOf(before)), values: new Float64Array(rigOf(before).channels.length) };
  return (frame) => {
    const found = known.get(frame);
    if (found) return found;
    const scene = { values: new Float64Array(rig.channels.length), pose: newWorldPose(rig) };
    worldInto(after, frame, scene.values, scene.pose);
    worldInto(before, frame, was.values, was.pose);
    scene.pose.matrices.set(was.pose.matrices.subarray(0, rows * 16));
    scene.pose.turns.set(was.pose.turns.subarray(0, rows * 4));
    if (known.size >= most) known.clear();
    known.set(frame, scene);
    return scene;
  };
}

/** The channels of a node by frame that make the motion; of frames between, angles go by those of the frame before. */
function motionOf(
  sceneAt: (frame: number) => Scene,
  after: Shot,
  row: number,
  range: FrameRange,
  wanted: (node: string, frame: number) => Seat | null,
): (frame: number) => Values {
  const rig = rigOf(after);
  const { id } = rig.nodes[row]!;
  const lay = (frame: number, near: (name: string) => number): Values => {
    const { values, pose } = sceneAt(frame);
    const world = wanted(id, frame) ?? seatFrom(pose, row);
    const found = channelsOn(rig, row, seatIn(rig, values, pose, row), world, near);
    return found ?? refuse('flatSpace', { frame }, id);
  };
  const present = new Float64Array(rig.channels.length);
  const nearBy = (frame: number) => {
    channelValues(after, frame, present);
    return (name: string) => present[rig.channelIndex(`${id}.${name}`)] ?? restOf(name);
  };
  const whole = new Map<number, Values>();
  let last: Values | null = null;
  for (const frame of framesOf(range)) {
    const from: Values | null = last;
    last = lay(frame, from ? (name) => from[name] ?? restOf(name) : nearBy(frame));
    whole.set(frame, last);
  }
  const between = new Map<number, Values>();
  return (frame) => {
    const known = whole.get(frame) ?? between.get(frame);
    if (known) return known;
    const from = whole.get(Math.floor(frame)) ?? last;
    const found = lay(frame, from ? (name) => from[name] ?? restOf(name) : nearBy(frame));
    if (between.size > 20_000) between.clear();
    between.set(frame, found);
    return found;
  };
}

/** Where keys are to stand, or may: rising, both ends of the range among them. */
function timesFor(
  before: Shot,
  after: Shot,
  node: string,
  own: readonly Curve[],
  { start, end }: FrameRange,
  policy: Rewrite['keys'],
): number[] {
  if (policy === 'hold') return [start];
  if (typeof policy === 'object') return [...new Set(policy)].sort((a, b) => a - b);
  const times = new Set([start, end]);
  const add = (curves: Iterable<Curve>) => {
    for (const curve of curves)
      for (const time of curve.times) if (time >= start && time <= end) times.add(time);
  };
  add(own);
  if (policy === 'needed') {
    // Where what carries it has keys its own motion bends too.
    for (const shot of [before, after]) {
      const rig = rigOf(shot);
      const open = shot.relations.filter((relation) => relation.node === node).flatMap(readsOf);
      const seen = new Set<string>();
      for (let id = open.pop() ?? null; id !== null; id = open.pop() ?? null) {
        if (seen.has(id)) continue;
        seen.add(id);
        const row = rig.indexOf(id);
        if (row < 0) continue;
        add(Object.values(shot.curves[row] ?? {}));
        const { parent } = rig.nodes[row]!;
        if (parent !== null) open.push(parent);
      }
    }
  }
  return [...times].sort((a, b) => a - b);
}

/** How far nodes lie from where they lay, on frames and between them. @param wanted as above */
export function differences(
  before: Shot,
  after: Shot,
  nodes: readonly string[],
  { start, end }: FrameRange,
  wanted: (node: string, frame: number) => Seat | null = () => null,
): Measure[] {
  const looks: readonly (readonly [string, readonly number[]])[] = [
    ['on frames', [0]],
    ['between frames', [0.2, 0.4, 0.6, 0.8]],
  ];
  const [rigBefore, rigAfter] = [rigOf(before), rigOf(after)];
  return looks.flatMap(([words, parts]): Measure[] => {
    let [far, farAt, turned, turnedAt] = [0, { node: '', frame: start }, 0, { node: '', frame: start }];
    for (const frame of framesOf({ start, end }))
      for (const part of parts) {
        if (frame + part > end) continue;
        const [was, is] = [worldAt(before, frame + part), worldAt(after, frame + part)];
        for (const node of nodes) {
          const row = rigAfter.indexOf(node);
          if (row < 0) continue;
          const meant = wanted(node, frame + part) ?? seatFrom(was, rigBefore.indexOf(node));
          const found = seatFrom(is, row);
          const away = Math.hypot(...[12, 13, 14].map((k) => meant.matrix[k]! - found.matrix[k]!));
          const angle = angleBetween(meant.turn, found.turn);
          if (away > far) [far, farAt] = [away, { node, frame: frame + part }];
          if (angle > turned) [turned, turnedAt] = [angle, { node, frame: frame + part }];
        }
      }
    return [
      { name: `greatest distance ${words}`, value: far * 10, unit: 'mm', where: farAt },
      { name: `greatest turn ${words}`, value: turned, unit: '°', where: turnedAt },
    ];
  });
}
