import { useFrame } from '@react-three/fiber';
import { useMemo, useRef } from 'react';
import { BufferAttribute, BufferGeometry } from 'three';
import type { Group } from 'three';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface Walls {
  readonly shown: boolean;
}

/** Whether the walls stand; remembered in the browser. */
export const useWalls = create<Walls>()(persist((): Walls => ({ shown: true }), { name: 'kneader-walls' }));
export function toggleWalls(): void {
  useWalls.setState(({ shown }) => ({ shown: !shown }));
}

/** Cells from the middle to a wall, and how high it is. */
const [AWAY, HIGH] = [20, 22];

interface StageWallsProps {
  readonly middle: readonly [number, number, number];
  readonly floor: number;
  /** cm */
  readonly cell: number;
  readonly colour: string;
}

/** A back wall and a side wall with the floor's grid, always on the far side of whoever looks: lean, height and spacing are read off them. */
export function StageWalls({ middle: [x, , z], floor, cell, colour }: StageWallsProps) {
  const [back, side] = [useRef<Group>(null), useRef<Group>(null)];
  const lines = useMemo(() => gridLines(2 * AWAY, HIGH, cell), [cell]);
  // On the lines of the floor.
  const [midX, midZ] = [Math.round(x / cell) * cell, Math.round(z / cell) * cell];
  useFrame(({ camera }) => {
    if (back.current) back.current.position.z = midZ + (camera.position.z < midZ ? AWAY : -AWAY) * cell;
    if (side.current) side.current.position.x = midX + (camera.position.x < midX ? AWAY : -AWAY) * cell;
  });
  const wall = (
    <lineSegments geometry={lines} raycast={() => null} renderOrder={-1}>
      <lineBasicMaterial color={colour} transparent opacity={0.55} depthWrite={false} />
    </lineSegments>
  );
  return (
    <>
      <group ref={back} position={[midX, floor, midZ]}>
        {wall}
      </group>
      <group ref={side} position={[midX, floor, midZ]} rotation-y={Math.PI / 2}>
        {wall}
      </group>
    </>
  );
}

/** An upright grid about the middle of its foot, every line of it from end to end. */
function gridLines(across: number, up: number, cell: number): BufferGeometry {
  const ends: number[] = [];
  const half = (across / 2) * cell;
  for (let i = 0; i <= across; i += 1) ends.push(i * cell - half, 0, 0, i * cell - half, up * cell, 0);
  for (let j = 0; j <= up; j += 1) ends.push(-half, j * cell, 0, half, j * cell, 0);
  return new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(ends), 3));
}
