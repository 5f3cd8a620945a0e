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
import { reflectedValues, signsBetween } from '../../shot/reflection.ts';
import { curveOf, rigOf } from '../../shot/shot.ts';
import type { ChannelId, Shot } from '../../shot/shot.ts';
import { partOf } from '../lay-part.ts';

export interface FlippedCurves {
  /** By the channel that gets it; frames from 0 at the range's start. */
  readonly curves: ReadonlyMap<ChannelId, Curve>;
  readonly alone: readonly string[];
  readonly keyedAnew: readonly string[];
}

/** @param left controls that are neither flipped nor flipped onto; @param ends which parts get keys on their ends */
export function flippedCurves(
  shot: Shot,
  layer: string | null,
  nodes: ReadonlySet<string>,
  left: ReadonlySet<string>,
  range: FrameRange,
  ends: 'always' | 'cut',
): FlippedCurves {
  const rig = rigOf(shot);
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
    const signs = signsBetween(rig, from, partner);
    if (signs) {
      for (const name of needed) {
        const part = parts.get(name);
        if (part) curves.set(`${target.id}.${name}`, signed(part, signs[name] ?? 1));
      }
      return;
    }
    keyedAnew.push(target.id);
    for (const [name, curve] of mixed(rig, from, partner, parts))
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

function signed(curve: Curve, sign: 1 | -1): Curve {
  if (sign === 1) return curve;
  return rebuild(curve, null, (columns) => {
    for (const name of ['values', 'slopesIn', 'slopesOut'] as const)
      for (let row = 0; row < columns.times.length; row += 1)
        // Never −0: flipped twice it must be the same to the bit.
        columns[name][row] = columns[name][row] === 0 ? 0 : -columns[name][row]!;
  });
}

/** All channels of a node reflected together, on every frame where any of them has a key. */
function mixed(
  rig: ReturnType<typeof rigOf>,
  from: number,
  to: number,
  parts: ReadonlyMap<string, Curve>,
): Map<string, Curve> {
  const times = [...new Set([...parts.values()].flatMap((curve) => [...curve.times]))].sort((a, b) => a - b);
  const stepped = [...parts.values()].every((curve) =>
    curve.segments.every((segment) => segment === SEGMENT.stepped),
  );
  let near: Readonly<Record<string, number>> = {};
  const rows = times.map((time) => {
    const values = Object.fromEntries([...parts].map(([name, curve]) => [name, evaluate(curve, time)]));
    near = reflectedValues(rig, from, to, values, near);
    return near;
  });
  return new Map(
    Object.keys(rows[0] ?? {}).map((name) => [
      name,
      buildCurve(times.length, (columns) => {
        columns.times.set(times);
        rows.forEach((row, i) => (columns.values[i] = row[name]!));
        columns.segments.fill(stepped ? SEGMENT.stepped : SEGMENT.cubic);
        columns.tangentsIn.fill(TANGENT.steady);
        columns.tangentsOut.fill(TANGENT.steady);
      }),
    ]),
  );
}
