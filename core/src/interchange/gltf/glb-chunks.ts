/** The two containers of glTF 2.0: JSON text, and `.glb` with its two chunks (chapter 4). */
import { refuse } from '../../base/finding.ts';

const GLB_MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;
const [HEADER, CHUNK_HEADER] = [12, 8];

export interface Chunks {
  readonly text: string;
  /** The second chunk; null where there is none. */
  readonly blob: Uint8Array | null;
}

/** Refuses what begins like neither. */
export function chunksOf(bytes: Uint8Array): Chunks {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.byteLength >= 4 && view.getUint32(0, true) === GLB_MAGIC) return glbChunks(bytes, view);
  if (!/^\s*\{/.test(new TextDecoder().decode(bytes.subarray(0, 200))))
    refuse('gltfBroken', {}, 'it begins like neither of the two forms of glTF');
  return { text: new TextDecoder().decode(bytes), blob: null };
}

function glbChunks(bytes: Uint8Array, view: DataView): Chunks {
  const broken = (problem: string): never => refuse('gltfBroken', {}, problem);
  if (bytes.byteLength < HEADER + CHUNK_HEADER) broken('it is shorter than its header');
  if (view.getUint32(4, true) !== 2) refuse('gltfVersion', {}, String(view.getUint32(4, true)));
  if (view.getUint32(8, true) > bytes.byteLength)
    broken('it is shorter than its header says: it was probably cut short');
  const jsonLength = view.getUint32(12, true);
  const at = HEADER + CHUNK_HEADER + jsonLength;
  if (view.getUint32(16, true) !== JSON_CHUNK || at > bytes.byteLength) broken('its first chunk is not JSON');
  const text = new TextDecoder().decode(bytes.subarray(HEADER + CHUNK_HEADER, at));
  if (at + CHUNK_HEADER > bytes.byteLength) return { text, blob: null };
  const length = view.getUint32(at, true);
  if (view.getUint32(at + 4, true) !== BIN_CHUNK || at + CHUNK_HEADER + length > bytes.byteLength)
    broken('its second chunk is broken');
  return { text, blob: bytes.subarray(at + CHUNK_HEADER, at + CHUNK_HEADER + length) };
}

const padded = (length: number) => Math.ceil(length / 4) * 4;

/** The bytes of a `.glb`. */
export function glbOf({ text, blob }: Chunks): Uint8Array {
  const json = new TextEncoder().encode(text);
  const jsonLength = padded(json.byteLength);
  const blobLength = blob ? padded(blob.byteLength) : 0;
  const all = HEADER + CHUNK_HEADER + jsonLength + (blob ? CHUNK_HEADER + blobLength : 0);
  const bytes = new Uint8Array(all);
  const view = new DataView(bytes.buffer);
  [GLB_MAGIC, 2, all, jsonLength, JSON_CHUNK].forEach((word, i) => view.setUint32(4 * i, word, true));
  let at = HEADER + CHUNK_HEADER;
  // JSON is padded with spaces, data with zeros.
  bytes.fill(0x20, at, at + jsonLength);
  bytes.set(json, at);
  at += jsonLength;
  if (!blob) return bytes;
  view.setUint32(at, blobLength, true);
  view.setUint32(at + 4, BIN_CHUNK, true);
  bytes.set(blob, at + CHUNK_HEADER);
  return bytes;
}
