import { Line } from '@react-three/drei';
import { useMemo } from 'react';
import { centrePath, supportAt } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { shownShot, useBench } from '../bench-store.ts';

/** Above the floor, so that neither flickers through the other: cm. */
const LIFT = 0.4;
/** The most frames of the path on the ground; longer shots show it around the play-head. */
const MOST_FRAMES = 240;

/** The centre of mass of each character: a mark, its plumb line, its path over the ground and what carries it. */
export function StageWeight() {
  const shot = useBench(shownShot);
  return shot.characters.map(({ id }) => <Weight key={id} character={id} />);
}

function Weight({ character }: { readonly character: string }) {
  const shot = useBench(shownShot);
  const frame = useBench((state) => (state.playing ? state.held : state.frame));
  const palette = PALETTES[useTheme((state) => state.name)];
  const support = useMemo(() => supportAt(shot, character, frame), [shot, character, frame]);
  const middle = Math.round(frame / 60) * 60;
  const path = useMemo(() => {
    const { start, end } = shot.range;
    const near =
      end - start <= MOST_FRAMES
        ? { start, end }
        : {
            start: Math.max(start, middle - MOST_FRAMES / 2),
            end: Math.min(end, middle + MOST_FRAMES / 2),
          };
    return centrePath(shot, character, near)?.places ?? [];
  }, [shot, character, middle]);
  if (!support) return null;
  const { centre, hull, lean } = support;
  const ground = (x: number, z: number): [number, number, number] => [x, LIFT, z];
  const under = ground(centre[0], centre[2]);
  const colour = lean !== null && lean > 0 ? palette.warning : palette.accent;
  return (
    <>
      {path.length > 1 && (
        <Line points={path.map(([x, , z]) => ground(x, z))} color={palette.soft} lineWidth={1} />
      )}
      {hull.length > 1 && (
        <Line
          points={[...hull, hull[0]!].map(([x, z]) => ground(x, z))}
          color={palette.centre}
          lineWidth={2}
        />
      )}
      <Line
        points={[centre, under]}
        color={colour}
        lineWidth={1}
        dashed
        dashSize={3}
        gapSize={2}
        depthTest={false}
      />
      <mesh position={centre} renderOrder={5}>
        <octahedronGeometry args={[3.2]} />
        <meshBasicMaterial color={colour} depthTest={false} transparent />
      </mesh>
      <mesh position={under} rotation={[-Math.PI / 2, 0, 0]} renderOrder={5}>
        <ringGeometry args={[2.2, 3.4, 24]} />
        <meshBasicMaterial color={colour} depthTest={false} transparent />
      </mesh>
    </>
  );
}
