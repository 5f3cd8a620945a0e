/**
 * A shot from a BVH file. Lengths are taken as cm; channels keep their order and values exactly; a joint's
 * translation is its OFFSET plus its position channels; the first row is frame 0.
 */
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { straightCurvesOn } from '../../curve/straight-curves.ts';
import { EULER_ORDERS } from '../../math/euler.ts';
import type { EulerOrder, Triple } from '../../math/euler.ts';
import { pairNames, partOf } from '../../rig/sides.ts';
import { AT_REST } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { newShot } from '../../document/shot.ts';
import type { NodeCurves } from '../../layers/layer.ts';
import type { Shot } from '../../document/shot.ts';
import { skeletonSolids } from '../skeleton-solids.ts';
import { rateOfFrameTime } from '../rate.ts';
import type { SourceFiles } from '../source/source-files.ts';
import { uniqueNames } from '../../base/unique-names.ts';
import { parseBvh } from './parse-bvh.ts';
import type { BvhFile, BvhJoint } from './parse-bvh.ts';

export interface ReadResult {
  readonly shot: Shot;
  readonly findings: readonly Finding[];
  /** The files of the characters that came with it, by their digest; left out, none. */
  readonly files?: SourceFiles;
  /** What the file holds beside nodes and motion: meshes, skins …, and how many. */
  readonly holds?: readonly (readonly [what: string, count: number])[];
  /** All animations of the file, where it has more than the one that was read. */
  readonly animations?: readonly AnimationInFile[];
}

export interface AnimationInFile {
  readonly index: number;
  readonly name: string;
  readonly seconds: number;
}

/** Reads a BVH file; throws an `InputError` with the line of what is wrong. */
export function readBvh(text: string, name: string): ReadResult {
  const file = parseBvh(text);
  if (file.rows === 0) refuse('bvhNoFrames', {});
  const findings: Finding[] = [];
  if (file.announced !== file.rows) findings.push(finding('bvhRowCount', {}, file.announced, file.rows));
  const names = uniqueNames(file.joints.map((joint) => joint.name));
  const places = restPlaces(file.joints);
  const rows = new Map(names.map((one, row) => [one, row]));
  const pairs = pairNames(names, (one) => places[rows.get(one) ?? -1] ?? null);
  const bare = file.joints.map((joint, i): Node => {
    const { side, pair } = pairs.get(names[i]!)!;
    return {
      id: names[i]!,
      parent: joint.parent < 0 ? null : names[joint.parent]!,
      kind: 'joint',
      rest: { ...AT_REST, translation: joint.offset },
      order: orderOf(joint),
      channels: joint.channels.map(channelName),
      side,
      pair,
      part: partOf(names[i]!),
      character: 'figure',
      solids: [],
    };
  });
  const ends = file.joints.map((joint) => joint.endSite);
  const nodes = skeletonSolids(bare, ends);
  // A key on every frame, straight between them: the samples as they came and nothing more.
  const frames = Float64Array.from({ length: file.rows }, (_, row) => row);
  const straight = straightCurvesOn(frames);
  let column = 0;
  const curves = nodes.map((node): NodeCurves => {
    return Object.fromEntries(node.channels.map((channel) => [channel, straight(columnOf(file, column++))]));
  });
  const shot = {
    ...newShot(name, nodes, [], rateOfFrameTime(file.frameTime), { start: 0, end: file.rows - 1 }),
    characters: [{ id: 'figure', name: 'Figure' }],
    curves,
  };
  return { shot, findings };
}

/** Where joints rest in the world: BVH rests without a turn. */
function restPlaces(joints: readonly BvhJoint[]): Triple[] {
  const places: Triple[] = [];
  joints.forEach(({ parent, offset }, i) => {
    const at = places[parent] ?? [0, 0, 0];
    places[i] = [at[0] + offset[0], at[1] + offset[1], at[2] + offset[2]];
  });
  return places;
}

/** `Xposition` → `tx`. */
function channelName(channel: string): string {
  const kind = { p: 't', r: 'r', s: 's' }[channel[1]!.toLowerCase()]!;
  return kind + channel[0]!.toLowerCase();
}

/** BVH multiplies rotations in the order in which it lists them; axes that it lacks come last and do nothing. */
function orderOf(joint: BvhJoint): EulerOrder {
  const listed = joint.channels
    .filter((channel) => /rotation/i.test(channel))
    .map((channel) => channel[0]!.toLowerCase());
  const order = [...listed, ...['x', 'y', 'z'].filter((axis) => !listed.includes(axis))].join('');
  return EULER_ORDERS.find((known) => known === order) ?? 'xyz';
}

function columnOf({ motion, rows, width }: BvhFile, column: number): Float64Array {
  const values = new Float64Array(rows);
  for (let row = 0, at = column; row < rows; row += 1, at += width) values[row] = motion[at]!;
  return values;
}
