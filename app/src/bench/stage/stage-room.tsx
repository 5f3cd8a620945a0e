import { useMemo } from 'react';
import { GridHelper } from 'three';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { useBench } from '../bench-store.ts';
import { figureSize } from './figure-size.ts';

/** Floor, back wall, and a scale in cm: a tall rule with a mark for each tenth of its height. */
export function StageRoom() {
  const palette = PALETTES[useTheme((state) => state.name)];
  const id = useBench((state) => state.id);
  const size = useMemo(() => figureSize(useBench.getState().session.shot), [id]); // eslint-disable-line react-hooks/exhaustive-deps
  const cell = useMemo(() => 10 ** Math.floor(Math.log10(size.height / 4)), [size]);
  const grid = useMemo(() => new GridHelper(cell * 40, 40, palette.rule, palette.rule), [cell, palette]);
  const [x, , z] = size.middle;
  const tall = cell * 10;
  return (
    <>
      <color attach="background" args={[palette.wall]} />
      <hemisphereLight args={['#fff6e6', '#8a7763', 1.5]} />
      <directionalLight position={[size.height, size.height * 2, size.height * 1.6]} intensity={2.1} />
      <directionalLight position={[-size.height * 1.5, size.height, -size.height]} intensity={0.6} />
      <mesh rotation-x={-Math.PI / 2} position={[x, size.floor - size.height * 0.003, z]} renderOrder={-2}>
        <planeGeometry args={[cell * 40, cell * 40]} />
        <meshBasicMaterial color={palette.floor} depthWrite={false} />
      </mesh>
      <primitive
        object={grid}
        position={[Math.round(x / cell) * cell, size.floor, Math.round(z / cell) * cell]}
        renderOrder={-1}
      />
      <group position={[x - size.height * 0.9, size.floor, z - size.height * 0.3]}>
        {Array.from({ length: 21 }, (_, i) => (
          <mesh key={i} position={[0, (tall * i) / 10, 0]}>
            <boxGeometry args={[i % 5 === 0 ? cell * 0.9 : cell * 0.4, cell * 0.03, cell * 0.03]} />
            <meshBasicMaterial color={palette.soft} />
          </mesh>
        ))}
      </group>
    </>
  );
}
