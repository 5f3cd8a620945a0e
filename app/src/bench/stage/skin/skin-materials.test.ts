import { describe, expect, test } from '@jest/globals';
import { BufferAttribute, BufferGeometry, Mesh, MeshBasicMaterial, ShaderLib } from 'three';
import type { Material, WebGLProgramParametersWithUniforms, WebGLRenderer } from 'three';
import { grownBy, onFloor } from '../shader-changes.ts';
import type { ShaderChange } from '../shader-changes.ts';
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

const PALE = { touching: 0.5, above: 0.1 };

describe('a skin in one material', () => {
  const [shallow, deep] = [meshOf(false), meshOf(true)];
  const material = new MeshBasicMaterial({ color: 'red' });
  const shaders = (change?: ShaderChange) => {
    inOneMaterial([shallow, deep], material, change);
    return [shallow, deep].map((mesh) => shaderOf(mesh.material as Material));
  };

  test('is led by more than four joints only where a vertex has them', () => {
    expect(shaders().map((shader) => shader.includes('attribute vec4 weights_1'))).toEqual([false, true]);
  });

  test('is pushed outwards after joints have moved it, with normals for what has none of them', () => {
    for (const shader of shaders(grownBy(1.25))) {
      const at = (text: string) => shader.indexOf(text);
      expect(shader).toContain('* 1.250000');
      expect(at('#include <project_vertex>')).toBeGreaterThan(at('#include <begin_vertex>'));
      expect(at('mvPosition.xyz +=')).toBeGreaterThan(at('#include <project_vertex>'));
      expect(at('#if 1\n')).toBeLessThan(at('#include <beginnormal_vertex>'));
      expect(at('#if 1\n')).toBeGreaterThan(-1);
    }
    expect(shaders().every((shader) => !shader.includes('mvPosition.xyz +='))).toBe(true);
  });

  test('laid on the floor it is there after all joints, and its colour goes by how high it was', () => {
    inOneMaterial([deep], material, onFloor(-1.5, 20, PALE));
    const shader = {
      vertexShader: ShaderLib.basic.vertexShader,
      fragmentShader: ShaderLib.basic.fragmentShader,
      uniforms: {},
    } as unknown as WebGLProgramParametersWithUniforms;
    (deep.material as unknown as Material).onBeforeCompile(shader, {} as WebGLRenderer);
    const { vertexShader: vertex, fragmentShader: fragment } = shader;
    expect(vertex).toContain('fallen.y = -1.500000');
    expect(vertex.indexOf('attribute vec4 weights_1') > -1).toBe(true);
    expect(vertex.indexOf('fallen.y =')).toBeGreaterThan(vertex.indexOf('joints_1.w'));
    expect(vertex).not.toContain('#include <project_vertex>');
    expect(fragment).toContain('mix( 0.10, 0.50');
    expect([vertex, fragment].map((text) => text.split('varying float aboveFloor').length)).toEqual([2, 2]);
  });

  test('has a program of its own for each of these', () => {
    const keys = [undefined, grownBy(1.25), grownBy(2), onFloor(0, 20, PALE), onFloor(0, 10, PALE)].flatMap(
      (change) => {
        inOneMaterial([shallow, deep], material, change);
        return [shallow, deep].map(({ material: made }) =>
          (made as unknown as Material).customProgramCacheKey(),
        );
      },
    );
    expect(new Set(keys).size).toBe(10);
  });
});
