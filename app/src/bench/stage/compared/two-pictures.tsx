import { OrbitControls } from '@react-three/drei';
import { useFrame, useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import type { ComponentRef, RefObject } from 'react';
import { PerspectiveCamera } from 'three';
import type { Camera, Group, Scene, WebGLRenderer } from 'three';
import { useCompare } from '../../compare/compare-store.ts';

interface TwoPicturesProps {
  readonly a: RefObject<Group | null>;
  readonly b: RefObject<Group | null>;
  /** Of a film: which of the two a blink shows on the frame that is drawn. Nobody turns its views. */
  readonly blinkedAt?: () => 'a' | 'b';
}

/** Where the second view was looked at from last, for films of both. */
let secondEye: Camera | null = null;

/** Draws the two through one renderer: each in its part of the picture, over each other, or one at a time. */
export function TwoPictures({ a, b, blinkedAt }: TwoPicturesProps) {
  const isFree = useCompare(({ look, isFree: free }) => look === 'beside' && free);
  const camera = useThree((state) => state.camera);
  const canvas = useThree((state) => state.gl.domElement);
  const invalidate = useThree((state) => state.invalidate);
  // The second view begins where the first is.
  const isFilm = blinkedAt !== undefined;
  const other = useMemo(() => {
    if (!isFree) return camera;
    if (isFilm) return secondEye?.clone() ?? camera;
    return (secondEye = camera.clone());
  }, [isFree, isFilm, camera]);
  const second = useRef<ComponentRef<typeof OrbitControls>>(null);
  const first = useThree((state) => state.controls) as ComponentRef<typeof OrbitControls> | null;
  useEffect(() => useCompare.subscribe(() => invalidate()), [invalidate]);
  useEffect(() => {
    if (!isFree || isFilm) return;
    second.current?.target.copy(first?.target ?? camera.position);
    // Each half of the picture turns its own view.
    const choose = ({ clientX }: MouseEvent) => {
      const { left, width } = canvas.getBoundingClientRect();
      const isSecond = clientX > left + width / 2;
      if (first) first.enabled = !isSecond;
      if (second.current) second.current.enabled = isSecond;
    };
    for (const kind of ['pointermove', 'pointerdown'] as const)
      canvas.addEventListener(kind, choose, { capture: true });
    return () => {
      for (const kind of ['pointermove', 'pointerdown'] as const)
        canvas.removeEventListener(kind, choose, { capture: true });
      if (first) first.enabled = true;
    };
  }, [isFree, isFilm, canvas, first, camera]);
  useFrame(({ gl, scene, camera: main, size }) => {
    if (!a.current || !b.current) return;
    const blinked = blinkedAt?.() ?? useCompare.getState().blinked;
    drawTwo(gl, scene, main, isFree ? other : main, size, a.current, b.current, blinked);
  }, 1);
  return isFree && !isFilm ? (
    <OrbitControls ref={second} camera={other} enableDamping={false} onChange={() => invalidate()} />
  ) : null;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

function drawTwo(
  gl: WebGLRenderer,
  scene: Scene,
  camera: Camera,
  other: Camera,
  { width, height }: Size,
  a: Group,
  b: Group,
  blinked: 'a' | 'b',
): void {
  const { look, wipe } = useCompare.getState();
  const show = (first: boolean, second: boolean) => {
    a.visible = first;
    b.visible = second;
  };
  const part = (from: number, to: number, by: Camera) => {
    gl.setScissor(from, 0, Math.max(to - from, 0), height);
    if (to > from) gl.render(scene, by);
  };
  gl.setScissorTest(false);
  gl.setViewport(0, 0, width, height);
  if (look === 'over' || look === 'blink') {
    show(look === 'over' || blinked === 'a', look === 'over' || blinked === 'b');
    gl.render(scene, camera);
  } else {
    gl.setScissorTest(true);
    const cut = look === 'wipe' ? Math.round(wipe * width) : Math.round(width / 2);
    const shaped = (by: Camera, aspect: number) => {
      if (!(by instanceof PerspectiveCamera)) return;
      by.aspect = aspect;
      by.updateProjectionMatrix();
    };
    const isBeside = look === 'beside';
    if (isBeside) gl.setViewport(0, 0, cut, height);
    if (isBeside) shaped(camera, cut / height);
    show(true, false);
    part(0, cut, camera);
    if (isBeside) gl.setViewport(cut, 0, width - cut, height);
    if (isBeside) shaped(other, (width - cut) / height);
    show(false, true);
    part(cut, width, other);
    gl.setScissorTest(false);
    gl.setViewport(0, 0, width, height);
    shaped(camera, width / height);
  }
  // What is touched is asked of both.
  show(true, true);
}
