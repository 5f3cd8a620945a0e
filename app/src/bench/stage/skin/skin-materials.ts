/** Materials of a skin: the file's own, or what stands for them where the stage is flat, shows silhouettes, or draws the skin's shape alone. Joints beyond the fourth of a vertex are added to what three does. */
import { Color, MeshBasicMaterial } from 'three';
import type { Material, Mesh, MeshStandardMaterial } from 'three';
import type { Shading } from '../shading.ts';
import { changeShader } from '../shader-changes.ts';
import type { ShaderChange } from '../shader-changes.ts';

/** The materials of each mesh as the shading wants them. @param ink of a silhouette */
export function shaded(
  meshes: readonly Mesh[],
  shading: Shading,
  ink: string,
): readonly (Material | Material[])[] {
  const made = new Map<Material, Material>();
  const shadedOne = (own: Material, isDeep: boolean): Material => {
    let other = made.get(own);
    if (!other) {
      other = shading === 'lit' ? own.clone() : plain(own as MeshStandardMaterial, shading, ink);
      if (isDeep) changeShader(other, EIGHT_JOINTS);
      made.set(own, other);
    }
    return other;
  };
  return meshes.map(({ material, geometry }) => {
    const isDeep = geometry.hasAttribute('weights_1');
    return Array.isArray(material)
      ? material.map((one) => shadedOne(one, isDeep))
      : shadedOne(material, isDeep);
  });
}

function plain(own: MeshStandardMaterial, shading: Shading, ink: string): Material {
  if (shading === 'silhouette') return new MeshBasicMaterial({ color: new Color(ink), side: own.side });
  const { map, color, vertexColors, transparent, opacity, alphaTest, side } = own;
  return new MeshBasicMaterial({ map, color, vertexColors, transparent, opacity, alphaTest, side });
}

/** Lays one material over all meshes, each with a change of the shader. @returns what was made of it, to be let go */
export function inOneMaterial(
  meshes: readonly Mesh[],
  material: MeshBasicMaterial,
  change?: ShaderChange,
): readonly Material[] {
  const made = [false, true].map((isDeep) => {
    const one = material.clone();
    if (isDeep) changeShader(one, EIGHT_JOINTS);
    if (change) changeShader(one, change);
    return one;
  });
  for (const mesh of meshes) mesh.material = made[mesh.geometry.hasAttribute('weights_1') ? 1 : 0]!;
  return made;
}

/** Four more joints of each vertex in the shader (glTF 2.0, 3.7.3.3, allows any number of sets). */
const EIGHT_JOINTS: ShaderChange = {
  name: 'eight joints',
  change: (shader) => {
    shader.vertexShader = shader.vertexShader
      .replace(
        '#include <skinning_pars_vertex>',
        '#include <skinning_pars_vertex>\nattribute vec4 joints_1;\nattribute vec4 weights_1;',
      )
      .replace(
        '#include <skinnormal_vertex>',
        `#ifdef USE_SKINNING
          mat4 skinMatrix = mat4( 0.0 );
          ${[0, 1].map((set) => ['x', 'y', 'z', 'w'].map((axis) => `skinMatrix += ${set === 0 ? 'skinWeight' : 'weights_1'}.${axis} * getBoneMatrix( ${set === 0 ? 'skinIndex' : 'joints_1'}.${axis} );`).join('\n')).join('\n')}
          skinMatrix = bindMatrixInverse * skinMatrix * bindMatrix;
          objectNormal = vec4( skinMatrix * vec4( objectNormal, 0.0 ) ).xyz;
        #endif`,
      )
      .replace(
        '#include <skinning_vertex>',
        `#include <skinning_vertex>
        #ifdef USE_SKINNING
          vec4 more = vec4( 0.0 );
          ${['x', 'y', 'z', 'w'].map((axis) => `more += getBoneMatrix( joints_1.${axis} ) * skinVertex * weights_1.${axis};`).join('\n')}
          transformed += ( bindMatrixInverse * more ).xyz;
        #endif`,
      );
  },
};
