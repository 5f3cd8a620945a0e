import { describe, expect, test } from '@jest/globals';
import { BufferAttribute, BufferGeometry, Mesh, MeshBasicMaterial, ShaderLib } from 'three';
import type { Material, WebGLProgramParametersWithUniforms, WebGLRenderer } from 'three';
import { inOneMaterial } from './skin-materials.ts';

const meshOf = (isDeep: boolean) => {
  const geometry = new BufferGeometry();
  if (isDeep) geometry.setAttribute('weights_1', new BufferAttribute(new Float32Array(4), 4));
  return new Mesh(geometry);
};

/** The vertex shader that three's own becomes. */
function shaderOf(material: Material): string {
  const shader = { vertexShader: ShaderLib.basic.vertexShader } as WebGLProgramParametersWithUniforms;
  material.onBeforeCompile(shader, {} as WebGLRenderer);
  return shader.vertexShader;
}

describe('a skin in one material', () => {
  const [shallow, deep] = [meshOf(false), meshOf(true)];
  const material = new MeshBasicMaterial({ color: 'red' });
  const shaders = (grownBy: number) => {
    inOneMaterial([shallow, deep], material, grownBy);
    return [shallow, deep].map((mesh) => shaderOf(mesh.material as Material));
  };

  test('is led by more than four joints only where a vertex has them', () => {
    expect(shaders(0).map((shader) => shader.includes('attribute vec4 weights_1'))).toEqual([false, true]);
  });

  test('is pushed outwards after joints have moved it, with normals for what has none of them', () => {
    for (const shader of shaders(1.25)) {
      const at = (text: string) => shader.indexOf(text);
      expect(shader).toContain('* 1.250000');
      expect(at('#include <project_vertex>')).toBeGreaterThan(at('#include <begin_vertex>'));
      expect(at('mvPosition.xyz +=')).toBeGreaterThan(at('#include <project_vertex>'));
      expect(at('#if 1\n')).toBeLessThan(at('#include <beginnormal_vertex>'));
      expect(at('#if 1\n')).toBeGreaterThan(-1);
    }
    expect(shaders(0).every((shader) => !shader.includes('mvPosition.xyz +='))).toBe(true);
  });

  test('has a program of its own for each of these', () => {
    const keys = [0, 1.25, 2].flatMap((grownBy) => {
      inOneMaterial([shallow, deep], material, grownBy);
      return [shallow, deep].map(({ material: made }) =>
        (made as unknown as Material).customProgramCacheKey(),
      );
    });
    expect(new Set(keys).size).toBe(6);
  });
});
