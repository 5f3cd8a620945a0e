import { useCallback, useMemo, useRef } from 'react';
import { CustomBlending, MeshBasicMaterial, OneFactor, ZeroFactor } from 'three';
import type { Group } from 'three';
import { poseColumns } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { shownShot, useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import { PartMeshes } from './part-meshes.tsx';
import { besideHead, BENCH_HEAD, PlayHeadContext } from './play-head.ts';
import { SkinShape } from './skin/skin-shape.tsx';
import { useShape } from './skin/use-shape.ts';
import type { Shape } from './skin/use-shape.ts';
import { usePose } from './use-pose.ts';

/** Frames to a ghost where no pose columns say it. */
const STEP = 4;

/** The figure at pose columns before and after the play-head, as pale shapes. */
export function StageGhostFrames() {
  const count = useBench((state) => (state.playing ? 0 : state.ghosts));
  const shape = useShape(shownShot, 2 * count);
  const ways = Array.from({ length: count }, (_, k) => [-k - 1, k + 1]).flat();
  return (
    <>
      {ways.map((way) => (
        <GhostFigure key={way} way={way} shape={shape} />
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

/** The shot at the play-head of a ghost; null past the ends. */
const ghosted = (state: BenchState, way: number): Shot | null => {
  const shot = shownShot(state);
  return ghostFrame(shot, state.frame, way) === null ? null : shot;
};

function GhostFigure({ way, shape }: { readonly way: number; readonly shape: Shape }) {
  const head = useMemo(
    () => besideHead(BENCH_HEAD, (frame) => ghostFrame(shownShot(useBench.getState()), frame, way) ?? frame),
    [way],
  );
  return (
    <PlayHeadContext value={head}>
      <GhostShape way={way} shape={shape} />
    </PlayHeadContext>
  );
}

function GhostShape({
  way,
  shape: { nodes, parts, skins },
}: {
  readonly way: number;
  readonly shape: Shape;
}) {
  const group = useRef<Group>(null);
  const theme = useTheme((state) => state.name);
  const pick = useCallback((state: BenchState) => ghosted(state, way), [way]);
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
  usePose(group, parts, pick);
  return (
    <>
      <PartMeshes group={group} parts={parts} material={material} renderOrder={1} />
      {skins.map((source, i) => (
        <SkinShape key={`${source.id} ${i}`} {...{ source, nodes, pick, material }} renderOrder={1} />
      ))}
    </>
  );
}
