import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import type { RefObject } from 'react';
import type { Group } from 'three';
import { worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import type { FigurePart } from './figure-parts.ts';

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
    const apply = (state: BenchState) => {
      const shot = pick(state);
      if (shot === lastShot && state.frame === lastFrame) return;
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
    return useBench.subscribe(apply);
  }, [group, parts, pick, invalidate]);
}
