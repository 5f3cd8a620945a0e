import { useThree } from '@react-three/fiber';
import { useCallback, useContext, useEffect } from 'react';
import type { RefObject } from 'react';
import type { Group } from 'three';
import { worldAt } from '@kneader/core';
import type { Shot, WorldPose } from '@kneader/core';
import { HAS_GRAPHICS_CARD } from '../../drawing/graphics-card.ts';
import { useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import type { FigurePart } from './figure-parts.ts';
import { BENCH_HEAD, PlayHeadContext } from './play-head.ts';

/** The part of the time that pictures of the stage may take during a drag, without a graphics card. */
const STAGE_SHARE = 0.2;
/** Milliseconds within which all groups of the stage count as changed in one picture. */
const ONE_PICTURE_MS = 10;

/** When the last picture was begun, and how long it held up the page. */
let picture = -Infinity;
let pictureMs = 30;

/** Milliseconds until groups may change again. */
function untilNextPicture(): number {
  const passed = performance.now() - picture;
  if (passed < ONE_PICTURE_MS) return 0;
  const pace = pictureMs / STAGE_SHARE;
  if (passed < pace) return pace - passed;
  picture = performance.now();
  const begun = picture;
  // Drawn in the frame after this one; the one after that begins when the page is free again.
  requestAnimationFrame(() =>
    requestAnimationFrame(() => {
      pictureMs = Math.min(400, performance.now() - begun);
    }),
  );
  return 0;
}

/** Sets what is drawn to a pose; where there is no shot it is hidden. */
export type Apply = (shot: Shot | null, pose: Pick<WorldPose, 'matrices' | 'values'>, frame: number) => void;
const NOWHERE = { matrices: new Float64Array() };

/**
 * Calls `apply` with the world that `pick`'s shot has at the play-head of this part of the stage, whenever either changes. Past React: at 60 frames a second it would cost more than the drawing.
 * @param apply the same function at every drawing, as `pick` is
 */
export function usePosed(apply: Apply, pick: (state: BenchState) => Shot | null): void {
  const invalidate = useThree((state) => state.invalidate);
  const head = useContext(PlayHeadContext);
  useEffect(() => {
    let lastShot: Shot | null = null;
    let lastFrame = NaN;
    let timer = 0;
    const follow = () => {
      const shot = pick(useBench.getState());
      const { frame, playing, yields } = head.read();
      if (shot === lastShot && frame === lastFrame) return;
      window.clearTimeout(timer);
      // The hand that drags goes first; the stage follows as often as it can without holding it up.
      const wait = yields && !HAS_GRAPHICS_CARD ? untilNextPicture() : 0;
      if (wait > 0) {
        timer = window.setTimeout(follow, wait);
        return;
      }
      lastShot = shot;
      lastFrame = frame;
      apply(shot, shot ? worldAt(shot, frame, playing) : NOWHERE, frame);
      invalidate();
    };
    follow();
    const stops = [useBench.subscribe(follow), ...(head === BENCH_HEAD ? [] : [head.subscribe(follow)])];
    return () => {
      window.clearTimeout(timer);
      stops.forEach((stop) => stop());
    };
  }, [apply, pick, head, invalidate]);
}

/** Sets the matrices of a group's children, one for each part. */
export function usePose(
  group: RefObject<Group | null>,
  parts: readonly FigurePart[],
  pick: (state: BenchState) => Shot | null,
): void {
  const apply = useCallback<Apply>(
    (shot, { matrices }) => {
      const target = group.current;
      if (!target) return;
      target.visible = shot !== null;
      if (!shot) return;
      target.children.forEach((child, i) => {
        const part = parts[i];
        if (part) child.matrix.fromArray(matrices, part.node * 16);
        child.matrixWorldNeedsUpdate = true;
      });
    },
    [group, parts],
  );
  usePosed(apply, pick);
}
