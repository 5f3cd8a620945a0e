import { useThree } from '@react-three/fiber';
import { useEffect, useImperativeHandle, useMemo, useRef } from 'react';
import type { Ref } from 'react';
import { Matrix4 } from 'three';
import type { Group, Material, Raycaster } from 'three';
import { rigOf, valuesAt } from '@kneader/core';
import type { Node, Shot, Source } from '@kneader/core';
import { PALETTES } from '../../../theme/palette.ts';
import { useTheme } from '../../../theme/theme-provider.tsx';
import { useBench } from '../../bench-store.ts';
import type { BenchState } from '../../bench-store.ts';
import type { Shading } from '../shading.ts';
import { usePosed } from '../use-pose.ts';
import type { LoadedSkin } from './load-skin.ts';
import { skinFigure } from './skin-figure.ts';
import { shaded } from './skin-materials.ts';

export interface SkinTouch {
  readonly touched: (ray: Raycaster) => string | null;
}

interface StageSkinProps {
  readonly source: Source;
  readonly skin: LoadedSkin;
  readonly nodes: readonly Node[];
  readonly shading: Shading;
  readonly pick: (state: BenchState) => Shot | null;
  readonly ref?: Ref<SkinTouch>;
}

/** A figure in its own skin, driven by the pose that evaluation gives. */
export function StageSkin({ source, skin, nodes, shading, pick, ref }: StageSkinProps) {
  const group = useRef<Group>(null);
  const theme = useTheme((state) => state.name);
  const invalidate = useThree((state) => state.invalidate);
  const figure = useMemo(() => {
    const state = useBench.getState();
    const rig = rigOf(pick(state) ?? state.session.shot);
    return skinFigure(skin, source, rig.indexOf, rig.channelIndex);
    // Rows and channels are those of these nodes.
  }, [skin, source, nodes, pick]); // eslint-disable-line react-hooks/exhaustive-deps
  useImperativeHandle(ref, () => figure, [figure]);
  useEffect(() => {
    const materials = shaded(figure.meshes, shading, PALETTES[theme].ink);
    figure.meshes.forEach((mesh, i) => (mesh.material = materials[i] as Material));
    invalidate();
    // Pictures are the file's, and stay.
    return () => materials.flat().forEach((material) => material.dispose());
  }, [figure, shading, theme, invalidate]);
  usePosed(
    useMemo(() => {
      const from = new Matrix4();
      return (shot: Shot | null, { matrices }, frame) => {
        figure.root.visible = shot !== null;
        if (!shot) return;
        group.current?.parent?.updateWorldMatrix(true, false);
        from.copy(group.current?.parent?.matrixWorld ?? from.identity());
        figure.pose(matrices, source.morphs.length > 0 ? valuesAt(shot, frame) : null, from);
      };
    }, [figure, source]),
    pick,
  );
  return (
    <group ref={group}>
      <primitive object={figure.root} dispose={null} />
    </group>
  );
}
