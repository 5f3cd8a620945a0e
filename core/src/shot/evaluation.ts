/**
 * From a shot and a frame to channel values and world transforms.
 *
 * Order: base curve → passes from bottom to top → values → world. Nothing is kept but samples on whole
 * frames, by the identity of the curves they come from (`curve/samples.ts`) and of the shot.
 */
import { evaluate } from '../curve/evaluate.ts';
import { samplesOf } from '../curve/samples.ts';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { WorldPose } from '../rig/pose.ts';
import type { Rig } from '../rig/rig.ts';
import { applyPass, soundingPasses } from './passes.ts';
import type { Reader } from './passes.ts';
import { rigOf } from './shot.ts';
import type { Shot } from './shot.ts';

/** Reads curves at a frame by solving them. */
export function readerAt(frame: number): Reader {
  return (curve, absent) => (curve ? evaluate(curve, frame, absent) : absent);
}

/** Reads a curve on a whole frame of the shot from its samples. */
function sampling(shot: Shot, frame: number): Reader {
  const grid = { start: shot.range.start, count: Math.floor(shot.range.end - shot.range.start) + 1 };
  const at = frame - grid.start;
  return (curve, absent) => (curve ? samplesOf(curve, grid, absent)[at]! : absent);
}

/**
 * Writes the value of every channel at a frame.
 * @param out one number for each of the rig's channels
 * @param playing read whole frames from samples, which costs memory and pays when frames come back
 */
export function channelValues(shot: Shot, frame: number, out: Float64Array, playing = false): void {
  const whole =
    Number.isInteger(frame - shot.range.start) && frame >= shot.range.start && frame <= shot.range.end;
  const read = playing && whole ? sampling(shot, frame) : readerAt(frame);
  const rig = rigOf(shot);
  for (let i = 0; i < rig.nodes.length; i += 1) nodeValues(shot, rig, i, read, out);
  for (const pass of soundingPasses(shot)) applyPass(rig, pass, read, out);
}

/** The base values of all channels at a frame, below every pass. */
export function baseValuesAt(shot: Shot, frame: number): Float64Array {
  const rig = rigOf(shot);
  const values = new Float64Array(rig.channels.length);
  const read = readerAt(frame);
  for (let i = 0; i < rig.nodes.length; i += 1) nodeValues(shot, rig, i, read, values);
  return values;
}

function nodeValues(shot: Shot, rig: Rig, i: number, read: Reader, out: Float64Array): void {
  const entries = shot.curves[i];
  for (let c = rig.firstChannel[i]!; c < rig.firstChannel[i + 1]!; c += 1) {
    const channel = rig.channels[c]!;
    out[c] = entries ? read(entries[channel.name], channel.rest) : channel.rest;
  }
}

/** The values of all channels at a frame, in the rig's order. */
export function valuesAt(shot: Shot, frame: number): Float64Array {
  const values = new Float64Array(rigOf(shot).channels.length);
  channelValues(shot, frame, values);
  return values;
}

/** The world transforms of all nodes at a frame. */
export function worldAt(shot: Shot, frame: number, playing = false): WorldPose {
  const rig = rigOf(shot);
  const values = new Float64Array(rig.channels.length);
  channelValues(shot, frame, values, playing);
  const pose = newWorldPose(rig);
  computeWorld(rig, values, pose);
  return pose;
}

/** The place of one node's origin in a pose, cm. */
export function placeIn(pose: WorldPose, node: number): [number, number, number] {
  const m = node * 16;
  return [pose.matrices[m + 12]!, pose.matrices[m + 13]!, pose.matrices[m + 14]!];
}
