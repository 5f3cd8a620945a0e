import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import type { MeshBasicMaterial } from 'three';
import type { Node, Shot, Source } from '@kneader/core';
import type { BenchState } from '../../bench-store.ts';
import type { ShaderChange } from '../shader-changes.ts';
import { PosedSkin } from './posed-skin.tsx';
import { inOneMaterial } from './skin-materials.ts';
import { useDrawsSkin, useSkin } from './skins.ts';
import { useSkinFigure } from './use-skin-figure.ts';
import type { ShownSkin } from './use-skin-figure.ts';

interface SkinShapeProps {
  readonly source: Source;
  readonly nodes: readonly Node[];
  readonly pick: (state: BenchState) => Shot | null;
  readonly material: MeshBasicMaterial;
  readonly renderOrder: number;
  /** The same at every drawing. */
  readonly change?: ShaderChange;
}

/** The shape of a skin in one material, as soon as its file is read: ghosts and outlines are made of it. */
export function SkinShape({ source, ...rest }: SkinShapeProps) {
  const skin = useSkin(source);
  const draws = useDrawsSkin();
  const shown = useMemo(() => (skin ? { source, skin } : null), [source, skin]);
  return shown && draws(shown.skin) ? <ShownShape shown={shown} {...rest} /> : null;
}

type ShownShapeProps = Omit<SkinShapeProps, 'source'> & { readonly shown: ShownSkin };

function ShownShape({ shown, nodes, pick, material, renderOrder, change }: ShownShapeProps) {
  const invalidate = useThree((state) => state.invalidate);
  const figure = useSkinFigure(shown, nodes, pick);
  useEffect(() => {
    const made = inOneMaterial(figure.meshes, material, change);
    for (const mesh of figure.meshes) mesh.renderOrder = renderOrder;
    invalidate();
    return () => made.forEach((one) => one.dispose());
  }, [figure, material, renderOrder, change, invalidate]);
  return <PosedSkin figure={figure} pick={pick} />;
}
