/** What a glTF file holds that a shot does not: said kind by kind, so that nothing goes silently. */
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Vector } from '../../rig/node.ts';
import type { GltfJson } from './gltf-schema.ts';
import { EXTRAS, GENERATOR } from './own-extras.ts';

/**
 * Extensions that are known, or of what is kept unread (meshes, materials, lights): a file may need them and be read. Names as in Khronos's registry of extensions.
 */
const HARMLESS =
  /^(KHR_materials_\w+|KHR_texture_\w+|EXT_texture_\w+|KHR_lights_punctual|KHR_mesh_quantization|KHR_draco_mesh_compression|EXT_mesh_gpu_instancing|KHR_xmp\w*|EXT_meshopt_compression|KHR_meshopt_compression|VRM\w*)$/;

/** Refuses a file that needs what is not known here (glTF 2.0, 3.12). */
export function refuseUnknownNeeds(json: GltfJson): void {
  const unknown = (json.extensionsRequired ?? []).filter((name) => !HARMLESS.test(name));
  if (unknown.length > 0) refuse('gltfExtension', { path: 'extensionsRequired' }, unknown);
}

const count = (list: unknown) => (Array.isArray(list) ? list.length : 0);

/** What a file holds beside nodes and motion, kind by kind. */
export function heldBeside(json: GltfJson): [what: string, count: number][] {
  const triangles = (json.meshes ?? [])
    .flatMap(({ primitives }) => primitives)
    .reduce((sum, { indices, attributes, mode = 4 }) => {
      const corners = json.accessors?.[indices ?? attributes['POSITION'] ?? -1]?.count ?? 0;
      return sum + (mode === 4 ? Math.floor(corners / 3) : 0);
    }, 0);
  const kinds: [string, number][] = [
    ['meshes', count(json.meshes)],
    ['triangles', triangles],
    ['skins', count(json.skins)],
    ['materials', count(json.materials)],
    ['pictures', count(json.images)],
    ['cameras', count(json.cameras)],
  ];
  return kinds.filter(([, number]) => number > 0);
}

export function leftOut(json: GltfJson): Finding[] {
  const nodes = json.nodes ?? [];
  const extras = [...nodes, ...(json.scenes ?? []), ...(json.animations ?? [])].filter(
    (one) => one.extras !== undefined,
  );
  const ownExtras = typeof json.extras === 'object' && json.extras !== null && EXTRAS in json.extras ? 0 : 1;
  // Solids of our own files are drawn from the rig again.
  const kinds: readonly (readonly [string, number])[] = [
    ['meshes', json.asset.generator === GENERATOR ? 0 : count(json.meshes)],
    ['materials', json.asset.generator === GENERATOR ? 0 : count(json.materials)],
    ['pictures', count(json.images)],
    ['skins (their joints are kept)', count(json.skins)],
    ['cameras', count(json.cameras)],
    ['notes of other programs (extras)', extras.length + (json.extras === undefined ? 0 : ownExtras)],
    ['extensions', (json.extensionsUsed ?? []).length],
  ];
  return kinds
    .filter(([, number]) => number > 0)
    .map(([what, number]) => finding('gltfNotKept', {}, what, number));
}

/** Nodes whose matrix is no turn and scale: its columns do not stand upright on each other (glTF 2.0, 3.5.3 forbids it). */
export function shearedNodes(json: GltfJson, names: readonly string[]): string[] {
  return names.filter((_, row) => {
    const matrix = json.nodes?.[row]?.matrix;
    if (!matrix) return false;
    const column = (c: number) => matrix.slice(c * 4, c * 4 + 3) as [number, number, number];
    const [x, y, z] = [column(0), column(1), column(2)];
    const leans = (a: Vector, b: Vector) =>
      Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) > 1e-4 * Math.hypot(...a) * Math.hypot(...b);
    return leans(x, y) || leans(y, z) || leans(x, z);
  });
}
