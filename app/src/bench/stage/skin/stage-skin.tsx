import { useThree } from '@react-three/fiber';
import { useEffect, useImperativeHandle } from 'react';
import type { Ref } from 'react';
import type { Material, Raycaster } from 'three';
import type { Node, Shot } from '@kneader/core';
import { PALETTES } from '../../../theme/palette.ts';
import { useTheme } from '../../../theme/theme-provider.tsx';
import type { BenchState } from '../../bench-store.ts';
import type { Shading } from '../shading.ts';
import { PosedSkin } from './posed-skin.tsx';
import { shaded } from './skin-materials.ts';
import { useSkinFigure } from './use-skin-figure.ts';
import type { ShownSkin } from './use-skin-figure.ts';

/** Drawn after ghosts and outlines behind it, as the parts of a figure are. */
const FIGURE = 2;

export interface SkinTouch {
  readonly touched: (ray: Raycaster) => string | null;
}

interface StageSkinProps {
  readonly shown: ShownSkin;
  readonly nodes: readonly Node[];
  readonly shading: Shading;
  readonly pick: (state: BenchState) => Shot | null;
  readonly ref?: Ref<SkinTouch>;
}

/** A figure in its own skin, driven by the pose that evaluation gives. */
export function StageSkin({ shown, nodes, shading, pick, ref }: StageSkinProps) {
  const theme = useTheme((state) => state.name);
  const invalidate = useThree((state) => state.invalidate);
  const figure = useSkinFigure(shown, nodes, pick);
  useImperativeHandle(ref, () => figure, [figure]);
  useEffect(() => {
    const materials = shaded(figure.meshes, shading, PALETTES[theme].ink);
    figure.meshes.forEach((mesh, i) => {
      mesh.material = materials[i] as Material;
      mesh.renderOrder = FIGURE;
    });
    invalidate();
    // Pictures are the file's, and stay.
    return () => materials.flat().forEach((material) => material.dispose());
  }, [figure, shading, theme, invalidate]);
  return <PosedSkin figure={figure} pick={pick} />;
}
