/** What flies: the point that follows the parabola, and the nodes that carry it. */
import { finding, InputError } from '../../base/finding.ts';
import { bodyOf } from '../../bodies/body-of.ts';
import { centreIn } from '../../bodies/centre-of-mass.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldInto } from '../../evaluation/evaluation.ts';
import { mat4, vec4 } from 'gl-matrix';
import type { Triple } from '../../math/euler.ts';
import { partFor } from '../../rig/influence.ts';
import { newWorldPose, seatOf } from '../../rig/pose.ts';
import type { WorldPose } from '../../rig/pose.ts';

/** A character's centre of mass, or a control by itself. */
export interface Flying {
  readonly name: string;
  /** Rows of the nodes that are moved: as far as they go it goes. */
  readonly carriers: readonly number[];
  /** cm that a unit of its numbers counts. */
  readonly unit: number;
  /** Where it is in a pose. */
  readonly placeIn: (pose: WorldPose) => Triple;
  /** Rows that it asks for. */
  readonly rows: readonly number[];
}

export function flyingCharacter(shot: Shot, character: string, name: string): Flying {
  const { segments, unit } = bodyOf(shot, character);
  return {
    name,
    carriers: carriersOf(shot, character),
    unit,
    placeIn: (pose) => centreIn(pose, segments),
    rows: [...new Set(segments.flatMap(({ points }) => points.map(({ row }) => row)))],
  };
}

export function flyingControl(shot: Shot, node: string): Flying {
  const rig = rigOf(shot);
  const row = rig.indexOf(node);
  if (row < 0) throw new InputError(finding('unknownNode', {}, node));
  if (!moves(shot, row)) throw new InputError(finding('cannotMove', {}, node));
  return {
    name: node,
    carriers: [row],
    unit: bodyOf(shot, rig.nodes[row]!.character).unit,
    placeIn: (pose) => placeIn(pose, row),
    rows: [row],
  };
}

const moves = (shot: Shot, row: number) =>
  ['tx', 'ty', 'tz'].every((name) => shot.nodes[row]!.channels.includes(name));

/** The uppermost nodes of a character that can be moved: all that it is hangs on them. What follows another of them goes along by itself. */
function carriersOf(shot: Shot, character: string): number[] {
  const rig = rigOf(shot);
  const isTheirs = (row: number) => row >= 0 && rig.nodes[row]!.character === character;
  const tops = [...rig.order].filter((row) => {
    if (!isTheirs(row) || !moves(shot, row)) return false;
    for (let up = rig.parents[row]!; up >= 0; up = rig.parents[up]!)
      if (isTheirs(up) && moves(shot, up)) return false;
    return true;
  });
  return tops.filter((row) => (rig.relations[row] ?? []).every(({ targets }) => !targets.some(isTheirs)));
}

/** Where it is by frame. Frames that were asked are kept. */
export function pathReader(shot: Shot, { rows, placeIn: at }: Flying): (frame: number) => Triple {
  const rig = rigOf(shot);
  const part = partFor(rig, rows);
  const [values, pose] = [new Float64Array(rig.channels.length), newWorldPose(rig)];
  const known = new Map<number, Triple>();
  return (frame) => {
    let found = known.get(frame);
    if (!found) {
      worldInto(shot, frame, values, pose, false, part);
      known.set(frame, (found = at(pose)));
    }
    return found;
  };
}

/** A way in the world as the channels of a node say it at a frame; refuses where what carries it is flat. */
export function wayReader(shot: Shot, row: number): (way: Readonly<Triple>, frame: number) => Triple {
  const rig = rigOf(shot);
  const part = partFor(rig, [row]);
  const [values, pose] = [new Float64Array(rig.channels.length), newWorldPose(rig)];
  const free = rig.parents[row]! < 0 && !rig.relations[row];
  const known = new Map<number, mat4>();
  return (way, frame) => {
    if (free) return [...way];
    let inverse = known.get(frame);
    if (!inverse) {
      worldInto(shot, frame, values, pose, false, part);
      inverse = mat4.invert(new Float64Array(16), seatOf(rig, pose, row).matrix) ?? undefined;
      if (!inverse) throw new InputError(finding('flatSpace', { frame }, rig.nodes[row]!.id));
      known.set(frame, inverse);
    }
    const turned = vec4.transformMat4([0, 0, 0, 0], [way[0], way[1], way[2], 0], inverse);
    return [turned[0], turned[1], turned[2]];
  };
}
