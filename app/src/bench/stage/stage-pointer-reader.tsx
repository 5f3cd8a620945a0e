import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import { Plane, Raycaster, Vector2, Vector3 } from 'three';
import { placeIn, rigOf, worldAt } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { setStagePointer } from '../record/stage-pointer.ts';

/** Tells a recording where the pointer is in space. */
export function StagePointerReader() {
  const camera = useThree((state) => state.camera);
  const canvas = useThree((state) => state.gl.domElement);
  useEffect(() => {
    const ray = new Raycaster();
    const plane = new Plane();
    setStagePointer((clientX, clientY, node) => {
      const box = canvas.getBoundingClientRect();
      const [x, y] = [(clientX - box.left) / box.width, (clientY - box.top) / box.height];
      if (!(x >= 0 && x <= 1 && y >= 0 && y <= 1)) return null;
      const { session, frame } = useBench.getState();
      const row = rigOf(session.shot).indexOf(node);
      if (row < 0) return null;
      const through = new Vector3(...placeIn(worldAt(session.shot, frame), row));
      plane.setFromNormalAndCoplanarPoint(camera.getWorldDirection(new Vector3()), through);
      ray.setFromCamera(new Vector2(2 * x - 1, 1 - 2 * y), camera);
      const hit = ray.ray.intersectPlane(plane, new Vector3());
      return hit ? [hit.x, hit.y, hit.z] : null;
    });
    return () => setStagePointer(null);
  }, [camera, canvas]);
  return null;
}
