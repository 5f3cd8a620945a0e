import { useThree } from '@react-three/fiber';
import type { ThreeEvent } from '@react-three/fiber';
import { useCallback, useEffect, useRef } from 'react';
import { Plane, Raycaster, Vector2, Vector3 } from 'three';
import { beginDrag, isDragging } from '../gestures/drag.ts';
import type { DragActs } from '../gestures/drag.ts';
import { overThing } from './under-pointer.ts';

type Place = readonly [number, number, number];

interface StageDrag extends Omit<DragActs, 'move' | 'settle'> {
  /** cm, in the plane that faces who looks, through where it lay. */
  readonly move: (place: [number, number, number]) => void;
}

/** The view stands still until what this gives is called; then it is as free as it was. */
export function holdView(controls: unknown): () => void {
  const orbit = controls as { enabled: boolean } | null;
  const was = orbit?.enabled ?? false;
  if (orbit) orbit.enabled = false;
  return () => {
    if (orbit) orbit.enabled = was;
  };
}

/** The cursor over a thing of the stage that can be touched: what it is spread on says when the pointer comes and goes. */
export function useUnderPointer(thing: 'bead' | 'part') {
  const canvas = useThree((state) => state.gl.domElement);
  const over = useRef(0);
  const note = useCallback(
    (by: 1 | -1) => {
      if (over.current + by < 0) return;
      over.current += by;
      overThing(canvas, thing, by);
    },
    [canvas, thing],
  );
  // What is gone is under no pointer.
  useEffect(() => () => void (over.current > 0 && note(-1)), [note]);
  return { onPointerOver: () => note(1), onPointerOut: () => note(-1) };
}

/** What begins the drag of a thing on the stage, at its press. */
export function useStageDrag() {
  const get = useThree((state) => state.get);
  return useCallback(
    (event: ThreeEvent<PointerEvent>, from: Place, acts: StageDrag) => {
      event.stopPropagation();
      // The handle has heard the press first.
      if (isDragging()) return;
      const { camera, controls, gl } = get();
      const canvas = gl.domElement;
      canvas.setPointerCapture(event.pointerId);
      const facing = camera.getWorldDirection(new Vector3());
      const plane = new Plane().setFromNormalAndCoplanarPoint(facing, new Vector3(...from));
      const ray = new Raycaster();
      beginDrag(event.nativeEvent, {
        ...acts,
        move({ x, y }) {
          const { left, top, width, height } = canvas.getBoundingClientRect();
          ray.setFromCamera(new Vector2(((x - left) / width) * 2 - 1, 1 - ((y - top) / height) * 2), camera);
          const at = ray.ray.intersectPlane(plane, new Vector3());
          if (at) acts.move([at.x, at.y, at.z]);
        },
        settle: holdView(controls),
      });
    },
    [get],
  );
}
