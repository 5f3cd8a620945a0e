import { useMemo, useRef } from 'react';
import { BackSide, MeshBasicMaterial, NotEqualStencilFunc, ReplaceStencilOp } from 'three';
import type { Group } from 'three';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { ghostShot, useBench } from '../bench-store.ts';
import { grown, movingParts } from './figure-parts.ts';
import { figureSize } from './figure-size.ts';
import { PartMeshes } from './part-meshes.tsx';
import { usePose } from './use-pose.ts';

/** How thick the outline is, as a part of the figure's height. */
const THICKNESS = 0.007;

/**
 * The motion before, as an outline behind the figure. The shape is written to the stencil without colour, then the grown
 * shape is drawn where the stencil is empty: only its rim is left.
 */
export function StageGhost() {
  const shape = useRef<Group>(null);
  const rim = useRef<Group>(null);
  const nodes = useBench((state) => state.session.shot.nodes);
  const theme = useTheme((state) => state.name);
  const parts = movingParts(nodes);
  const rims = useMemo(() => {
    const { height } = figureSize(useBench.getState().session.shot);
    return parts.map((part) => ({ ...part, geometry: grown(part.geometry, height * THICKNESS) }));
  }, [parts]);
  usePose(shape, parts, ghostShot);
  usePose(rim, rims, ghostShot);
  const [cut, line] = useMemo(
    () => [
      new MeshBasicMaterial({
        colorWrite: false,
        depthWrite: false,
        depthTest: false,
        stencilWrite: true,
        stencilRef: 1,
        stencilZPass: ReplaceStencilOp,
      }),
      new MeshBasicMaterial({
        color: PALETTES[theme].accent,
        side: BackSide,
        depthWrite: false,
        depthTest: false,
        stencilWrite: true,
        stencilRef: 1,
        stencilFunc: NotEqualStencilFunc,
      }),
    ],
    [theme],
  );
  return (
    <>
      <PartMeshes group={shape} parts={parts} material={cut} renderOrder={0} />
      <PartMeshes group={rim} parts={rims} material={line} renderOrder={1} />
    </>
  );
}
