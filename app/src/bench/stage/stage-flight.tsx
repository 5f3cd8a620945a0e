import { Line } from '@react-three/drei';
import { useMemo } from 'react';
import { drawnFlight, drawnThrow } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { useFigureSize } from './use-figure-size.ts';
import { useStageDrag, useUnderPointer } from './use-stage-drag.ts';

/** The flight that is being made: the present path, the parabola, and beads for take-off, landing and top that can be dragged. */
export function StageFlight() {
  const wish = useBench((state) => state.flight);
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const palette = PALETTES[useTheme((state) => state.name)];
  const drawn = useMemo(
    () =>
      wish &&
      (wish.edit === 'motion.aim'
        ? drawnThrow(shot, wish.options)
        : drawnFlight(shot, selection, { ...wish.options, from: wish.from, to: wish.to, top: wish.top })),
    [wish, shot, selection],
  );
  if (!wish || !drawn) return null;
  const { present, wanted, from, to, top } = drawn;
  const set = (part: object) => bench.setFlight({ ...useBench.getState().flight!, ...part });
  return (
    <>
      <Line
        points={present.map(tuple)}
        color={palette.soft}
        lineWidth={1.5}
        depthTest={false}
        renderOrder={4}
      />
      <Line
        points={wanted.map(tuple)}
        color={palette.accent}
        lineWidth={2.5}
        depthTest={false}
        renderOrder={4}
      />
      {wanted.map((place, k) => (
        <mesh key={k} position={place} renderOrder={5}>
          <sphereGeometry args={[0.9, 8, 6]} />
          <meshBasicMaterial color={palette.accent} depthTest={false} transparent />
        </mesh>
      ))}
      {wish.edit === 'motion.flight' && (
        <>
          <Bead name="take-off" place={from} onDrag={(place) => set({ from: place })} />
          <Bead name="landing" place={to} onDrag={(place) => set({ to: place })} />
          <Bead
            name="top"
            place={top}
            onDrag={([, y]) => set({ top: Math.max(y, from[1] + 0.1, to[1] + 0.1) })}
          />
        </>
      )}
    </>
  );
}

const tuple = ([x, y, z]: readonly [number, number, number]): [number, number, number] => [x, y, z];

interface BeadProps {
  readonly name: string;
  readonly place: readonly [number, number, number];
  readonly onDrag: (place: [number, number, number]) => void;
}

/** Dragged in the plane that faces who looks. */
function Bead({ name, place, onDrag }: BeadProps) {
  const palette = PALETTES[useTheme((state) => state.name)];
  const begin = useStageDrag();
  const under = useUnderPointer('bead');
  const size = useFigureSize().height * 0.022;
  return (
    <mesh
      name={`flight ${name}`}
      position={[...place]}
      scale={size}
      renderOrder={6}
      {...under}
      onPointerDown={(event) => {
        const before = useBench.getState().flight;
        begin(event, place, { move: onDrag, cancel: () => bench.setFlight(before) });
      }}
      onClick={(event) => event.stopPropagation()}
    >
      <sphereGeometry args={[1, 16, 12]} />
      <meshBasicMaterial color={palette.accent} depthTest={false} transparent />
    </mesh>
  );
}
