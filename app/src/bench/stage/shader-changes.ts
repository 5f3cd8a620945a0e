/** What is added to three's own shaders, piece by piece: a material may have several of these, as a skin with eight joints that is grown. */
import { Color } from 'three';
import type { Material, WebGLProgramParametersWithUniforms } from 'three';

export interface ShaderChange {
  /** By which programs with the same changes are known: other numbers in the shader, another name. */
  readonly name: string;
  readonly change: (shader: WebGLProgramParametersWithUniforms) => void;
}

/** Adds a change to those that a material has. */
export function changeShader(material: Material, { name, change }: ShaderChange): void {
  const before = material.onBeforeCompile.bind(material);
  const known = material.customProgramCacheKey();
  material.onBeforeCompile = (shader, renderer) => {
    before(shader, renderer);
    change(shader);
  };
  material.customProgramCacheKey = () => `${known} ${name}`;
}

/** Pushes a shape outwards by so many centimetres, after its joints and morphs have moved it. For `MeshBasicMaterial`. */
export const grownBy = (by: number): ShaderChange => ({
  name: `grown by ${by}`,
  change(shader) {
    shader.vertexShader = shader.vertexShader
      // Normals are worked out for whatever has no joints as well.
      .replace('#if defined ( USE_ENVMAP ) || defined ( USE_SKINNING )', '#if 1')
      .replace(
        '#include <project_vertex>',
        `#include <project_vertex>
        mvPosition.xyz += normalize( normalMatrix * objectNormal ) * ${by.toFixed(6)};
        gl_Position = projectionMatrix * mvPosition;`,
      );
  },
});

/** How dark a shadow is, 0 … 1: of what touches the floor, and of what is far above it. */
export interface Darkness {
  readonly touching: number;
  readonly above: number;
}

/**
 * Lays a shape flat onto the floor, dark where it touches it and paler the higher it lies over it. The material's colour is the floor's. For `MeshBasicMaterial`.
 * @param floor its height, cm @param reach cm over it at which a shape is no longer near
 */
export const onFloor = (floor: number, reach: number, { touching, above }: Darkness): ShaderChange => ({
  name: `on the floor ${floor} ${reach} ${touching} ${above}`,
  change(shader) {
    shader.uniforms['dark'] = { value: new Color('black') };
    shader.vertexShader = shader.vertexShader
      .replace('void main() {', 'varying float aboveFloor;\nvoid main() {')
      .replace(
        '#include <project_vertex>',
        `vec4 fallen = modelMatrix * vec4( transformed, 1.0 );
        aboveFloor = ( fallen.y - ${floor.toFixed(6)} ) / ${reach.toFixed(6)};
        fallen.y = ${floor.toFixed(6)};
        vec4 mvPosition = viewMatrix * fallen;
        gl_Position = projectionMatrix * mvPosition;`,
      );
    shader.fragmentShader = shader.fragmentShader
      .replace('void main() {', 'uniform vec3 dark;\nvarying float aboveFloor;\nvoid main() {')
      .replace(
        'vec4 diffuseColor = vec4( diffuse, opacity );',
        `float away = clamp( abs( aboveFloor ), 0.0, 1.0 );
        float share = mix( ${above.toFixed(2)}, ${touching.toFixed(2)}, ( 1.0 - away ) * ( 1.0 - away ) );
        vec4 diffuseColor = vec4( mix( diffuse, dark, share ), opacity );`,
      );
  },
});
