/** Inverse bind matrices of a `.glb`'s skins (glTF 2.0, 3.7.3.2), put into its JSON: the accessors of 4 × 4 numbers in their order, one for each skin. */
import { chunksOf, glbOf } from '../interchange/gltf/glb-chunks.ts';

interface Json {
  readonly accessors: readonly { readonly type: string }[];
  readonly skins: readonly object[];
}

export function withBinds(glb: Uint8Array): Uint8Array {
  const { text, blob } = chunksOf(glb);
  const json = JSON.parse(text) as Json;
  const binds = json.accessors.flatMap(({ type }, i) => (type === 'MAT4' ? [i] : []));
  const skins = json.skins.map((skin, k) => ({ ...skin, inverseBindMatrices: binds[k] }));
  return glbOf({ text: JSON.stringify({ ...json, skins }), blob });
}
