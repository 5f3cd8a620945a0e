/**
 * Motion reflected onto the other side. Where a reflection is no more than a sign for each channel, keys go over as they are;
 * where it mixes axes, the channels are keyed anew wherever any of them has a key.
 */
import type { FrameRange } from '../../base/frame-range.ts';
import { SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { buildCurve, rebuild } from '../../curve/rebuild.ts';
import { restValue } from '../../rig/node.ts';
import type { Rig } from '../../rig/rig.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import type { PlaneChoice } from '../../mirror/mirror-plane.ts';
import { reflectedValues, signsBetween } from '../../mirror/reflection.ts';
import type { Mirroring } from '../../mirror/reflection.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { partOf } from '../shared/lay-part.ts';
import { mirrorings } from './flipped-pose.ts';

export interface FlippedCurves {
  /** By the channel that gets it; frames from 0 at the range's start. */
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  readonly alone: readonly string[];
  readonly keyedAnew: readonly string[];
}

/**
 * @param left controls that are neither flipped nor flipped onto; @param ends which parts get keys on their ends
 * @param looks the frames at which it is found out about which plane, where that goes along with the figure
 */
export function flippedCurves(
  shot: Shot,
  layer: string | null,
  nodes: ReadonlySet<string>,
  left: ReadonlySet<string>,
  range: FrameRange,
  ends: 'always' | 'cut',
  choice: PlaneChoice,
  looks: readonly number[] = [0, 0.25, 0.5, 0.75, 1].map(
    (part) => range.start + part * (range.end - range.start),
  ),
): FlippedCurves {
  const rig = rigOf(shot);
  const mirroringOf = mirrorings(
    shot,
    looks.map((frame) => valuesAt(shot, frame)),
    choice,
  );
  const curves = new Map<ChannelId, Curve>();
  const alone: string[] = [];
  const keyedAnew: string[] = [];
  rig.nodes.forEach((node, from) => {
    if (!nodes.has(node.id) || left.has(node.id)) return;
    const own = node.channels.map((name) => [name, curveOf(shot, layer, `${node.id}.${name}`)] as const);
    const partner = node.pair === null ? -1 : rig.indexOf(node.pair);
    const keyed = own.some(([, curve]) => curve.times.length > 0);
    if (partner < 0) {
      if (keyed) alone.push(node.id);
      return;
    }
    if (left.has(node.pair!)) return;
    const target = rig.nodes[partner]!;
    const theirs = target.channels.some(
      (name) => curveOf(shot, layer, `${target.id}.${name}`).times.length > 0,
    );
    if (!keyed && !theirs) return;
    const parts = new Map(
      own.map(([name, curve]) => [
        name,
        partOrStill(curve, layer === null ? restValue(name) : 0, range, ends),
      ]),
    );
    const needed = target.channels.filter(
      (name) =>
        (parts.has(name) && curveOf(shot, layer, `${node.id}.${name}`).times.length > 0) ||
        curveOf(shot, layer, `${target.id}.${name}`).times.length > 0,
    );
    const mirroring = mirroringOf(from, layer !== null);
    // What carries the character and stands still goes on as it does.
    if (mirroring === null) {
      for (const [name, part] of parts)
        if (curveOf(shot, layer, `${node.id}.${name}`).times.length > 0)
          curves.set(`${node.id}.${name}`, part);
      return;
    }
    const present = Object.fromEntries(
      own.map(([name, curve]) => [name, evaluate(curve, range.start, layer === null ? restValue(name) : 0)]),
    );
    const signs = signsBetween(rig, from, partner, mirroring, present);
    if (signs) {
      for (const name of needed) {
        const part = parts.get(name);
        if (part)
          curves.set(`${target.id}.${name}`, signed(part, signs.signs[name] ?? 1, signs.shifts[name] ?? 0));
      }
      return;
    }
    keyedAnew.push(target.id);
    for (const [name, curve] of mixed(rig, from, partner, parts, mirroring))
      if (target.channels.includes(name)) curves.set(`${target.id}.${name}`, curve);
  });
  return { curves, alone, keyedAnew };
}

/** The part of a curve, or two keys at rest where there is none. */
function partOrStill(curve: Curve, still: number, range: FrameRange, ends: 'always' | 'cut'): Curve {
  if (curve.times.length > 0) return partOf(curve, range, ends);
  return buildCurve(2, (columns) => {
    columns.times[1] = range.end - range.start;
    columns.values.fill(still);
  });
}

function signed(curve: Curve, sign: 1 | -1, shift: number): Curve {
  if (sign === 1 && shift === 0) return curve;
  // Never −0: flipped twice it must be the same to the bit.
  const turned = (value: number) => (value === 0 ? 0 : sign * value);
  return rebuild(curve, null, (columns) => {
    for (let row = 0; row < columns.times.length; row += 1) {
      columns.values[row] = turned(columns.values[row]!) + shift;
      columns.slopesIn[row] = turned(columns.slopesIn[row]!);
      columns.slopesOut[row] = turned(columns.slopesOut[row]!);
    }
  });
}

/** Between keys the reflected motion may be off by this, cm or degrees. */
const TOLERANCE = 0.01;

/** All channels of a node reflected together: on every frame where any has a key, and wherever else the result would be off. */
function mixed(
  rig: Rig,
  from: number,
  to: number,
  parts: ReadonlyMap<string, Curve>,
  mirroring: Mirroring,
): Map<string, Curve> {
  const keyed = [...new Set([...parts.values()].flatMap((curve) => [...curve.times]))].sort((a, b) => a - b);
  const stepped = [...parts.values()].every((curve) =>
    curve.segments.every((segment) => segment === SEGMENT.stepped),
  );
  let near: Readonly<Record<string, number>> = {};
  const imageAt = (time: number) => {
    const values = Object.fromEntries([...parts].map(([name, curve]) => [name, evaluate(curve, time)]));
    return (near = reflectedValues(rig, from, to, values, near, mirroring));
  };
  const built = (times: readonly number[]) => {
    near = {};
    const rows = times.map(imageAt);
    return new Map(
      Object.keys(rows[0] ?? {}).map((name) => [
        name,
        buildCurve(times.length, (columns) => {
          columns.times.set(times);
          rows.forEach((row, i) => (columns.values[i] = row[name]!));
          columns.segments.fill(stepped ? SEGMENT.stepped : SEGMENT.cubic);
          columns.tangentsIn.fill(TANGENT.smooth);
          columns.tangentsOut.fill(TANGENT.smooth);
        }),
      ]),
    );
  };
  let times = keyed;
  for (;;) {
    const curves = built(times);
    if (stepped || times.length < 2) return curves;
    const missed = new Set<number>();
    for (let i = 0; i + 1 < times.length; i += 1) {
      const [a, b] = [times[i]!, times[i + 1]!];
      const inside = wholeBetween(a, b);
      near = Object.fromEntries([...curves].map(([name, curve]) => [name, evaluate(curve, a)]));
      const off = inside.some((frame) =>
        Object.entries(imageAt(frame)).some(
          ([name, value]) => Math.abs(value - evaluate(curves.get(name)!, frame)) > TOLERANCE,
        ),
      );
      // The middle first: each turn halves what is off, so that no more keys stand than are needed.
      if (off) missed.add(inside[inside.length >> 1]!);
    }
    if (missed.size === 0) return curves;
    times = [...times, ...missed].sort((a, b) => a - b);
  }
}

function wholeBetween(a: number, b: number): number[] {
  const first = Math.floor(a + 1e-6) + 1;
  const last = Math.ceil(b - 1e-6) - 1;
  return Array.from({ length: Math.max(last - first + 1, 0) }, (_, k) => first + k);
}
