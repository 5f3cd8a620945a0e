/**
 * A shot back into the file that its character came in: animations are put in place of those of their name or beside them, and all else stays as it came. New data lie behind the file's
 * own; what an earlier writing put there is taken away first, so that a file does not grow by being written again.
 */
import { mat4 } from 'gl-matrix';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesPerSecond } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Source } from '../../document/sources.ts';
import { readJson } from '../read-json.ts';
import type { SourceFile } from '../source/source-files.ts';
import { base64 } from '../base64.ts';
import { chunksOf, glbOf } from './glb-chunks.ts';
import type { GltfJson } from './gltf-schema.ts';
import { FINE, localTracks } from './local-tracks.ts';
import type { TrackTolerance } from './local-tracks.ts';
import { restWeights, weightsOut } from './morph-weights.ts';
import { EXTRAS } from './own-extras.ts';
import { keysBeside } from './own-keys.ts';
import { plainNodes } from './own-tracks.ts';
import type { LocalTrack } from './own-tracks.ts';

const METRES_PER_CM = 0.01;
const FLOAT = 5126;
const TYPES: Record<number, string> = { 3: 'VEC3', 4: 'VEC4' };

/** An animation to be written: a shot of the source's character. */
export interface AnimationOut {
  readonly shot: Shot;
  readonly source: Source;
  /** One of this name in the file is replaced, else it is added. */
  readonly name: string;
  /** Replaces this one whatever it is called; left out, by its name alone. */
  readonly index?: number;
}

export interface WrittenSource {
  readonly bytes: Uint8Array;
  /** What of the shots the file has no place for. */
  readonly findings: readonly Finding[];
}

/** Any of the JSON, whose fields are not known here, kept as they are. */
type Json = Record<string, unknown>;
interface Raw extends Json {
  animations?: Json[];
  accessors?: Json[];
  bufferViews?: Json[];
  buffers?: Json[];
  images?: Json[];
  nodes: Json[];
}

/**
 * @param files as they came, the glTF first
 * @param ending `.glb` or `.gltf`: what lies beside is taken into it
 */
export function writeIntoSource(
  files: readonly SourceFile[],
  animations: readonly AnimationOut[],
  ending: string,
  tolerance: TrackTolerance = FINE,
): WrittenSource {
  const { text, blob } = chunksOf(files[0]!.bytes);
  const raw = readJson(text) as Raw;
  const data = new Data(raw, blob);
  const findings: Finding[] = [];
  for (const one of animations) putAnimation(raw, data, one, tolerance, findings);
  if (raw.animations?.length === 0) delete raw.animations;
  const bin = data.close();
  takeIn(raw, files.slice(1));
  if (ending === '.glb') return { bytes: glbOf({ text: JSON.stringify(raw), blob: bin }), findings };
  if (bin) raw.buffers![0]!['uri'] = dataUri(bin);
  return { bytes: new TextEncoder().encode(JSON.stringify(raw)), findings };
}

const dataUri = (bytes: Uint8Array, mime = 'application/octet-stream') =>
  `data:${mime};base64,${base64(bytes)}`;

/** What lay beside the file, into it. */
function takeIn(raw: Raw, beside: readonly SourceFile[]): void {
  const byName = new Map(beside.map(({ name, bytes }) => [name, bytes]));
  for (const one of [...(raw.buffers ?? []), ...(raw.images ?? [])]) {
    const uri = one['uri'];
    if (typeof uri !== 'string' || uri.startsWith('data:')) continue;
    const bytes = byName.get(decodeURIComponent(uri));
    if (!bytes) continue;
    const mime = /\.png$/i.test(uri) ? 'image/png' : /\.jpe?g$/i.test(uri) ? 'image/jpeg' : undefined;
    one['uri'] = dataUri(bytes, mime);
  }
}

function putAnimation(
  raw: Raw,
  data: Data,
  { shot, source, name, index }: AnimationOut,
  tolerance: TrackTolerance,
  findings: Finding[],
): void {
  raw.animations ??= [];
  const at = index ?? raw.animations.findIndex((one) => one['name'] === name);
  const before = raw.animations[at];
  if (before) data.drop(before);
  data.begin();
  const rows = new Map(source.nodes.flatMap((id, node) => (id === null ? [] : [[id, node] as const])));
  const morphs = new Set(
    source.morphs.flatMap(({ channels }) => channels.map((one) => one.slice(0, one.lastIndexOf('.')))),
  );
  const fps = framesPerSecond(shot.rate);
  const [samplers, channels] = [[] as Json[], [] as Json[]];
  const elsewhere = new Set<string>();
  const inputs = new Map<string, number>();
  const put = (
    node: number,
    path: string,
    track: Pick<LocalTrack, 'times' | 'mode' | 'width'>,
    values: Float32Array,
  ) => {
    const key = track.times.join();
    let input = inputs.get(key);
    if (input === undefined) {
      const seconds = Float32Array.from(track.times, (frame) => frame / fps);
      input = data.add(seconds, 'SCALAR', true);
      inputs.set(key, input);
    }
    const output = data.add(values, path === 'weights' ? 'SCALAR' : TYPES[track.width]!, false);
    samplers.push({ input, output, interpolation: track.mode });
    channels.push({ sampler: samplers.length - 1, target: { node, path } });
  };
  for (const track of localTracks(shot, tolerance)) {
    const { id } = shot.nodes[track.node]!;
    const node = rows.get(id);
    if (node === undefined) {
      if (!morphs.has(id)) elsewhere.add(id);
      continue;
    }
    inParts(raw.nodes[node]!);
    put(node, track.path, track, Float32Array.from(track.values, scaleOf(track, fps)));
  }
  const rest = restWeights(raw as unknown as GltfJson, source.morphs);
  for (const weights of weightsOut(shot, source, rest))
    put(
      weights.node,
      'weights',
      weights,
      Float32Array.from(weights.values, scaleOf({ ...weights, path: 'weights' }, fps)),
    );
  if (elsewhere.size > 0) findings.push(finding('sourceHasNot', {}, [...elsewhere], source.name));
  const plain = plainNodes(shot);
  const extras = {
    ...(before?.['extras'] as Json | undefined),
    [EXTRAS]: {
      ...{ rate: { ...shot.rate }, firstFrame: shot.range.start, lastFrame: shot.range.end },
      nodes: shot.nodes.flatMap(({ id }, row) =>
        rows.has(id) ? [keysBeside(shot, row, plain.has(row))] : [],
      ),
    },
  };
  if (channels.length === 0) {
    // An animation of no channels would be an error.
    if (before) raw.animations.splice(at, 1);
    return;
  }
  const made = { ...before, name, channels, samplers, extras };
  if (before) raw.animations[at] = made;
  else raw.animations.push(made);
}

/** Values in metres; tangents of splines for a second in place of a frame. */
function scaleOf(
  { path, mode, width }: { readonly path: string; readonly mode: LocalTrack['mode']; readonly width: number },
  fps: number,
): (value: number, i: number) => number {
  const unit = path === 'translation' ? METRES_PER_CM : 1;
  if (mode !== 'CUBICSPLINE') return (value) => value * unit;
  return (value, i) => value * unit * (Math.floor((i % (3 * width)) / width) === 1 ? 1 : fps);
}

/** A node that moves must not say its place by a matrix (glTF 2.0, 3.5.3). */
function inParts(node: Json): void {
  const matrix = node['matrix'] as mat4 | undefined;
  if (!matrix) return;
  delete node['matrix'];
  node['translation'] = [...mat4.getTranslation([0, 0, 0], matrix)];
  const scale = mat4.getScaling([0, 0, 0], matrix) as unknown as number[];
  const turn = mat4.create();
  for (let column = 0; column < 3; column += 1)
    for (let row = 0; row < 3; row += 1)
      turn[column * 4 + row] = matrix[column * 4 + row]! / (scale[column]! || 1);
  if (mat4.determinant(turn) < 0) {
    scale[0]! *= -1;
    for (let row = 0; row < 3; row += 1) turn[row]! *= -1;
  }
  node['rotation'] = [...mat4.getRotation([0, 0, 0, 1], turn)];
  node['scale'] = [...scale];
}

/** The data behind those of the file: a view for each animation, and accessors into it. */
class Data {
  private readonly parts: Uint8Array[] = [];
  private length = 0;
  /** Those of ours, and where they begin behind the file's own bytes. */
  private readonly views: { readonly view: Json; readonly start: number }[] = [];
  private isOpen = false;
  private bin: Uint8Array | null;
  private readonly raw: Raw;

  constructor(raw: Raw, bin: Uint8Array | null) {
    this.raw = raw;
    this.bin = bin;
  }

  /** Takes away what an animation alone needed, as far as it lies at the end of everything. */
  drop(animation: Json): void {
    const { raw } = this;
    const of = (one: Json) =>
      ((one['samplers'] ?? []) as { input: number; output: number }[]).flatMap(({ input, output }) => [
        input,
        output,
      ]);
    const own = new Set(of(animation));
    for (const other of raw.animations ?? [])
      if (other !== animation) of(other).forEach((i) => own.delete(i));
    const accessors = raw.accessors ?? [];
    const views = raw.bufferViews ?? [];
    // Data of shapes would be told apart only by reading all that may name them; of an animation that Kneader wrote nothing else has a name.
    const extras = animation['extras'] as Json | undefined;
    if (extras?.[EXTRAS] === undefined) return;
    while (accessors.length > 0 && own.has(accessors.length - 1)) accessors.pop();
    const used = new Set(accessors.map((one) => one['bufferView']));
    const last = views[views.length - 1];
    const buffer = raw.buffers?.[0];
    if (!last || !buffer || used.has(views.length - 1) || last['buffer'] !== 0 || last['name'] !== VIEW)
      return;
    const start = (last['byteOffset'] as number | undefined) ?? 0;
    if (!this.bin || start + (last['byteLength'] as number) < (buffer['byteLength'] as number) - 3) return;
    views.pop();
    this.bin = this.bin.subarray(0, start);
    buffer['byteLength'] = start;
  }

  /** What is added from here on stands in a view of its own. */
  begin(): void {
    this.isOpen = false;
  }

  add(values: Float32Array, type: string, isTimes: boolean): number {
    const { raw } = this;
    raw.accessors ??= [];
    raw.bufferViews ??= [];
    if (!this.isOpen) {
      const view = { buffer: 0, byteOffset: 0, byteLength: 0, name: VIEW };
      raw.bufferViews.push(view);
      this.views.push({ view, start: this.length });
      this.isOpen = true;
    }
    const { view, start } = this.views[this.views.length - 1]!;
    const width = type === 'SCALAR' ? 1 : Number(type.slice(3));
    const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
    raw.accessors.push({
      ...{ bufferView: raw.bufferViews.length - 1, byteOffset: this.length - start, componentType: FLOAT },
      ...{ count: values.length / width, type },
      ...(isTimes && { min: [values[0]], max: [values[values.length - 1]] }),
    });
    this.parts.push(bytes);
    this.length += bytes.byteLength;
    view['byteLength'] = this.length - start;
    return raw.accessors.length - 1;
  }

  /** The second chunk with all that was added; where the file has none of its own, and more than nothing was added, a buffer is made. */
  close(): Uint8Array | null {
    const { raw, bin } = this;
    if (this.views.length === 0) return bin;
    raw.buffers ??= [];
    const own = raw.buffers[0];
    const canGrow = bin !== null && own !== undefined && own['uri'] === undefined;
    const start = canGrow ? Math.ceil((own['byteLength'] as number) / 4) * 4 : 0;
    const whole = new Uint8Array(start + this.length);
    if (canGrow) whole.set(bin.subarray(0, own['byteLength'] as number));
    let at = start;
    for (const part of this.parts) {
      whole.set(part, at);
      at += part.byteLength;
    }
    if (canGrow) {
      own['byteLength'] = whole.byteLength;
      for (const one of this.views) one.view['byteOffset'] = start + one.start;
      return whole;
    }
    // A chunk is the first buffer's, and that one has its data elsewhere.
    if (raw.buffers.length > 0) {
      for (const { view, start: from } of this.views)
        Object.assign(view, { buffer: raw.buffers.length, byteOffset: from });
      raw.buffers.push({ byteLength: whole.byteLength, uri: dataUri(whole) });
      return bin;
    }
    for (const { view, start: from } of this.views) view['byteOffset'] = from;
    raw.buffers.push({ byteLength: whole.byteLength });
    return whole;
  }
}

/** By this name a view of ours is known again. */
const VIEW = 'kneader animation';
