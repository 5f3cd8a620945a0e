import { useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { Matrix4, Object3D, Vector3 } from 'three';
import type { Quaternion } from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import { conjugate, eulerFromQuat, multiply, rigOf, valuesAt, worldAt } from '@kneader/core';
import type { Quaternion as Turn, Shot } from '@kneader/core';
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
      if (dragging.current)
        posing.update(
          mode === 'rotate' ? turnedValues(index, holder.quaternion) : movedValues(index, holder.position),
        );
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

/** The Euler angles that give the control this orientation in the world. */
function turnedValues(index: number, turn: Quaternion): Record<string, number> {
  const { session, frame } = useBench.getState();
  const { shot } = session;
  const rig = rigOf(shot);
  const { turns } = worldAt(shot, frame);
  const node = rig.nodes[index]!;
  const parent = rig.parents[index]!;
  const above =
    parent < 0 ? ([0, 0, 0, 1] as Turn) : (Array.from(turns.subarray(parent * 4, parent * 4 + 4)) as Turn);
  const local = multiply(conjugate(above), [turn.x, turn.y, turn.z, turn.w]);
  const values = valuesAt(shot, frame);
  const names = ['rx', 'ry', 'rz'].filter((name) => node.channels.includes(name));
  const near = ['rx', 'ry', 'rz'].map((name) => values[rig.channelIndex(`${node.id}.${name}`)] ?? 0);
  const angles = eulerFromQuat(multiply(conjugate(node.rest.rotation), local), node.order, near);
  return Object.fromEntries(names.map((name) => [`${node.id}.${name}`, angles['xyz'.indexOf(name[1]!)]!]));
}

/** The offsets from the rest pose that put the control at this place in the world. */
function movedValues(index: number, place: Vector3): Record<string, number> {
  const { session, frame } = useBench.getState();
  const rig = rigOf(session.shot);
  const { matrices } = worldAt(session.shot, frame);
  const parent = rig.parents[index]!;
  const local = place.clone();
  if (parent >= 0) local.applyMatrix4(new Matrix4().fromArray(matrices, parent * 16).invert());
  const { id, rest } = rig.nodes[index]!;
  return {
    [`${id}.tx`]: local.x - rest.translation[0],
    [`${id}.ty`]: local.y - rest.translation[1],
    [`${id}.tz`]: local.z - rest.translation[2],
  };
}
