/**
 * The form of a glTF 2.0 document, as far as types and references go, checked before any of it is used.
 * Source: Khronos, glTF 2.0 specification, chapter 5 (properties reference).
 */
import { z } from 'zod';
import { InputError, finding, refuse } from '../../base/finding.ts';
import { describeProblem } from '../../document/describe-problem.ts';

const index = z.number().int().min(0);
const count = z.number().int().min(1);
const numbers = (length: number) => z.array(z.number()).length(length);
const texture = z.looseObject({
  index,
  texCoord: index.optional(),
  scale: z.number().optional(),
  strength: z.number().optional(),
});

const schema = z.looseObject({
  asset: z.looseObject({ version: z.string(), generator: z.string().optional() }),
  extensionsRequired: z.array(z.string()).optional(),
  extensionsUsed: z.array(z.string()).optional(),
  extras: z.unknown().optional(),
  extensions: z.unknown().optional(),
  scene: index.optional(),
  scenes: z
    .array(z.looseObject({ nodes: z.array(index).optional(), extras: z.unknown().optional() }))
    .optional(),
  nodes: z
    .array(
      z.looseObject({
        name: z.string().optional(),
        children: z.array(index).optional(),
        extras: z.unknown().optional(),
        mesh: index.optional(),
        skin: index.optional(),
        camera: index.optional(),
        matrix: numbers(16).optional(),
        translation: numbers(3).optional(),
        rotation: numbers(4).optional(),
        scale: numbers(3).optional(),
        weights: z.array(z.number()).optional(),
      }),
    )
    .optional(),
  meshes: z
    .array(
      z.looseObject({
        primitives: z.array(
          z.looseObject({
            attributes: z.record(z.string(), index),
            indices: index.optional(),
            material: index.optional(),
            mode: z.number().int().min(0).max(6).optional(),
            targets: z.array(z.record(z.string(), index)).optional(),
            extensions: z.unknown().optional(),
          }),
        ),
        name: z.string().optional(),
        weights: z.array(z.number()).optional(),
        extras: z.unknown().optional(),
      }),
    )
    .optional(),
  skins: z
    .array(
      z.looseObject({
        joints: z.array(index),
        inverseBindMatrices: index.optional(),
        skeleton: index.optional(),
      }),
    )
    .optional(),
  materials: z
    .array(
      z.looseObject({
        pbrMetallicRoughness: z
          .looseObject({
            baseColorFactor: numbers(4).optional(),
            metallicFactor: z.number().optional(),
            roughnessFactor: z.number().optional(),
            baseColorTexture: texture.optional(),
            metallicRoughnessTexture: texture.optional(),
          })
          .optional(),
        normalTexture: texture.optional(),
        occlusionTexture: texture.optional(),
        emissiveTexture: texture.optional(),
        emissiveFactor: numbers(3).optional(),
      }),
    )
    .optional(),
  textures: z.array(z.looseObject({ sampler: index.optional(), source: index.optional() })).optional(),
  images: z.array(z.looseObject({ uri: z.string().optional(), bufferView: index.optional() })).optional(),
  accessors: z
    .array(
      z.looseObject({
        bufferView: index.optional(),
        byteOffset: index.optional(),
        componentType: z.union([5120, 5121, 5122, 5123, 5125, 5126].map((code) => z.literal(code))),
        normalized: z.boolean().optional(),
        count,
        sparse: z
          .looseObject({
            count,
            indices: z.looseObject({ bufferView: index, byteOffset: index.optional() }),
            values: z.looseObject({ bufferView: index, byteOffset: index.optional() }),
          })
          .optional(),
        type: z.enum(['SCALAR', 'VEC2', 'VEC3', 'VEC4', 'MAT2', 'MAT3', 'MAT4']),
      }),
    )
    .optional(),
  bufferViews: z
    .array(
      z.looseObject({
        buffer: index,
        byteOffset: index.optional(),
        byteLength: count,
        byteStride: count.optional(),
      }),
    )
    .optional(),
  buffers: z.array(z.looseObject({ uri: z.string().optional(), byteLength: count })).optional(),
  animations: z
    .array(
      z.looseObject({
        name: z.string().optional(),
        extras: z.unknown().optional(),
        channels: z.array(
          z.looseObject({
            sampler: index,
            target: z.looseObject({ node: index.optional(), path: z.string() }),
          }),
        ),
        samplers: z.array(
          z.looseObject({
            input: index,
            output: index,
            interpolation: z.enum(['LINEAR', 'STEP', 'CUBICSPLINE']).optional(),
          }),
        ),
      }),
    )
    .optional(),
});
export type GltfJson = z.infer<typeof schema>;

/** The document, checked; throws an `InputError` with a path. */
export function checkGltf(document: unknown): GltfJson {
  const version = (document as { asset?: { version?: unknown } } | null)?.asset?.version;
  if (typeof version === 'string' && !version.startsWith('2.'))
    refuse('gltfVersion', { path: 'asset.version' }, version);
  const parsed = schema.safeParse(document);
  if (!parsed.success) throw new InputError(finding('gltfBroken', {}, describeProblem(parsed.error)));
  checkReferences(parsed.data);
  return parsed.data;
}

function checkReferences(json: GltfJson): void {
  const sizes: Record<string, number> = {};
  for (const list of [
    'scenes',
    'nodes',
    'meshes',
    'skins',
    'materials',
    'textures',
    'images',
    'accessors',
    'bufferViews',
    'buffers',
  ] as const) {
    sizes[list] = json[list]?.length ?? 0;
  }
  const point = (path: string, list: string, target: number | undefined) => {
    if (target !== undefined && target >= sizes[list]!) {
      refuse(
        'gltfBroken',
        { path },
        `${path} points at ${list}[${target}], and there are ${sizes[list]} ${list}`,
      );
    }
  };
  point('scene', 'scenes', json.scene);
  json.scenes?.forEach((scene, i) =>
    scene.nodes?.forEach((node) => point(`scenes[${i}].nodes`, 'nodes', node)),
  );
  const parents = new Map<number, number>();
  json.nodes?.forEach((node, i) => {
    point(`nodes[${i}].mesh`, 'meshes', node.mesh);
    point(`nodes[${i}].skin`, 'skins', node.skin);
    for (const child of node.children ?? []) {
      point(`nodes[${i}].children`, 'nodes', child);
      if (parents.has(child))
        refuse('gltfBroken', { path: `nodes[${i}].children` }, `nodes[${child}] has two parents`);
      parents.set(child, i);
    }
  });
  // Each node is looked at once, however deep the tree: what leads to a known one leads out of it.
  const known = new Set<number>();
  json.nodes?.forEach((_, i) => {
    const walked = new Set<number>();
    for (let at: number | undefined = i; at !== undefined && !known.has(at); at = parents.get(at)) {
      if (walked.has(at)) refuse('gltfBroken', { path: `nodes[${at}]` }, `nodes[${at}] is its own ancestor`);
      walked.add(at);
    }
    for (const at of walked) known.add(at);
  });
  json.skins?.forEach((skin, i) => {
    skin.joints.forEach((joint) => point(`skins[${i}].joints`, 'nodes', joint));
    point(`skins[${i}].inverseBindMatrices`, 'accessors', skin.inverseBindMatrices);
  });
  json.meshes?.forEach((mesh, i) =>
    mesh.primitives.forEach((primitive, p) => {
      const path = `meshes[${i}].primitives[${p}]`;
      for (const [name, accessor] of Object.entries(primitive.attributes))
        point(`${path}.${name}`, 'accessors', accessor);
      for (const [t, target] of (primitive.targets ?? []).entries())
        for (const accessor of Object.values(target)) point(`${path}.targets[${t}]`, 'accessors', accessor);
      point(`${path}.indices`, 'accessors', primitive.indices);
      point(`${path}.material`, 'materials', primitive.material);
    }),
  );
  json.textures?.forEach((texture, i) => point(`textures[${i}].source`, 'images', texture.source));
  json.accessors?.forEach((accessor, i) => {
    point(`accessors[${i}].bufferView`, 'bufferViews', accessor.bufferView);
    point(`accessors[${i}].sparse.indices.bufferView`, 'bufferViews', accessor.sparse?.indices.bufferView);
    point(`accessors[${i}].sparse.values.bufferView`, 'bufferViews', accessor.sparse?.values.bufferView);
  });
  json.bufferViews?.forEach((view, i) => {
    point(`bufferViews[${i}].buffer`, 'buffers', view.buffer);
    const size = json.buffers?.[view.buffer]?.byteLength ?? 0;
    if ((view.byteOffset ?? 0) + view.byteLength > size) {
      refuse(
        'gltfBroken',
        { path: `bufferViews[${i}]` },
        `bufferViews[${i}] reaches past the end of its buffer`,
      );
    }
  });
  json.animations?.forEach((animation, i) => {
    animation.channels.forEach((channel, c) => {
      const path = `animations[${i}].channels[${c}]`;
      point(`${path}.target.node`, 'nodes', channel.target.node);
      if (channel.sampler >= animation.samplers.length) {
        refuse(
          'gltfBroken',
          { path },
          `${path} points at sampler ${channel.sampler}, and there are ${animation.samplers.length}`,
        );
      }
    });
    animation.samplers.forEach((sampler, s) => {
      point(`animations[${i}].samplers[${s}].input`, 'accessors', sampler.input);
      point(`animations[${i}].samplers[${s}].output`, 'accessors', sampler.output);
    });
  });
}
