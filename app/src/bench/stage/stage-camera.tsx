import { OrbitControls } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import type { ComponentRef } from 'react';
import { Matrix4, Vector3 } from 'three';
import { worldAt } from '@kneader/core';
import { shownShot, useBench } from '../bench-store.ts';
import { figureSize } from './figure-size.ts';

export type StageView = 'free' | 'front' | 'side' | 'top' | 'camera';

const DIRECTIONS: Record<Exclude<StageView, 'camera'>, readonly [number, number, number]> = {
  free: [0.55, 0.28, 1],
  front: [0, 0, 1],
  side: [1, 0, 0],
  top: [0, 1, 0.0001],
};

/** Looks at the figure from one of the views; the shot camera is followed and cannot be moved from here. */
export function StageCamera({ view }: { readonly view: StageView }) {
  const controls = useRef<ComponentRef<typeof OrbitControls>>(null);
  const camera = useThree((state) => state.camera);
  const invalidate = useThree((state) => state.invalidate);
  const id = useBench((state) => state.id);
  // The size when the shot was opened: the camera stays while the shot is worked on.
  const size = useMemo(() => figureSize(useBench.getState().session.shot), [id]); // eslint-disable-line react-hooks/exhaustive-deps

  useEffect(() => {
    if (view === 'camera') return;
    const direction = new Vector3(...DIRECTIONS[view]).normalize();
    const middle = new Vector3(...size.middle);
    camera.position.copy(middle).addScaledVector(direction, size.height * 2.15);
    camera.up.set(0, 1, 0);
    controls.current?.target.copy(middle);
    controls.current?.update();
    invalidate();
  }, [view, size, camera, invalidate]);

  useEffect(() => {
    if (view !== 'camera') return;
    const matrix = new Matrix4();
    const follow = () => {
      const state = useBench.getState();
      const shot = shownShot(state);
      const node = shot.nodes.findIndex(({ kind }) => kind === 'camera');
      if (node < 0) return;
      matrix.fromArray(worldAt(shot, state.frame).matrices, node * 16);
      matrix.decompose(camera.position, camera.quaternion, new Vector3());
      invalidate();
    };
    follow();
    return useBench.subscribe(follow);
  }, [view, camera, invalidate]);

  return <OrbitControls ref={controls} makeDefault enabled={view !== 'camera'} enableDamping={false} />;
}
