import { OrbitControls } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { ComponentRef } from 'react';
import { Matrix4, MOUSE, PerspectiveCamera, Vector3 } from 'three';
import type { Camera } from 'three';
import { FIELD_OF_VIEW, LENS, rigOf } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { onFrameStage } from '../bench-actions.ts';
import { shownShot, useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import { distanceFor, extentOf } from './figure-size.ts';
import { useFigureSize } from './use-figure-size.ts';
import type { Extent } from './figure-size.ts';
import { usePosed } from './use-pose.ts';

export type StageView = 'free' | 'front' | 'side' | 'top' | 'camera';

const DIRECTIONS: Record<Exclude<StageView, 'camera'>, readonly [number, number, number]> = {
  free: [0.55, 0.28, 1],
  front: [0, 0, 1],
  side: [1, 0, 0],
  top: [0, 1, 0.0001],
};

/** cm to the far plane: one for each of the near plane. */
export const FARTHEST = 20_000;
const FAR_OF_HEIGHT = 60;

interface StageCameraProps {
  readonly view: StageView;
  /** Whose camera the view _Camera_ is; the same function at every drawing. */
  readonly pick?: (state: BenchState) => Shot | null;
}

/** Looks at the figure from one of the views; the shot camera is followed and cannot be moved from here. */
export function StageCamera({ view, pick = shownShot }: StageCameraProps) {
  const controls = useRef<ComponentRef<typeof OrbitControls>>(null);
  const camera = useThree((state) => state.camera);
  const invalidate = useThree((state) => state.invalidate);
  const aspect = useThree((state) => state.viewport.aspect);
  const seen = useRef(aspect);
  seen.current = aspect;
  const size = useFigureSize();

  const look = useCallback(
    (extent: Extent, direction: Vector3) => {
      const middle = new Vector3(...extent.low).add(new Vector3(...extent.high)).multiplyScalar(0.5);
      const fov = camera instanceof PerspectiveCamera ? camera.fov : 35;
      camera.position.copy(middle).addScaledVector(direction, distanceFor(extent, fov, seen.current));
      camera.up.set(0, 1, 0);
      controls.current?.target.copy(middle);
      controls.current?.update();
      invalidate();
    },
    [camera, invalidate],
  );

  // What is hundreds of metres tall is seen from afar; the usual planes serve all else.
  useEffect(() => {
    if (!(camera instanceof PerspectiveCamera)) return;
    camera.far = Math.max(FARTHEST, size.height * FAR_OF_HEIGHT);
    camera.near = camera.far / FARTHEST;
    camera.updateProjectionMatrix();
    invalidate();
  }, [camera, size, invalidate]);

  useEffect(() => {
    if (view === 'camera') return;
    const direction = new Vector3(...DIRECTIONS[view]).normalize();
    look(size.extent, direction);
  }, [view, size, look]);

  // The selection, or all that moves, from where the eye is.
  useEffect(
    () =>
      onFrameStage(() => {
        const state = useBench.getState();
        const chosen = new Set(state.session.selection.nodes);
        const found = extentOf(shownShot(state), [state.frame], ({ id: node }) => chosen.has(node));
        const way = camera.position.clone().sub(controls.current?.target ?? new Vector3());
        look(found ? withRoom(found, size.height * 0.12) : size.extent, way.normalize());
      }),
    [camera, size, look],
  );

  useEffect(() => {
    if (controls.current && view !== 'camera') return stageEye(camera, controls.current.target);
    return undefined;
  }, [camera, view]);

  // A view from one side stays from that side: what is dragged there goes along it.
  const isFree = view === 'free';
  return view === 'camera' ? (
    <ShotCamera pick={pick} />
  ) : (
    <OrbitControls
      ref={controls}
      makeDefault
      enableDamping={false}
      enableRotate={isFree}
      mouseButtons={{ LEFT: isFree ? MOUSE.ROTATE : MOUSE.PAN, MIDDLE: MOUSE.DOLLY, RIGHT: MOUSE.PAN }}
    />
  );
}

/** Where the stage was looked at from last, for pictures that are taken of it elsewhere. */
let eye: (() => { readonly camera: Camera; readonly target: Vector3 }) | null = null;
function stageEye(camera: Camera, target: Vector3): () => void {
  const here = () => ({ camera: camera.clone(), target: target.clone() });
  eye = here;
  return () => {
    const last = here();
    if (eye === here) eye = () => last;
  };
}
export const lastEye = () => eye?.() ?? null;

/** The picture is the shot camera's. */
export function ShotCamera({ pick = shownShot }: { readonly pick?: (state: BenchState) => Shot | null }) {
  const camera = useThree((state) => state.camera);
  const [matrix, size] = useMemo(() => [new Matrix4(), new Vector3()], []);
  usePosed(
    useCallback(
      (shot, pose) => {
        const node = shot?.nodes.findIndex(({ kind }) => kind === 'camera') ?? -1;
        if (!shot || node < 0) return;
        matrix.fromArray(pose.matrices, node * 16);
        matrix.decompose(camera.position, camera.quaternion, size);
        const lens = rigOf(shot).channelIndex(`${shot.nodes[node]!.id}.${LENS}`);
        if (lens >= 0 && camera instanceof PerspectiveCamera) {
          camera.fov = FIELD_OF_VIEW + (pose.values?.[lens] ?? 0);
          camera.updateProjectionMatrix();
        }
      },
      [camera, matrix, size],
    ),
    pick,
  );
  useEffect(
    () => () => {
      if (!(camera instanceof PerspectiveCamera)) return;
      camera.fov = FIELD_OF_VIEW;
      camera.updateProjectionMatrix();
    },
    [camera],
  );
  return null;
}

const withRoom = ({ low, high }: Extent, room: number): Extent => ({
  low: [low[0] - room, low[1] - room, low[2] - room],
  high: [high[0] + room, high[1] + room, high[2] + room],
});
