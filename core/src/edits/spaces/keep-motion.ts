/**
 * Keeping a motion while what carries it changes: the channels of nodes are written anew so that they lie in the world where they lay.
 *
 * The worlds come from the shot as it was (or from whoever asks, for nodes that shall follow something); what carries the nodes comes from the
 * shot as it shall be. Angles go on from frame to frame, so that nothing turns the long way.
 */
import { bisectLeft, bisectRight } from '../../base/bisect.ts';
import { framesOf } from '../../base/frame-range.ts';
import { rising } from '../../base/frames.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import {
  curveAlong,
  curveThrough,
  curveWithin,
  shownBy,
  straightThrough,
} from '../../curve/curve-through.ts';
import { FLAG } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { channelsOn } from '../../rig/keep.ts';
import { channelKind, TRANSFORM } from '../../rig/node.ts';
import { moversOf, partFor } from '../../rig/influence.ts';
import { newWorldPose, seatIn } from '../../rig/pose.ts';
import type { Rig } from '../../rig/rig.ts';
import type { Seat, WorldPose } from '../../rig/relations/relation.ts';
import { newSeat, seatInto, standingOn } from '../../rig/relations/seat.ts';
import type { Standing } from '../../rig/relations/seat.ts';
import { stackOf, valuesAt, worldInto } from '../../evaluation/evaluation.ts';
import { jumpsInWorld } from '../../evaluation/jumps.ts';
import { descend } from '../../evaluation/solve.ts';
import { constantCurve, curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { refined, spliced } from './spliced.ts';

/** A node whose channels are written over some frames. */
export interface Rewrite {
  readonly node: string;
  readonly range: FrameRange;
  /** existing: where it has keys, and where the tolerance asks for more; needed: as few as hold it; hold: one, on the first frame; frames: on each, straight between, as captured motion is; or on these frames alone. */
  readonly keys: 'existing' | 'needed' | 'hold' | 'frames' | readonly number[];
  /** Whether what is there is nearly right, and is only made more exact. */
  readonly refines?: true;
  /** How many times as far it may be off as what was asked: what hangs on it feels so much less of that. */
  readonly slack?: number;
  /** The node of the shot as it was whose motion it takes up, where that is another. */
  readonly follows?: string;
}

export interface KeepWishes {
  /** cm */
  readonly distance: number;
  /** degrees */
  readonly angle: number;
}

export interface KeptMotion {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly keys: number;
  /** What is to be said of it. */
  readonly findings: readonly Finding[];
}

/**
 * @param before the shot whose motion stays, @param after the shot with other relations, with at least the nodes of `before` in their rows
 * @param wanted where a node shall lie instead; null leaves it where it lay
 */
export function* keepMotion(
  before: Shot,
  after: Shot,
  rewrites: readonly Rewrite[],
  { distance, angle }: KeepWishes,
  wanted: (node: string, frame: number) => Seat | Standing | null = () => null,
): Work<KeptMotion, Shot> {
  const rig = rigOf(after);
  const changed = new Map<ChannelId, Curve>();
  const sceneAt = scenesOf(
    before,
    after,
    rewrites.map(({ node }) => rig.indexOf(node)),
  );
  const baked = new Set<ChannelId>();
  let [keys, beyond] = [0, 0];
  for (const [i, { node, range, keys: policy, refines, follows, slack = 1 }] of rewrites.entries()) {
    if (i > 0) yield { done: i / rewrites.length };
    const row = rig.indexOf(node);
    const names = rig.nodes[row]!.channels.filter((name) => TRANSFORM.includes(name));
    const moving = underLayers(after, row, motionOf(sceneAt, after, row, range, wanted));
    const own = names.map((name) => {
      const id = `${node}.${name}`;
      const curve = changed.get(id) ?? curveOf(after, null, id);
      // What repeats becomes keys first: keys past it would break the cycle, and with it what shows elsewhere.
      const ready = bakeLeads(curve, after.range.start, after.range.end);
      if (ready !== curve) baked.add(id);
      return ready;
    });
    const locks = names.find((name, k) => isLocked(after, `${node}.${name}`, own[k]!, range));
    if (locks !== undefined)
      refuse('lockedMotion', { node, channel: `${node}.${locks}` }, `${node}.${locks}`);
    const bends =
      policy === 'needed' || policy === 'existing'
        ? bendsOf(
            [
              [before, follows ?? node],
              [after, node],
            ],
            own,
            range,
          )
        : [];
    const times = policy === 'needed' ? bends : timesFor(own, range, policy);
    const jumps = rising(jumpsInWorld(before, node, range), jumpsInWorld(after, node, range));
    for (const [k, name] of names.entries()) {
      const slot = TRANSFORM.indexOf(name);
      const shown = shownBy((frame) => moving(frame)[slot]!, jumps);
      const tolerance = slack * toleranceOf(name, distance, angle);
      const inner =
        policy === 'needed'
          ? curveWithin(shown, times, tolerance)
          : policy === 'existing'
            ? curveAlong(shown, times, tolerance, bends)
            : policy === 'frames'
              ? straightThrough(shown, times)
              : curveThrough(shown, times);
      const still = own[k]!.times.length === 0 && inner.values.every((value) => value === restOf(name));
      if (still) continue;
      keys += inner.times.length;
      // What had no keys was at rest, and outside the range it stays so.
      const outside = own[k]!.times.length > 0 ? own[k]! : constantCurve(restOf(name), after.range.start);
      const { start, end } = after.range;
      beyond += outside.times.filter((time) => time < start - 1e-6 || time > end + 1e-6).length;
      changed.set(
        `${node}.${name}`,
        refines
          ? refined(outside, inner, range)
          : spliced(outside, inner, range, withKeysOutside(after.range, outside)),
      );
    }
  }
  const findings = [
    ...(baked.size > 0 ? [finding('repeatsBaked', {}, [...baked])] : []),
    ...(beyond > 0 ? [finding('outsideStays', {}, beyond)] : []),
  ];
  return { shot: withCurves(after, null, changed), touched: [...changed.keys()], keys, findings };
}

/** The shot's frames, and as far beyond them as a curve has keys: those are kept as they are. */
function withKeysOutside({ start, end }: FrameRange, { times }: Curve): FrameRange {
  return {
    start: Math.min(start, times[0] ?? start),
    end: Math.max(end, times[times.length - 1] ?? end),
  };
}

/** Whether a node's place cannot be written over a range: a channel of it is locked, or a key. */
export function isHeldByLocks(shot: Shot, node: string, range: FrameRange): boolean {
  const names = rigOf(shot).nodes.find(({ id }) => id === node)?.channels ?? [];
  return names.some((name) => {
    const id = `${node}.${name}`;
    return TRANSFORM.includes(name) && isLocked(shot, id, curveOf(shot, null, id), range);
  });
}

const isLocked = (shot: Shot, channel: ChannelId, { times, flags }: Curve, { start, end }: FrameRange) =>
  shot.locked.includes(channel) ||
  times.some((time, row) => time >= start && time <= end && (flags[row]! & FLAG.locked) !== 0);
const restOf = (name: string) => (channelKind(name) === 'scale' ? 1 : 0);
const toleranceOf = (name: string, distance: number, angle: number) =>
  ({ position: distance / 2, rotation: angle / 2, scale: 1e-4, other: 1e-4 })[channelKind(name)];

/** By the order of `TRANSFORM`. */
type Values = readonly number[];

interface Scene {
  readonly values: Float64Array;
  readonly pose: WorldPose;
}

const newScene = (rig: Rig): Scene => ({
  values: new Float64Array(rig.channels.length),
  pose: newWorldPose(rig),
});

/** Frames of one node that are kept while its channels are fitted one after the other. */
const MOST_BETWEEN = 150_000;

/** Bytes of scenes that are kept, each of the shot that shall be with every node where it lay: all nodes that are written ask for the same frames. */
const MOST_SCENES = 96e6;

/** @param nodes the rows that are asked for */
function scenesOf(before: Shot, after: Shot, nodes: readonly number[]): (frame: number) => Scene {
  const rig = rigOf(after);
  const part = partFor(rig, nodes);
  // What carries them lay somewhere too.
  const earlier = partFor(
    rigOf(before),
    [...part.order].filter((row) => row < before.nodes.length),
  );
  const rows = before.nodes.length;
  const most = Math.max(64, Math.floor(MOST_SCENES / (8 * (rig.channels.length + 20 * rig.nodes.length))));
  const known = new Map<number, Scene>();
  const was = newScene(rigOf(before));
  return (frame) => {
    const found = known.get(frame);
    if (found) return found;
    const scene = newScene(rig);
    worldInto(after, frame, scene.values, scene.pose, false, part);
    if (before !== after) {
      worldInto(before, frame, was.values, was.pose, false, earlier);
      scene.pose.matrices.set(was.pose.matrices.subarray(0, rows * 16));
      scene.pose.turns.set(was.pose.turns.subarray(0, rows * 4));
    }
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
  wanted: (node: string, frame: number) => Seat | Standing | null,
): (frame: number) => Values {
  const rig = rigOf(after);
  const { id, rest } = rig.nodes[row]!;
  const [seat, where] = [newSeat(), newSeat()];
  // What nothing carries, and what shall lie where somebody says, asks for no scene.
  const free = rig.parents[row]! < 0 && !rig.relations[row];
  const lay = (frame: number, near: Values): Values => {
    const wish = wanted(id, frame);
    if (!wish || !free) {
      const { values, pose } = sceneAt(frame);
      seatInto(where, pose, row);
      seatIn(seat, rig, values, pose, row);
    }
    const found = [...near];
    const world = wish === null ? where : 'at' in wish ? standingOn(seat, rest.scale, wish) : wish;
    if (!channelsOn(found, rig, row, seat, world, near)) refuse('flatSpace', { frame }, id);
    return found;
  };
  const nearBy = (frame: number): Values => {
    const present = valuesAt(after, frame);
    return TRANSFORM.map((name, slot) => present[rig.slots[row * 9 + slot]!] ?? restOf(name));
  };
  const whole: Values[] = [];
  for (const frame of framesOf(range)) whole.push(lay(frame, whole.at(-1) ?? nearBy(frame)));
  const between = new Map<number, Values>();
  return (frame) => {
    const at = frame - range.start;
    const known = Number.isInteger(at) ? whole[at] : between.get(frame);
    if (known) return known;
    const found = lay(frame, whole[Math.floor(at)] ?? whole.at(-1)!);
    if (between.size > MOST_BETWEEN) between.clear();
    between.set(frame, found);
    return found;
  };
}

/** What the keys must be so that the values show above the layers over them. */
function underLayers(after: Shot, row: number, shown: (frame: number) => Values): (frame: number) => Values {
  const rig = rigOf(after);
  const { base, top } = stackOf(after);
  const slots = TRANSFORM.map((_, slot) => rig.slots[row * 9 + slot]!);
  if (slots.every((c) => c < 0 || top[c] === base[c])) return shown;
  const known = new Map<number, Values>();
  return (frame) => {
    let keyed = known.get(frame);
    if (keyed) return keyed;
    const values = shown(frame);
    const wants = slots.flatMap((c, slot) => (c < 0 ? [] : [[c, { frame, value: values[slot]! }] as const]));
    const { solved, refused } = descend(after, null, new Map(wants));
    keyed = values.map((value, slot) => {
      const c = slots[slot]!;
      if (c < 0 || top[c] === base[c]) return value;
      const want = solved.get(c);
      // Another frame's key would be asked for: what shows depends on more than what is written here.
      if (want?.frame === frame) return want.value;
      return refuse('layerOverSpace', {}, refused.get(c)?.by ?? '', rig.nodes[row]!.id);
    });
    known.set(frame, keyed);
    return keyed;
  };
}

/** Where keys are to stand: rising, both ends of the range among them. */
function timesFor(
  own: readonly Curve[],
  { start, end }: FrameRange,
  policy: Exclude<Rewrite['keys'], 'needed'>,
): number[] {
  if (policy === 'hold') return [start];
  if (policy === 'frames') return [...framesOf({ start, end })];
  const times = policy === 'existing' ? [start, ...keyTimes(own, { start, end }), end] : policy;
  return [...new Set(times)].sort((a, b) => a - b);
}

/** Where its motion may bend: where it has keys, and where what carries it has some, now or then; both ends among them. */
function bendsOf(
  followed: readonly (readonly [Shot, string])[],
  own: readonly Curve[],
  range: FrameRange,
): number[] {
  const times = new Set([range.start, ...keyTimes(own, range), range.end]);
  for (const [shot, id] of followed) {
    const rig = rigOf(shot);
    const row = rig.indexOf(id);
    for (const mover of row < 0 ? [] : moversOf(rig, [row]))
      for (const time of keyTimes(Object.values(shot.curves[mover] ?? {}), range)) times.add(time);
  }
  return [...times].sort((a, b) => a - b);
}

const keyTimes = (curves: readonly Curve[], { start, end }: FrameRange) =>
  curves.flatMap(({ times }) => [...times.subarray(bisectLeft(times, start), bisectRight(times, end))]);
