import { useMemo } from 'react';
import { BufferAttribute, BufferGeometry } from 'three';
import { rigOf } from '@kneader/core';
import type { Node, Shot } from '@kneader/core';
import { PALETTES } from '../../../theme/palette.ts';
import { useTheme } from '../../../theme/theme-provider.tsx';
import type { BenchState } from '../../bench-store.ts';
import { useBench } from '../../bench-store.ts';
import { usePosed } from '../use-pose.ts';

interface StageBonesProps {
  readonly nodes: readonly Node[];
  readonly pick: (state: BenchState) => Shot | null;
  /** Whose bones. */
  readonly of: ReadonlySet<string>;
}

/** A line from each joint to what hangs on it, over everything. */
export function StageBones({ nodes, pick, of }: StageBonesProps) {
  const theme = useTheme((state) => state.name);
  const { geometry, ends } = useMemo(() => {
    const { parents } = rigOf(useBench.getState().session.shot);
    const isBone = (row: number) => nodes[row]?.kind === 'joint' && of.has(nodes[row].id);
    const rows = nodes.flatMap((_, row) =>
      isBone(row) && isBone(parents[row] ?? -1) ? [parents[row]!, row] : [],
    );
    const places = new BufferAttribute(new Float32Array(rows.length * 3), 3);
    return { geometry: new BufferGeometry().setAttribute('position', places), ends: rows };
  }, [nodes, of]);
  usePosed(
    useMemo(
      () =>
        (shot: Shot | null, { matrices }) => {
          const places = geometry.getAttribute('position') as BufferAttribute;
          if (shot)
            ends.forEach((row, i) =>
              places.setXYZ(i, matrices[row * 16 + 12]!, matrices[row * 16 + 13]!, matrices[row * 16 + 14]!),
            );
          geometry.setDrawRange(0, shot ? ends.length : 0);
          places.needsUpdate = true;
        },
      [geometry, ends],
    ),
    pick,
  );
  return (
    <>
      <lineSegments geometry={geometry} frustumCulled={false} renderOrder={5} raycast={() => null}>
        <lineBasicMaterial color={PALETTES[theme].accent} depthTest={false} transparent />
      </lineSegments>
      <points geometry={geometry} frustumCulled={false} renderOrder={6} raycast={() => null}>
        <pointsMaterial
          color={PALETTES[theme].ink}
          size={5}
          sizeAttenuation={false}
          depthTest={false}
          transparent
        />
      </points>
    </>
  );
}
