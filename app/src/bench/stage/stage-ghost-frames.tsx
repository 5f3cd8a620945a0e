import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import { CustomBlending, MeshBasicMaterial, OneFactor, ZeroFactor } from 'three';
import type { Group } from 'three';
import { poseColumns, worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { shownShot, useBench } from '../bench-store.ts';
import { movingParts } from './figure-parts.ts';
import { PartMeshes } from './part-meshes.tsx';

/** Frames to a ghost where no pose columns say it. */
const STEP = 4;

/** The figure at pose columns before and after the play-head, as pale shapes. */
export function StageGhostFrames() {
  const count = useBench((state) => (state.playing ? 0 : state.ghosts));
  const ways = Array.from({ length: count }, (_, k) => [-k - 1, k + 1]).flat();
  return (
    <>
      {ways.map((way) => (
        <GhostFigure key={way} way={way} />
      ))}
    </>
  );
}

/** The frame of the ghost `way` columns away; null past the ends. */
function ghostFrame(shot: Shot, frame: number, way: number): number | null {
  const { frames, dense } = poseColumns(shot);
  if (dense || frames.length === 0) {
    const at = frame + way * STEP;
    return at >= shot.range.start && at <= shot.range.end ? at : null;
  }
  const sorted = way < 0 ? frames.filter((at) => at < frame).reverse() : frames.filter((at) => at > frame);
  return sorted[Math.abs(way) - 1] ?? null;
}

function GhostFigure({ way }: { readonly way: number }) {
  const group = useRef<Group>(null);
  const shot = useBench(shownShot);
  const frame = useBench((state) => state.frame);
  const theme = useTheme((state) => state.name);
  const invalidate = useThree((state) => state.invalidate);
  const parts = movingParts(shot.nodes);
  const material = useMemo(() => {
    const palette = PALETTES[theme];
    return new MeshBasicMaterial({
      color: way < 0 ? palette.left : palette.right,
      // Blended, yet drawn with the solid things and ahead of the figure, which then stands in front.
      transparent: false,
      blending: CustomBlending,
      // The canvas itself stays opaque.
      blendSrcAlpha: ZeroFactor,
      blendDstAlpha: OneFactor,
      opacity: 0.2 / Math.abs(way),
      depthWrite: false,
    });
  }, [theme, way]);
  useEffect(() => {
    const target = group.current;
    if (!target) return;
    const at = ghostFrame(shot, frame, way);
    target.visible = at !== null;
    invalidate();
    if (at === null) return;
    const { matrices } = worldAt(shot, at, true);
    target.children.forEach((child, k) => {
      const part = parts[k];
      if (part) child.matrix.fromArray(matrices, part.node * 16);
      child.matrixWorldNeedsUpdate = true;
    });
    return () => invalidate();
  }, [shot, frame, way, parts, invalidate]);
  return <PartMeshes group={group} parts={parts} material={material} renderOrder={1} />;
}
