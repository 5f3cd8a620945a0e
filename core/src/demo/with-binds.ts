/** Inverse bind matrices of a `.glb`'s skins (glTF 2.0, 3.7.3.2), put behind its own data. */
import { chunksOf, glbOf } from '../interchange/gltf/glb-chunks.ts';

interface Json {
  readonly accessors: readonly object[];
  readonly bufferViews: readonly object[];
  readonly buffers: readonly { readonly byteLength: number }[];
  readonly skins: readonly object[];
}

/** @param binds for each skin sixteen numbers for each of its joints */
export function withBinds(glb: Uint8Array, binds: readonly Float32Array[]): Uint8Array {
  const { text, blob } = chunksOf(glb);
  const json = JSON.parse(text) as Json;
  const start = Math.ceil(blob!.byteLength / 4) * 4;
  const length = binds.reduce((sum, { byteLength }) => sum + byteLength, 0);
  const whole = new Uint8Array(start + length);
  whole.set(blob!);
  let at = start;
  const added = binds.map((bind) => {
    whole.set(new Uint8Array(bind.buffer, bind.byteOffset, bind.byteLength), at);
    at += bind.byteLength;
    return { byteOffset: at - bind.byteLength, byteLength: bind.byteLength };
  });
  const changed = {
    ...json,
    buffers: [{ ...json.buffers[0], byteLength: whole.byteLength }],
    bufferViews: [...json.bufferViews, ...added.map((view) => ({ buffer: 0, ...view }))],
    accessors: [
      ...json.accessors,
      ...binds.map((bind, i) => ({
        ...{ bufferView: json.bufferViews.length + i, componentType: 5126 },
        ...{ count: bind.length / 16, type: 'MAT4' },
      })),
    ],
    skins: json.skins.map((skin, i) => ({ ...skin, inverseBindMatrices: json.accessors.length + i })),
  };
  return glbOf({ text: JSON.stringify(changed), blob: whole });
}
