import { useCallback, useRef } from 'react';
import { Matrix4 } from 'three';
import type { Group } from 'three';
import { valuesAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import type { BenchState } from '../../bench-store.ts';
import { usePosed } from '../use-pose.ts';
import type { Apply } from '../use-pose.ts';
import type { SkinFigure } from './skin-figure.ts';

const from = new Matrix4();

interface PosedSkinProps {
  readonly figure: SkinFigure;
  /** The same function at every drawing. */
  readonly pick: (state: BenchState) => Shot | null;
}

/** An instance of a skin where it is drawn, in the pose that the shot has at the play-head; hidden where there is no shot. */
export function PosedSkin({ figure, pick }: PosedSkinProps) {
  const group = useRef<Group>(null);
  const pose = useCallback<Apply>(
    (shot, { matrices }, frame) => {
      figure.root.visible = shot !== null;
      if (!shot) return;
      group.current?.parent?.updateWorldMatrix(true, false);
      from.copy(group.current?.parent?.matrixWorld ?? from.identity());
      figure.pose(matrices, figure.hasMorphs ? valuesAt(shot, frame) : null, from);
    },
    [figure],
  );
  usePosed(pose, pick);
  return (
    <group ref={group}>
      <primitive object={figure.root} dispose={null} />
    </group>
  );
}
