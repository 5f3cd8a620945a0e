import { useMemo, useRef } from 'react';
import { BackSide, MeshBasicMaterial, NotEqualStencilFunc, ReplaceStencilOp } from 'three';
import type { Group } from 'three';
import type { Shot } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import { grown } from './figure-parts.ts';
import type { FigurePart } from './figure-parts.ts';
import { figureSize } from './figure-size.ts';
import { PartMeshes } from './part-meshes.tsx';
import { usePose } from './use-pose.ts';

interface StageOutlineProps {
  readonly parts: readonly FigurePart[];
  /** Which shot it stands for; the same function at every drawing. */
  readonly pick: (state: BenchState) => Shot | null;
  readonly colour: string;
  /** Of the figure's height. */
  readonly thickness: number;
  /** When it is drawn: two places from here on, and a mark of its own in the stencil. */
  readonly order: number;
}

/** The rim of some parts together. Their shape is written to the stencil without colour, then the grown shape is drawn where the stencil is not theirs: only the rim is left. */
export function StageOutline({ parts, pick, colour, thickness, order }: StageOutlineProps) {
  const shape = useRef<Group>(null);
  const rim = useRef<Group>(null);
  const rims = useMemo(() => {
    const { height } = figureSize(useBench.getState().session.shot);
    return parts.map((part) => ({ ...part, geometry: grown(part.geometry, height * thickness) }));
  }, [parts, thickness]);
  usePose(shape, parts, pick);
  usePose(rim, rims, pick);
  const [cut, line] = useMemo(() => {
    const stencil = {
      ...{ depthWrite: false, depthTest: false },
      ...{ stencilWrite: true, stencilRef: order + 1 },
    };
    return [
      new MeshBasicMaterial({ ...stencil, colorWrite: false, stencilZPass: ReplaceStencilOp }),
      new MeshBasicMaterial({ ...stencil, color: colour, side: BackSide, stencilFunc: NotEqualStencilFunc }),
    ];
  }, [colour, order]);
  return (
    <>
      <PartMeshes group={shape} parts={parts} material={cut} renderOrder={order} />
      <PartMeshes group={rim} parts={rims} material={line} renderOrder={order + 1} />
    </>
  );
}
