import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import type { RefObject } from 'react';
import type { Group } from 'three';
import { worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { HAS_GRAPHICS_CARD } from '../../drawing/graphics-card.ts';
import { useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import type { FigurePart } from './figure-parts.ts';

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

/**
 * Sets the matrices of a group's children (one for each part) from the shot that `pick` gives, whenever it or the play-head
 * changes. Past React: at 60 frames a second it would cost more than the drawing.
 */
export function usePose(
  group: RefObject<Group | null>,
  parts: readonly FigurePart[],
  pick: (state: BenchState) => Shot | null,
): void {
  const invalidate = useThree((state) => state.invalidate);
  useEffect(() => {
    let lastShot: Shot | null = null;
    let lastFrame = NaN;
    let timer = 0;
    const apply = (state: BenchState) => {
      const shot = pick(state);
      if (shot === lastShot && state.frame === lastFrame) return;
      window.clearTimeout(timer);
      // The hand that drags goes first; the stage follows as often as it can without holding it up.
      const wait = state.gesture && !HAS_GRAPHICS_CARD ? untilNextPicture() : 0;
      if (wait > 0) {
        timer = window.setTimeout(() => apply(useBench.getState()), wait);
        return;
      }
      lastShot = shot;
      lastFrame = state.frame;
      const target = group.current;
      if (!target) return;
      target.visible = shot !== null;
      invalidate();
      if (!shot) return;
      const { matrices } = worldAt(shot, state.frame, state.playing);
      target.children.forEach((child, i) => {
        const part = parts[i];
        if (part) child.matrix.fromArray(matrices, part.node * 16);
        child.matrixWorldNeedsUpdate = true;
      });
    };
    apply(useBench.getState());
    const stop = useBench.subscribe(apply);
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, [group, parts, pick, invalidate]);
}
