/** Buffer views that are packed as EXT_meshopt_compression packs them, unpacked (Khronos, EXT_meshopt_compression; KHR_meshopt_compression is the same). */
import { refuse } from '../../base/finding.ts';
import type { GltfJson } from './gltf-schema.ts';

const NAMES = ['EXT_meshopt_compression', 'KHR_meshopt_compression'] as const;

interface Packed {
  readonly buffer: number;
  readonly byteOffset?: number;
  readonly byteLength: number;
  readonly byteStride: number;
  readonly count: number;
  readonly mode: string;
  readonly filter?: string;
}

const packedIn = (view: object): Packed | null => {
  const { extensions } = view as { extensions?: Record<string, Packed | undefined> };
  for (const name of NAMES) if (extensions?.[name]) return extensions[name];
  return null;
};

/** Whether a buffer is there for readers only that do not know the extension: it need have no bytes. */
export const isFallback = (buffer: object): boolean => {
  const { extensions } = buffer as { extensions?: Record<string, { fallback?: boolean } | undefined> };
  return NAMES.some((name) => extensions?.[name]?.fallback === true);
};

/**
 * The document with each packed view in a buffer of its own, and those buffers; the same where nothing is packed.
 * @throws InputError where a view cannot be unpacked
 */
export async function unpackedViews(
  json: GltfJson,
  buffers: readonly Uint8Array<ArrayBuffer>[],
): Promise<{ readonly json: GltfJson; readonly buffers: readonly Uint8Array<ArrayBuffer>[] }> {
  const views = json.bufferViews ?? [];
  if (!views.some((view) => packedIn(view))) return { json, buffers };
  // Few files need it.
  const { MeshoptDecoder } = await import('meshoptimizer');
  await MeshoptDecoder.ready;
  const all = [...buffers];
  const unpacked = views.map((view, i) => {
    const packed = packedIn(view);
    if (!packed) return view;
    const { buffer, byteOffset = 0, byteLength, byteStride, count, mode, filter } = packed;
    const target = new Uint8Array(count * byteStride);
    try {
      const source = buffers[buffer]!.subarray(byteOffset, byteOffset + byteLength);
      MeshoptDecoder.decodeGltfBuffer(target, count, byteStride, source, mode, filter);
    } catch {
      return refuse('gltfBroken', { path: `bufferViews[${i}]` }, `bufferViews[${i}] cannot be unpacked`);
    }
    all.push(target);
    const { extensions: _, ...plain } = view as typeof view & { extensions?: unknown };
    return { ...plain, buffer: all.length - 1, byteOffset: 0, byteLength: target.byteLength };
  });
  const added = all.slice(buffers.length).map(({ byteLength }) => ({ byteLength }));
  return {
    json: { ...json, bufferViews: unpacked, buffers: [...(json.buffers ?? []), ...added] },
    buffers: all,
  };
}
