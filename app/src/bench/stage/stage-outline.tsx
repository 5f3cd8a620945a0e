import { Fragment, useMemo, useRef } from 'react';
import { DoubleSide, MeshBasicMaterial, NotEqualStencilFunc, ReplaceStencilOp } from 'three';
import type { Group } from 'three';
import type { Shot } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import { grown } from './figure-parts.ts';
import { figureSize } from './figure-size.ts';
import { PartMeshes } from './part-meshes.tsx';
import { grownBy } from './shader-changes.ts';
import { SkinShape } from './skin/skin-shape.tsx';
import type { Shape } from './skin/use-shape.ts';
import { usePose } from './use-pose.ts';

interface StageOutlineProps {
  readonly shape: Shape;
  /** Which shot it stands for; the same function at every drawing. */
  readonly pick: (state: BenchState) => Shot | null;
  readonly colour: string;
  /** Of the figure's height. */
  readonly thickness: number;
  /** When it is drawn: two places from here on, and a mark of its own in the stencil. */
  readonly order: number;
}

/** The rim of a shape. Their shape is written to the stencil without colour, then the grown shape is drawn where the stencil is not theirs: only the rim is left. */
export function StageOutline({
  shape: { nodes, parts, skins },
  pick,
  colour,
  thickness,
  order,
}: StageOutlineProps) {
  const inside = useRef<Group>(null);
  const rim = useRef<Group>(null);
  const by = useMemo(() => figureSize(useBench.getState().session.shot).height * thickness, [thickness]);
  const rounder = useMemo(() => grownBy(by), [by]);
  const rims = useMemo(
    () => parts.map((part) => ({ ...part, geometry: grown(part.geometry, by) })),
    [parts, by],
  );
  usePose(inside, parts, pick);
  usePose(rim, rims, pick);
  const [cut, line] = useMemo(() => {
    const stencil = {
      ...{ depthWrite: false, depthTest: false },
      ...{ stencilWrite: true, stencilRef: order + 1 },
    };
    // What is open has a rim as well.
    const side = DoubleSide;
    return [
      new MeshBasicMaterial({ ...stencil, side, colorWrite: false, stencilZPass: ReplaceStencilOp }),
      new MeshBasicMaterial({ ...stencil, side, color: colour, stencilFunc: NotEqualStencilFunc }),
    ];
  }, [colour, order]);
  return (
    <>
      <PartMeshes group={inside} parts={parts} material={cut} renderOrder={order} />
      <PartMeshes group={rim} parts={rims} material={line} renderOrder={order + 1} />
      {skins.map((source, i) => (
        <Fragment key={`${source.id} ${i}`}>
          <SkinShape {...{ source, nodes, pick }} material={cut} renderOrder={order} />
          <SkinShape {...{ source, nodes, pick }} material={line} renderOrder={order + 1} change={rounder} />
        </Fragment>
      ))}
    </>
  );
}
