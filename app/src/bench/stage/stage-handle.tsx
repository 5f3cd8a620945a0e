import { useFrame, useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { Object3D, Vector3 } from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import type { Node, Shot } from '@kneader/core';
import { AXIS_HUES, PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { posing } from '../bench-actions.ts';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { beginDrag } from '../gestures/drag.ts';
import { doingOf, ledNodes, ledValues, standOf } from './handled.ts';
import type { Stand } from './handled.ts';
import { useHandleMode } from './handle-mode.ts';
import { overHandle, underPointer } from './under-pointer.ts';
import { holdView } from './use-stage-drag.ts';

/** The handle on what is selected: one control in its own axes, several at their middle. */
export function StageHandle() {
  const selected = useBench((state) => state.session.selection.nodes);
  const nodes = useBench((state) => state.session.shot.nodes);
  const playing = useBench((state) => state.playing);
  const wished = useHandleMode((state) => state.does);
  const led = useMemo(() => ledNodes(nodes, selected), [nodes, selected]);
  const does = doingOf(led, wished, nodes);
  if (playing || does === null) return null;
  return <Handle key={`${led.map(({ id }) => id).join()} ${does}`} nodes={led} does={does} />;
}

interface HandleProps {
  readonly nodes: readonly Node[];
  readonly does: 'move' | 'turn';
}

/** An arrow that points at whoever looks, nearer than this (a cosine), would run away under the hand. */
const AT_EYE = 0.85;

function Handle({ nodes, does }: HandleProps) {
  const holder = useMemo(() => new Object3D(), []);
  const dragging = useRef(false);
  const placed = useRef<{ readonly shot: Shot; readonly frame: number } | null>(null);
  const theme = useTheme((state) => state.name);
  const camera = useThree((state) => state.camera);
  const canvas = useThree((state) => state.gl.domElement);
  const get = useThree((state) => state.get);
  const scene = useThree((state) => state.scene);
  const invalidate = useThree((state) => state.invalidate);

  /** Puts the handle where the controls are, unless it is in hand. */
  const place = useCallback(() => {
    const state = useBench.getState();
    const shot = shownShot(state);
    const isThere = placed.current?.shot === shot && placed.current.frame === state.frame;
    if (dragging.current || state.gesture || isThere) return;
    placed.current = { shot, frame: state.frame };
    const stand = standOf(shot, state.frame, nodes);
    holder.position.copy(stand.place);
    holder.quaternion.copy(stand.turn);
    invalidate();
  }, [holder, nodes, invalidate]);
  useEffect(() => {
    place();
    return useBench.subscribe(place);
  }, [place]);

  useEffect(() => {
    const controls = new TransformControls(camera, canvas);
    // Axes wear the same hues as their curves.
    controls.setColors(...AXIS_HUES[theme], PALETTES[theme].accent);
    controls.setMode(does === 'turn' ? 'rotate' : 'translate');
    controls.setSpace('local');
    controls.setSize(0.75);
    scene.add(holder, controls.getHelper());
    controls.attach(holder);
    controls.addEventListener('change', () => invalidate());

    let press: PointerEvent | null = null;
    let from: Stand | null = null;
    const label = nodes.length === 1 ? nodes[0]!.id : `${nodes.length} controls`;
    const keepPress = (event: PointerEvent) => (press = event);
    // Before the controls hear of it.
    canvas.addEventListener('pointerdown', keepPress, { capture: true });
    controls.addEventListener('axis-changed', () => {
      overHandle(canvas, controls.axis);
      if (does !== 'move' || controls.dragging || !/^[XYZ]$/.test(controls.axis ?? '')) return;
      const along = new Vector3(
        ...(['X', 'Y', 'Z'].map((axis) => Number(axis === controls.axis)) as [number, number, number]),
      ).applyQuaternion(holder.quaternion);
      const toEye = camera.position.clone().sub(holder.position).normalize();
      if (Math.abs(along.dot(toEye)) < AT_EYE) return;
      // What is meant by it is the plane that is seen.
      controls.axis = 'XYZ';
      controls.getHelper().updateMatrixWorld(true);
    });
    controls.addEventListener('mouseDown', () => {
      // What the cursor told is what is taken: the press goes on to the bead.
      if (underPointer() === 'bead') {
        controls.dragging = false;
        return;
      }
      const letView = holdView(get().controls);
      dragging.current = true;
      beginDrag(press!, {
        start() {
          const { session, frame } = useBench.getState();
          from = standOf(session.shot, frame, nodes);
          posing.begin();
        },
        // The controls tell where they are themselves.
        move: () => undefined,
        end: () => posing.end(`${does === 'turn' ? 'Turn' : 'Move'} ${label}`),
        cancel() {
          controls.reset();
          bench.cancelGesture();
        },
        settle() {
          from = null;
          dragging.current = false;
          controls.dragging = false;
          controls.axis = null;
          letView();
          placed.current = null;
          place();
        },
      });
    });
    controls.addEventListener('objectChange', () => {
      if (from === null) return;
      const { session, frame } = useBench.getState();
      const to = { place: holder.position, turn: holder.quaternion };
      posing.update(ledValues(session.shot, frame, nodes, from, to, does, useHandleMode.getState().about));
    });
    invalidate();
    return () => {
      canvas.removeEventListener('pointerdown', keepPress, { capture: true });
      overHandle(canvas, null);
      controls.detach();
      scene.remove(holder, controls.getHelper());
      controls.dispose();
      invalidate();
    };
  }, [camera, canvas, get, scene, holder, does, nodes, theme, place, invalidate]);
  // Where it is seen, pixels in the canvas: what looks for it from outside asks this.
  useFrame(() => {
    // The camera is brought up to date after the scene otherwise: the handle would be drawn, and touched, as it was seen a picture ago.
    camera.updateMatrixWorld();
    const { width, height } = get().size;
    const at = holder.position.clone().project(camera);
    const seen = `${Math.round(((at.x + 1) / 2) * width * 10) / 10} ${Math.round(((1 - at.y) / 2) * height * 10) / 10}`;
    if (canvas.dataset['handle'] !== seen) canvas.dataset['handle'] = seen;
  });
  return null;
}
