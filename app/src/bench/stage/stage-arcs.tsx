import { useThree } from '@react-three/fiber';
import type { ThreeEvent } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry, Line, LineBasicMaterial, Points, PointsMaterial } from 'three';
import { arcFrames, placeIn, rigOf, shownValues, worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { posing } from '../bench-actions.ts';
import { bench, ghostShot, shownShot, useBench } from '../bench-store.ts';
import { useFigureSize } from './use-figure-size.ts';
import { useStageDrag, useUnderPointer } from './use-stage-drag.ts';

/** The most frames of a path; longer ranges are drawn around the play-head. */
const MOST_FRAMES = 360;
/** More keys than these on a path show around the play-head only, so many frames to each side. */
const MOST_BEADS = 40;
const AROUND = 8;

/** The paths of chosen points, a tick for each frame, keys as beads that can be dragged; the path before stays behind it. */
export function StageArcs() {
  const arcs = useBench((state) => state.arcs);
  return (
    <>
      {arcs.map((node) => (
        <Arc key={node} node={node} />
      ))}
    </>
  );
}

function Arc({ node }: { readonly node: string }) {
  const shot = useBench(shownShot);
  const ghost = useBench(ghostShot);
  const palette = PALETTES[useTheme((state) => state.name)];
  const range = useBench((state) => state.session.selection.range);
  const middle = useBench((state) => Math.round(state.frame / 60) * 60);
  const { start, end } = useMemo(() => pathRange(shot, range, middle), [shot, range, middle]);
  const before = useMemo(
    () => (ghost ? pathOf(ghost, node, start, Math.min(end, ghost.range.end)) : null),
    [ghost, node, start, end],
  );
  const now = useMemo(() => pathOf(shot, node, start, end), [shot, node, start, end]);
  const settled = useBench((state) => state.session.shot);
  const layer = useBench((state) => state.session.selection.layer);
  const beads = useMemo(
    () => arcFrames(settled, layer, node).filter((frame) => frame >= start && frame <= end),
    [settled, layer, node, start, end],
  );
  // On dense motion beads would hide the figure: those around the play-head are enough, until all are asked for.
  const all = useBench((state) => state.allBeads);
  const here = useBench((state) => (state.playing ? state.held : state.frame));
  const shownBeads =
    all || beads.length <= MOST_BEADS ? beads : beads.filter((frame) => Math.abs(frame - here) <= AROUND);
  return (
    <>
      {before && <Path places={before} colour={palette.soft} opacity={0.6} />}
      <Path places={now} colour={palette.accent} opacity={1} />
      {shownBeads.map((frame) => (
        <Bead
          key={frame}
          node={node}
          frame={frame}
          place={now.subarray((frame - start) * 3, (frame - start) * 3 + 3)}
        />
      ))}
    </>
  );
}

function pathRange(shot: Shot, range: Shot['range'] | null, middle: number): Shot['range'] {
  const whole = range ?? shot.range;
  if (whole.end - whole.start <= MOST_FRAMES)
    return { start: Math.ceil(whole.start), end: Math.floor(whole.end) };
  const start = Math.max(whole.start, middle - MOST_FRAMES / 2);
  return { start, end: Math.min(whole.end, start + MOST_FRAMES) };
}

/** Three numbers for each frame. */
function pathOf(shot: Shot, node: string, start: number, end: number): Float32Array {
  const i = rigOf(shot).indexOf(node);
  const count = Math.max(0, end - start + 1);
  const places = new Float32Array(count * 3);
  for (let k = 0; k < count && i >= 0; k += 1) places.set(placeIn(worldAt(shot, start + k, true), i), k * 3);
  return places;
}

interface PathProps {
  readonly places: Float32Array;
  readonly colour: string;
  readonly opacity: number;
}

function Path({ places, colour, opacity }: PathProps) {
  const invalidate = useThree((state) => state.invalidate);
  const [line, ticks] = useMemo(() => {
    const look = { color: colour, transparent: true, opacity, depthTest: false };
    const path = new Line(new BufferGeometry(), new LineBasicMaterial(look));
    const marks = new Points(
      path.geometry,
      new PointsMaterial({ ...look, size: 4.5, sizeAttenuation: false }),
    );
    for (const object of [path, marks]) {
      object.renderOrder = 4;
      object.frustumCulled = false;
      object.raycast = () => undefined;
    }
    return [path, marks];
  }, [colour, opacity]);
  useEffect(() => {
    line.geometry.setAttribute('position', new BufferAttribute(places, 3));
    invalidate();
    return () => invalidate();
  }, [line, places, invalidate]);
  return (
    <>
      <primitive object={line} />
      <primitive object={ticks} />
    </>
  );
}

interface BeadProps {
  readonly node: string;
  readonly frame: number;
  readonly place: Float32Array;
}

/** A key on the path; dragged, the figure is posed on its frame so that the point comes to lie there, and the curves follow. */
function Bead({ node, frame, place }: BeadProps) {
  const palette = PALETTES[useTheme((state) => state.name)];
  const here = useBench((state) => state.frame === frame);
  const begin = useStageDrag();
  const under = useUnderPointer('bead');
  const size = useFigureSize().height * 0.011;
  const press = (event: ThreeEvent<PointerEvent>) => {
    const before = useBench.getState().frame;
    bench.setFrame(frame);
    begin(event, [place[0] ?? 0, place[1] ?? 0, place[2] ?? 0], {
      start: posing.begin,
      move: (at) => {
        const { shot } = useBench.getState().session;
        posing.update(shownValues(shot, frame, { kind: 'place', node, place: at }), frame);
      },
      end: () => posing.end(`Drag the arc of ${node}`),
      cancel: () => {
        bench.cancelGesture();
        bench.setFrame(before);
      },
    });
  };
  return (
    <mesh
      position={[place[0] ?? 0, place[1] ?? 0, place[2] ?? 0]}
      scale={here ? size * 1.5 : size}
      renderOrder={5}
      {...under}
      onPointerDown={press}
      onClick={(event) => event.stopPropagation()}
    >
      <sphereGeometry args={[1, 12, 8]} />
      <meshBasicMaterial color={here ? palette.ink : palette.accent} depthTest={false} transparent />
    </mesh>
  );
}
