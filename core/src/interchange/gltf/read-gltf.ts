/**
 * A shot from a glTF 2.0 file: its nodes and its first animation. Metres, seconds and quaternions become cm, frames
 * and Euler angles here and nowhere else. All three interpolations are kept as segments: STEP stepped, LINEAR straight
 * (rotations: the slerp, see `rotation-keys.ts`), CUBICSPLINE cubic with its own tangents.
 */
import type { Animation, AnimationSampler, Document, Node as GltfNode } from '@gltf-transform/core';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { brokenRule } from '../../curve/validate.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { multiply, rotate, unit } from '../../math/quaternion.ts';
import { pairNames, partOf } from '../../rig/sides.ts';
import { TRANSFORM } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { curvesIn, newShot } from '../../document/shot.ts';
import type { Rate, Shot } from '../../document/shot.ts';
import type { Source } from '../../document/sources.ts';
import { LIMITS } from '../../base/limits.ts';
import { skeletonSolids } from '../skeleton-solids.ts';
import { perSecond, rateOfTimes } from '../rate.ts';
import { uniqueNames } from '../../base/unique-names.ts';
import { heldBeside, leftOut, shearedNodes } from './left-out.ts';
import { GENERATOR, ownExtras } from './own-extras.ts';
import { morphControls } from './morph-controls.ts';
import type { MorphControls } from './morph-controls.ts';
import { addWeightCurves, restWeights } from './morph-weights.ts';
import type { WeightTrack } from './morph-weights.ts';
import { springSets, withHumanoid } from './vrm-humanoid.ts';
import { skinSolids } from './skin-solids.ts';
import { digestOf } from '../source/source-files.ts';
import { keptCurves } from './own-keys.ts';
import type { OwnNode } from './own-keys.ts';
import { PATHS } from './own-tracks.ts';
import type { TrackPath } from './own-tracks.ts';
import type { Track } from './track.ts';
import type { ReadResult } from '../bvh/read-bvh.ts';
import { isMotion, openGltf } from './open-gltf.ts';
import type { Neighbour } from './open-gltf.ts';
import type { GltfJson } from './gltf-schema.ts';
import { checkSampler, readTrack, rotationCurves, vectorCurves } from './track-curves.ts';

const CM_PER_METRE = 100;
const NONE: Neighbour = () => Promise.resolve(null);

export interface GltfOptions {
  /** Frames per second; found from the key times when not given. */
  readonly rate?: Rate;
  readonly neighbour?: Neighbour;
  /** Which of its animations, by its place or its name; the first when not given. */
  readonly animation?: number | string;
  /** The name of the file, with its ending. */
  readonly file?: string;
}

/** Reads a `.glb` or `.gltf`; rejects with an `InputError`. */
export async function readGltf(
  bytes: Uint8Array,
  name: string,
  options: GltfOptions = {},
): Promise<ReadResult> {
  const { document, json, beside, missing, unseen } = await openGltf(bytes, options.neighbour ?? NONE);
  const findings: Finding[] = [];
  const animations = document.getRoot().listAnimations();
  const which = whichOf(animations, options.animation ?? 0);
  const animation = animations[which];
  // Into a file from elsewhere ours stand beside the animation.
  const own = ownExtras(json.animations?.[which]?.extras) ?? ownExtras(json.extras);
  const besides = new Map(own?.nodes?.map((one) => [one.name, one]));
  const { nodes, morphs } = readNodes(document, json, besides, findings);
  const samplers = animation?.listSamplers() ?? [];
  samplers.forEach((sampler, i) => checkSampler(sampler, `animations[${which}].samplers[${i}]`));
  const rate = options.rate ?? own?.rate ?? rateOf(samplers, findings);
  const fps = perSecond(rate);
  const start = own?.firstFrame ?? 0;
  const curves: Record<string, Curve>[] = [];
  let added = 0;
  let end = own?.lastFrame ?? 0;
  const rows = new Map(
    document
      .getRoot()
      .listNodes()
      .map((node, row) => [node, row]),
  );
  const tracks = nodes.map(() => new Map<TrackPath, Track>());
  const weightTracks: WeightTrack[] = [];
  for (const channel of animation?.listChannels() ?? []) {
    const row = rows.get(channel.getTargetNode()!);
    const sampler = channel.getSampler();
    const path = channel.getTargetPath();
    if (row === undefined || !sampler || !path) continue;
    if (path === 'weights') {
      const of = morphs.find(({ node }) => node === row);
      const track = of && readTrack(sampler, fps, start, of.channels.length);
      if (!track || track.times.length === 0) continue;
      end = Math.max(end, track.times[track.times.length - 1]!);
      weightTracks.push({ channels: of.channels, track });
      continue;
    }
    const track = readTrack(sampler, fps, start);
    if (track.times.length === 0) continue;
    end = Math.max(end, track.times[track.times.length - 1]!);
    tracks[row]!.set(path, track);
  }
  const range = { start, end: Math.max(start + 1, Math.ceil(end - 1e-6)) };
  // Other frames than those that its keys were written for are other motion.
  const keysHold = own !== null && Math.abs(own.lastFrame - end) < 1e-3;
  // At a rate that is asked for nobody expects them.
  const asWritten = options.rate === undefined;
  const there = new Set(nodes.map(({ id }) => id));
  const changed = [...besides.values()].flatMap(({ name: id, curves: keys }) =>
    asWritten && keys && !there.has(id) ? [id] : [],
  );
  for (const [row, node] of nodes.entries()) {
    const ours = besides.get(node.id);
    const entries: Record<string, Curve> = {};
    for (const { path, names } of PATHS) {
      const track = tracks[row]!.get(path) ?? null;
      const keyed = asWritten && names.some((name) => ours?.curves?.[name]);
      const kept = ours && keyed && keysHold ? keptCurves(node, ours, path, track, range) : null;
      if (keyed && !kept && !changed.includes(node.id)) changed.push(node.id);
      if (kept) Object.assign(entries, kept);
      else if (!track) continue;
      else if (path === 'rotation') added += rotationCurves(entries, node, track);
      else vectorCurves(entries, node, path === 'translation' ? 't' : 's', track);
    }
    if (Object.keys(entries).length > 0) curves[row] = entries;
  }
  addWeightCurves(curves, nodes, weightTracks, restWeights(json, morphs), range.start);
  const skipped = (json.animations?.[which]?.channels ?? []).filter(
    ({ target }) => !isMotion(target.path),
  ).length;
  if (skipped > 0) findings.push(finding('gltfMorphSkipped', {}, skipped));
  if (animations.length > 1)
    findings.push(
      finding('gltfOtherAnimations', {}, animation!.getName() || `number ${which + 1}`, animations.length),
    );
  if (added > 0) findings.push(finding('gltfRefined', {}, added));
  if (changed.length > 0) findings.push(finding('gltfKeysChanged', { node: changed[0]! }, changed));
  const sets = springSets(json, nodes);
  const shot = {
    ...newShot(name, nodes, [], rate, range),
    characters: [{ id: 'figure', name: 'Figure' }],
    curves,
    ...(sets.length > 0 && { selectionSets: sets }),
  };
  checkNumbers(shot);
  // What Kneader wrote itself is made anew from the shot.
  const isKept = json.asset.generator !== GENERATOR && missing.length === 0;
  if (unseen.length > 0) findings.push(finding('picturesMissing', {}, unseen, name));
  if (missing.length > 0) findings.push(finding('sourceLacks', {}, missing, name));
  else if (!isKept) findings.push(...leftOut(json));
  if (!isKept) return { shot, findings };
  const files = [{ name: options.file ?? `${name}.glb`, bytes }, ...beside];
  const source: Source = {
    id: await digestOf(files),
    name: files[0]!.name.slice(0, LIMITS.name),
    bytes: files.reduce((sum, file) => sum + file.bytes.byteLength, 0),
    character: 'figure',
    nodes: nodes.slice(0, rows.size).map(({ id }) => id),
    morphs,
    animation: animation ? { index: which, name: animation.getName().slice(0, LIMITS.name) } : null,
  };
  return {
    shot: { ...shot, sources: [source] },
    findings,
    files: new Map([[source.id, files]]),
    holds: heldBeside(json),
    animations: animations.map((one, i) => ({
      index: i,
      name: one.getName() || `Animation ${i + 1}`,
      seconds: secondsOf(one),
    })),
  };
}

/** The place of an animation. */
function whichOf(animations: readonly Animation[], wanted: number | string): number {
  const names = animations.map((one) => one.getName());
  const which = typeof wanted === 'string' ? names.indexOf(wanted) : wanted;
  if (which === 0 || (which > 0 && which < animations.length)) return which;
  return refuse('gltfNoAnimation', {}, String(wanted), names);
}

/** To the last of its keys. */
const secondsOf = (animation: Animation): number =>
  Math.max(0, ...animation.listSamplers().map((sampler) => sampler.getInput()?.getMax([])[0] ?? 0));

/** Numbers can each be finite and still make something that is not: a rotation of no length, times that fall together. */
function checkNumbers(shot: Shot): void {
  const broken = (path: string, problem: string): never =>
    refuse('gltfBroken', { path }, `${path} ${problem}`);
  shot.nodes.forEach(({ rest }, row) => {
    const numbers = [...rest.translation, ...rest.rotation, ...rest.scale];
    if (!numbers.every(Number.isFinite)) broken(`nodes[${row}]`, 'has a place that is no place');
  });
  for (const [channel, curve] of curvesIn(shot.curves, shot.nodes)) {
    const rule = brokenRule(curve);
    if (rule !== null) broken(`the animation, ${channel}`, `makes no curve: ${rule}`);
  }
}

function readNodes(
  document: Document,
  json: GltfJson,
  besides: ReadonlyMap<string, OwnNode>,
  findings: Finding[],
): MorphControls {
  const list = document.getRoot().listNodes();
  const names = uniqueNames(list.map((node) => node.getName()));
  const rows = new Map(list.map((node, row) => [node, row]));
  const parents = list.map((node) => {
    const parent = node.getParentNode();
    return parent ? rows.get(parent)! : -1;
  });
  const numbered = names.filter((one, row) => one !== list[row]!.getName());
  if (numbered.length > 0) findings.push(finding('namesNumbered', {}, numbered));
  const sheared = shearedNodes(json, names);
  if (sheared.length > 0) findings.push(finding('gltfShear', {}, sheared));
  const flat = names.filter((_, row) => list[row]!.getScale().includes(0));
  if (flat.length > 0) findings.push(finding('gltfFlat', {}, flat));
  const places = new Map(restPlaces(list, parents).map((place, row) => [names[row]!, place]));
  const pairs = pairNames(names, (one) => places.get(one) ?? null);
  const joints = new Set(json.skins?.flatMap((skin) => skin.joints));
  const bare = list.map((node, row): Node => {
    const parent = parents[row]!;
    const { side, pair } = pairs.get(names[row]!)!;
    return {
      id: names[row]!,
      parent: parent < 0 ? null : names[parent]!,
      kind: joints.size === 0 || joints.has(row) ? 'joint' : 'control',
      rest: {
        translation: node.getTranslation().map((metres) => metres * CM_PER_METRE) as [number, number, number],
        rotation: unit(node.getRotation()),
        scale: node.getScale(),
      },
      order: besides.get(names[row]!)?.order ?? 'xyz',
      channels: TRANSFORM,
      side,
      pair,
      part: partOf(names[row]!),
      character: 'figure',
      solids: [],
    };
  });
  const known = withHumanoid(json, bare);
  const solid = json.asset.generator === GENERATOR ? null : skinSolids(document, known, findings);
  const drawn =
    solid ??
    skeletonSolids(
      known,
      known.map(() => null),
    );
  return morphControls(document, json, drawn);
}

/** Where nodes rest in the world, parents worked out before children: chains may be as long as the file. */
function restPlaces(list: readonly GltfNode[], parents: readonly number[]): Triple[] {
  const places: (Triple | undefined)[] = [];
  const turns: Quaternion[] = [];
  const scales: Triple[] = [];
  list.forEach((_, first) => {
    const waiting = [first];
    while (waiting.length > 0) {
      const row = waiting[waiting.length - 1]!;
      const parent = parents[row]!;
      if (parent >= 0 && places[parent] === undefined) {
        waiting.push(parent);
        continue;
      }
      waiting.pop();
      const [at, turn, scale] = [
        list[row]!.getTranslation(),
        list[row]!.getRotation(),
        list[row]!.getScale(),
      ];
      if (parent < 0) [places[row], turns[row], scales[row]] = [at, turn, scale];
      else {
        const size = scales[parent]!;
        const [x, y, z] = rotate(turns[parent]!, at[0] * size[0], at[1] * size[1], at[2] * size[2]);
        const from = places[parent]!;
        places[row] = [from[0] + x, from[1] + y, from[2] + z];
        turns[row] = multiply(turns[parent]!, turn);
        scales[row] = [scale[0] * size[0], scale[1] * size[1], scale[2] * size[2]];
      }
    }
  });
  return places as Triple[];
}

/** The rate that the key times tell; says where they leave it open. */
function rateOf(samplers: readonly AnimationSampler[], findings: Finding[]): Rate {
  const times = new Set<number>();
  for (const sampler of samplers)
    for (const time of (sampler.getInput()!.getArray() ?? []) as Iterable<number>) times.add(time);
  const { rate, fits, rivals } = rateOfTimes([...times].sort((a, b) => a - b));
  const words = (one: Rate) => String(Math.round(perSecond(one) * 1000) / 1000);
  if (!fits) findings.push(finding('rateMissing', {}, words(rate)));
  else if (rivals.length > 0 && times.size > 1)
    findings.push(finding('rateUnsure', {}, words(rate), rivals.map(words)));
  return rate;
}
