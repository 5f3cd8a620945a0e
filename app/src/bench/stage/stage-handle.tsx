import { useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { Matrix4, Object3D, Vector3 } from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import { shownValues, worldAt } from '@kneader/core';
import type { Shot, Wish } from '@kneader/core';
import { AXIS_HUES, PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { posing } from '../bench-actions.ts';
import { shownShot, useBench } from '../bench-store.ts';

/** The handle on the one control that is selected: goals and props are moved, joints are turned. */
export function StageHandle() {
  const selected = useBench((state) => state.session.selection.nodes);
  const nodes = useBench((state) => state.session.shot.nodes);
  const playing = useBench((state) => state.playing);
  const last = selected[selected.length - 1];
  const index = nodes.findIndex((node) => node.id === last);
  const node = nodes[index];
  const turns = node?.channels.includes('rx') ?? false;
  const moves = node?.channels.includes('tx') ?? false;
  if (!node || playing || selected.length !== 1 || !(turns || moves)) return null;
  const mode = moves && (node.kind !== 'joint' || node.id === 'hips' || !turns) ? 'translate' : 'rotate';
  return <Handle key={`${node.id} ${mode}`} index={index} mode={mode} />;
}

function Handle({ index, mode }: { readonly index: number; readonly mode: 'rotate' | 'translate' }) {
  const holder = useMemo(() => new Object3D(), []);
  const dragging = useRef(false);
  const placed = useRef<{ readonly shot: Shot; readonly frame: number } | null>(null);
  const theme = useTheme((state) => state.name);
  const camera = useThree((state) => state.camera);
  const canvas = useThree((state) => state.gl.domElement);
  const orbit = useThree((state) => state.controls) as { enabled: boolean } | null;
  const scene = useThree((state) => state.scene);
  const invalidate = useThree((state) => state.invalidate);

  /** Puts the handle where the control is, unless it is in hand. */
  const place = useCallback(() => {
    const state = useBench.getState();
    const shot = shownShot(state);
    if (
      dragging.current ||
      state.gesture ||
      (placed.current?.shot === shot && placed.current.frame === state.frame)
    )
      return;
    placed.current = { shot, frame: state.frame };
    const { matrices } = worldAt(shot, state.frame);
    new Matrix4()
      .fromArray(matrices, index * 16)
      .decompose(holder.position, holder.quaternion, new Vector3());
    invalidate();
  }, [holder, index, invalidate]);
  useEffect(() => {
    place();
    return useBench.subscribe(place);
  }, [place]);

  useEffect(() => {
    const controls = new TransformControls(camera, canvas);
    // Axes wear the same hues as their curves.
    controls.setColors(...AXIS_HUES[theme], PALETTES[theme].accent);
    controls.setMode(mode);
    controls.setSpace('local');
    controls.setSize(0.75);
    scene.add(holder, controls.getHelper());
    controls.attach(holder);
    controls.addEventListener('change', () => invalidate());
    controls.addEventListener('dragging-changed', ({ value }) => {
      dragging.current = value === true;
      if (orbit) orbit.enabled = !dragging.current;
      if (dragging.current) posing.begin();
      else {
        const { nodes } = useBench.getState().session.shot;
        placed.current = null;
        posing.end(`${mode === 'rotate' ? 'Turn' : 'Move'} ${nodes[index]?.id ?? ''}`);
        place();
      }
    });
    controls.addEventListener('objectChange', () => {
      if (!dragging.current) return;
      const { session, frame } = useBench.getState();
      const node = session.shot.nodes[index]!.id;
      const { position, quaternion: turn } = holder;
      const wish: Wish =
        mode === 'rotate'
          ? { kind: 'turn', node, turn: [turn.x, turn.y, turn.z, turn.w] }
          : { kind: 'place', node, place: [position.x, position.y, position.z] };
      posing.update(shownValues(session.shot, frame, wish));
    });
    invalidate();
    return () => {
      controls.detach();
      scene.remove(holder, controls.getHelper());
      controls.dispose();
      invalidate();
    };
  }, [camera, canvas, orbit, scene, holder, mode, index, theme, place, invalidate]);
  return null;
}
