/** Samplers of a glTF file as tracks, and tracks as curves of channels. */
import type { AnimationSampler } from '@gltf-transform/core';
import { refuse } from '../../base/finding.ts';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { eulerFromQuat } from '../../math/euler.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply, unit } from '../../math/quaternion.ts';
import type { Node, Vector } from '../../rig/node.ts';
import { turnSegments } from './rotation-keys.ts';
import type { TurnSegment } from './rotation-keys.ts';
import { between, numbersOf } from './track.ts';
import type { Track } from './track.ts';

const CM_PER_METRE = 100;

const WIDTHS: Record<string, number> = { VEC3: 3, VEC4: 4 };

/** Refuses a sampler whose times and values do not go together. */
export function checkSampler(sampler: AnimationSampler, path: string): void {
  const input = sampler.getInput();
  const output = sampler.getOutput();
  const broken = (problem: string): never => refuse('gltfBroken', { path }, `${path} ${problem}`);
  if (!input || !output) return broken('lacks its times or its values');
  const per = sampler.getInterpolation() === 'CUBICSPLINE' ? 3 : 1;
  const vector = WIDTHS[output.getType()] !== undefined;
  if (vector && output.getCount() !== input.getCount() * per) {
    broken(`has ${output.getCount()} values for ${input.getCount()} times`);
  }
  for (const accessor of [input, output]) {
    const numbers = (accessor.getArray() as ArrayLike<number> | null) ?? [];
    for (let i = 0; i < numbers.length; i += 1)
      if (!Number.isFinite(numbers[i])) broken('holds something that is not a number');
  }
  for (let k = 0; k < input.getCount(); k += 1) {
    if (input.getScalar(k) < 0 || (k > 0 && !(input.getScalar(k) > input.getScalar(k - 1))))
      broken('has times that do not rise');
  }
}

/** @param targets of weights: how many there are */
export function readTrack(sampler: AnimationSampler, fps: number, start: number, targets?: number): Track {
  const seconds = sampler.getInput()!;
  const output = sampler.getOutput()!;
  const count = seconds.getCount();
  const mode = sampler.getInterpolation();
  const width = targets ?? WIDTHS[output.getType()] ?? 1;
  const times = Float64Array.from({ length: count }, (_, k) => {
    const frame = seconds.getScalar(k) * fps;
    // Seconds are float32: a whole frame comes back a little off.
    const near = Math.max(1e-3, 2 ** -22 * frame);
    return start + (Math.abs(frame - Math.round(frame)) < near ? Math.round(frame) : frame);
  });
  const per = mode === 'CUBICSPLINE' ? 3 : 1;
  const element: number[] = [];
  const read = (place: number, scale: number) => {
    const result = new Float64Array(count * width);
    for (let k = 0; k < count; k += 1) {
      if (targets === undefined) output.getElement(k * per + place, element);
      for (let i = 0; i < width; i += 1)
        result[k * width + i] =
          (targets === undefined ? element[i]! : output.getScalar((k * per + place) * targets + i)) * scale;
    }
    return result;
  };
  return {
    ...{ times, mode, width },
    values: read(per === 3 ? 1 : 0, 1),
    tangentsIn: per === 3 ? read(0, 1 / fps) : null,
    tangentsOut: per === 3 ? read(2, 1 / fps) : null,
  };
}

/** The three curves of a translation (against the rest pose, cm) or a scale (as a factor of the rest pose). */
export function vectorCurves(
  entries: Record<string, Curve>,
  node: Node,
  letter: 't' | 's',
  track: Track,
): void {
  const rest: Vector = letter === 't' ? node.rest.translation : node.rest.scale;
  ['x', 'y', 'z'].forEach((axis, i) => {
    const factor = letter === 't' ? CM_PER_METRE : 1 / (rest[i] || 1);
    const base = letter === 't' ? rest[i]! : 0;
    entries[`${letter}${axis}`] = buildCurve(track.times.length, (columns) => {
      columns.times.set(track.times);
      for (let k = 0; k < track.times.length; k += 1) {
        columns.values[k] = track.values[k * 3 + i]! * factor - base;
        if (track.tangentsIn && track.tangentsOut) {
          columns.slopesIn[k] = track.tangentsIn[k * 3 + i]! * factor;
          columns.slopesOut[k] = track.tangentsOut[k * 3 + i]! * factor;
          if (columns.slopesIn[k] !== columns.slopesOut[k]) columns.flags[k] = FLAG.broken;
        }
      }
      columns.segments.fill(
        track.mode === 'STEP' ? SEGMENT.stepped : track.mode === 'LINEAR' ? SEGMENT.linear : SEGMENT.cubic,
      );
      const kind = track.mode === 'CUBICSPLINE' ? TANGENT.free : TANGENT.linear;
      columns.tangentsIn.fill(kind);
      columns.tangentsOut.fill(kind);
    });
  });
}

/** The three Euler curves of a rotation track; returns how many keys were added between its own. */
export function rotationCurves(entries: Record<string, Curve>, node: Node, track: Track): number {
  const back = conjugate(node.rest.rotation);
  const count = track.times.length;
  const quaternionAt = (k: number) => numbersOf(track, track.values, k) as Quaternion;
  const own = (q: Quaternion) => multiply(back, unit(q));
  const segments: TurnSegment[] = [];
  let near: Triple = eulerFromQuat(own(quaternionAt(0)), node.order);
  const first = near;
  for (let k = 0; k + 1 < count; k += 1) {
    const start = track.times[k]!;
    const gap = track.times[k + 1]! - start;
    if (track.mode === 'STEP') {
      const to = eulerFromQuat(own(quaternionAt(k + 1)), node.order, near);
      segments.push({
        start,
        end: start + gap,
        from: near,
        to,
        straight: true,
        slopeOut: [0, 0, 0],
        slopeIn: [0, 0, 0],
      });
    } else {
      const turnAt = (frame: number) => own(between(track, k, frame) as Quaternion);
      segments.push(...turnSegments(turnAt, start, start + gap, near, node.order));
    }
    near = segments[segments.length - 1]!.to;
  }
  ['x', 'y', 'z'].forEach((axis, i) => {
    entries[`r${axis}`] = buildCurve(segments.length + 1, (columns) => {
      columns.times[0] = track.times[0]!;
      columns.values[0] = first[i]!;
      columns.tangentsIn.fill(TANGENT.free);
      columns.tangentsOut.fill(TANGENT.free);
      segments.forEach((segment, s) => {
        columns.times[s + 1] = segment.end;
        columns.values[s + 1] = segment.to[i]!;
        columns.segments[s] =
          track.mode === 'STEP' ? SEGMENT.stepped : segment.straight ? SEGMENT.linear : SEGMENT.cubic;
        columns.slopesOut[s] = segment.slopeOut[i]!;
        columns.slopesIn[s + 1] = segment.slopeIn[i]!;
        if (s > 0 && columns.slopesIn[s] !== columns.slopesOut[s]) columns.flags[s] = FLAG.broken;
      });
      columns.segments[segments.length] = columns.segments[Math.max(0, segments.length - 1)]!;
    });
  });
  return segments.length + 1 - count;
}
