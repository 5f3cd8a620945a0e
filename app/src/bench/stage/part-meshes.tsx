import type { RefObject } from 'react';
import type { Group, Material } from 'three';
import type { FigurePart } from './figure-parts.ts';

interface PartMeshesProps {
  readonly group: RefObject<Group | null>;
  readonly parts: readonly FigurePart[];
  readonly material: Material;
  readonly renderOrder: number;
}

/** The parts of a figure in one material, not to be touched; whoever holds the group sets their matrices. */
export function PartMeshes({ group, parts, material, renderOrder }: PartMeshesProps) {
  return (
    <group ref={group}>
      {parts.map((part, i) => (
        <mesh
          key={i}
          geometry={part.geometry}
          material={material}
          matrixAutoUpdate={false}
          renderOrder={renderOrder}
          raycast={() => null}
        />
      ))}
    </group>
  );
}
