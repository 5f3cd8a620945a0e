/**
 * From a shot and a frame to channel values and world transforms.
 *
 * Order: base curves → layers from bottom to top → values → world. The signals of a shot are made once, from those of the shot before it where
 * nothing changed (`layers/signal.ts`), and go with it.
 */
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { OtherTimes, RigPart, WorldPose } from '../rig/pose.ts';
import { stand } from '../rig/relations/stand.ts';
import type { Rig } from '../rig/rig.ts';
import { kindOf } from '../layers/kinds.ts';
import type { Layer } from '../layers/layer.ts';
import { constantSignal, signalOf } from '../layers/signal.ts';
import type { Signal, Signals } from '../layers/signal.ts';
import type { FrameRange } from '../base/frame-range.ts';
import type { FrameGrid } from '../curve/samples.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { contextOf, soundingLayers } from './context.ts';
import { drawingsOf } from './drawings.ts';

/** A layer that counts, and the signals that it is laid over. */
export interface Level {
  readonly layer: Layer;
  readonly below: Signals;
}

interface Stack {
  readonly base: Signals;
  /** From bottom to top. */
  readonly levels: readonly Level[];
  readonly top: Signals;
}

/** Shots whose signals are kept, the last one that was asked first: a history holds hundreds, and ten layers over a thousand channels make megabytes for each. */
const MOST_STACKS = 8;
let stacks: { readonly shot: Shot; readonly stack: Stack }[] = [];

/** The signals of a shot on every level. */
export function stackOf(shot: Shot): Stack {
  if (stacks[0]?.shot === shot) return stacks[0].stack;
  const known = stacks.find((one) => one.shot === shot) ?? { shot, stack: makeStack(shot) };
  stacks = [known, ...stacks.filter((one) => one !== known)].slice(0, MOST_STACKS);
  return known.stack;
}

function makeStack(shot: Shot): Stack {
  const context = contextOf(shot);
  const base = baseOf(shot);
  const levels: Level[] = [];
  let top: Signals = base;
  for (const layer of soundingLayers(shot)) {
    levels.push({ layer, below: top });
    top = kindOf(layer)!.over(layer, top, context);
  }
  return { base, levels, top };
}

function baseOf(shot: Shot): Signals {
  return rigOf(shot).channels.map((channel): Signal => {
    const curve = shot.curves[channel.node]?.[channel.name];
    return curve ? signalOf(curve) : constantSignal(channel, channel.rest);
  });
}

/**
 * Writes the value of every channel at a frame.
 * @param out one number for each of the rig's channels
 * @param fromRows read whole frames from what is kept, which costs memory and pays when frames come back
 */
export function channelValues(shot: Shot, frame: number, out: Float64Array, fromRows = false): void {
  const { top } = stackOf(shot);
  const at = frame - shot.range.start;
  const whole = Number.isInteger(at) && frame >= shot.range.start && frame <= shot.range.end;
  if (!fromRows || !whole) {
    for (let c = 0; c < top.length; c += 1) out[c] = top[c]!.at(frame);
    return;
  }
  const rows = playedRows(top, shot.range);
  if (rows) {
    rows.read(at, out);
    return;
  }
  const grid = gridOf(shot.range);
  for (let c = 0; c < top.length; c += 1) out[c] = top[c]!.column(grid)[at]!;
}

const gridOf = ({ start, end }: FrameRange): FrameGrid => ({ start, count: Math.floor(end - start) + 1 });

/** Numbers that are kept for one shot that plays; a larger one is read from its columns. */
const MOST_PLAYED = 2e6;
/** Shots that play at once: variants side by side. */
const MOST_PLAYING = 4;

/** The values of a shot that plays, frame by frame: columns lie far apart in memory, and a frame asks for all of them. */
class PlayedRows {
  readonly top: Signals;
  readonly grid: FrameGrid;
  private readonly values: Float64Array;
  private readonly known: Uint8Array;

  constructor(top: Signals, grid: FrameGrid) {
    [this.top, this.grid] = [top, grid];
    this.values = new Float64Array(grid.count * top.length);
    this.known = new Uint8Array(grid.count);
  }
  /** Writes a frame's values. */
  read(at: number, out: Float64Array): void {
    const width = this.top.length;
    const from = at * width;
    if (this.known[at] === 0) {
      for (let c = 0; c < width; c += 1) this.values[from + c] = this.top[c]!.column(this.grid)[at]!;
      this.known[at] = 1;
    }
    out.set(this.values.subarray(from, from + width));
  }
}

let playing: readonly PlayedRows[] = [];

function playedRows(top: Signals, range: FrameRange): PlayedRows | null {
  const { start, count } = gridOf(range);
  const known = playing.find(
    ({ grid, top: of }) => of === top && grid.start === start && grid.count === count,
  );
  if (known) return known;
  if (count * top.length > MOST_PLAYED) return null;
  const made = new PlayedRows(top, { start, count });
  playing = [made, ...playing].slice(0, MOST_PLAYING);
  return made;
}

/** The values of all channels at a frame, in the rig's order. */
export function valuesAt(shot: Shot, frame: number): Float64Array {
  const values = new Float64Array(rigOf(shot).channels.length);
  channelValues(shot, frame, values);
  return values;
}

/** Bytes of poses that are kept for one shot; the oldest goes first. */
const MOST_POSE_BYTES = 4e6;
/** Shots whose poses are kept, the last one that was asked first: a history holds hundreds, and looks at few. */
const MOST_POSED = 6;
let posed: readonly { readonly shot: Shot; readonly poses: Map<number, WorldPose> }[] = [];

function posesOf(shot: Shot): Map<number, WorldPose> {
  if (posed[0]?.shot === shot) return posed[0].poses;
  const known = posed.find((one) => one.shot === shot) ?? { shot, poses: new Map<number, WorldPose>() };
  posed = [known, ...posed.filter((one) => one !== known)].slice(0, MOST_POSED);
  return known.poses;
}

/**
 * The world transforms of all nodes at a frame. They are kept for a while: whoever asks for the same gets the same, and must not write to it.
 */
export function worldAt(shot: Shot, frame: number, playing = false): WorldPose {
  const known = posesOf(shot);
  const found = known.get(frame);
  if (found) return found;
  const rig = rigOf(shot);
  const values = new Float64Array(rig.channels.length);
  const pose = { ...newWorldPose(rig), values };
  worldInto(shot, frame, values, pose, playing);
  const most = Math.max(4, Math.floor(MOST_POSE_BYTES / (8 * (values.length + 20 * rig.nodes.length))));
  // A map keeps the order in which its keys came.
  if (known.size >= most) known.delete(known.keys().next().value!);
  known.set(frame, pose);
  return pose;
}

/**
 * The same, written into arrays of the caller's.
 * @param values one number for each of the rig's channels; they are written too
 * @param part the rows that are wanted; others, and their channels, stay what they are
 */
export function worldInto(
  shot: Shot,
  frame: number,
  values: Float64Array,
  pose: WorldPose,
  playing = false,
  part: RigPart | null = null,
): void {
  const rig = rigOf(shot);
  if (part) {
    const { top } = stackOf(shot);
    for (const c of part.channels) values[c] = top[c]!.at(frame);
  } else channelValues(shot, frame, values, playing);
  computeWorld(rig, values, pose, otherTimes(shot, rig, frame), part?.order);
}

/** Frames whose values are worked out together: each curve is walked once for all of them. */
const WALKED = 64;

/**
 * The world transforms at rising frames, one after the other: for who looks at a whole range once.
 * @param part the rows that are wanted; all when left out
 * @yields the same arrays each time; they are good until the next one is asked for
 */
export function* worldsOver(
  shot: Shot,
  frames: Float64Array,
  part: RigPart | null = null,
): Generator<{ readonly values: Float64Array; readonly pose: WorldPose }, void> {
  const rig = rigOf(shot);
  const { top } = stackOf(shot);
  const width = top.length;
  const block = new Float64Array(width * WALKED);
  const pose = newWorldPose(rig);
  const asked = part?.channels ?? [...top.keys()];
  for (let from = 0; from < frames.length; from += WALKED) {
    const some = frames.subarray(from, from + WALKED);
    for (const c of asked) top[c]!.into(block, c, width, some);
    for (let i = 0; i < some.length; i += 1) {
      const values = block.subarray(i * width, (i + 1) * width);
      computeWorld(rig, values, pose, otherTimes(shot, rig, some[i]!), part?.order);
      yield { values, pose };
    }
  }
}

const otherTimes = (shot: Shot, { looksElsewhere }: Rig, frame: number): OtherTimes | null =>
  looksElsewhere
    ? {
        frame,
        at: (other) => worldAt(shot, other),
        free: (other) => worldAt(withoutStands(shot), other),
        drawn: (node, other) => drawingsOf(shot, node)?.at(other) ?? other,
      }
    : null;

const free = new WeakMap<Shot, Shot>();

/** The shot as it would be if nothing were held standing. */
function withoutStands(shot: Shot): Shot {
  let known = free.get(shot);
  if (!known) {
    const relations = shot.relations.filter(({ kind }) => kind !== stand.kind);
    free.set(shot, (known = relations.length === shot.relations.length ? shot : { ...shot, relations }));
  }
  return known;
}

/** The place of one node's origin in a pose, cm. */
export function placeIn(pose: WorldPose, node: number): [number, number, number] {
  const m = node * 16;
  return [pose.matrices[m + 12]!, pose.matrices[m + 13]!, pose.matrices[m + 14]!];
}
