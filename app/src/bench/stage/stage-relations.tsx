import { Line } from '@react-three/drei';
import { useMemo } from 'react';
import { placeIn, relationsHolding, rigOf, worldAt } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { shownShot, useBench } from '../bench-store.ts';

/** Lines from the selected controls to what they follow at the play-head. */
export function StageRelations() {
  const shot = useBench(shownShot);
  const nodes = useBench((state) => state.session.selection.nodes);
  const frame = useBench((state) => (state.playing ? null : state.frame));
  const palette = PALETTES[useTheme((state) => state.name)];
  const lines = useMemo(() => {
    if (frame === null || shot.relations.length === 0) return [];
    const rig = rigOf(shot);
    const pose = worldAt(shot, frame);
    return relationsHolding(shot, frame)
      .filter(({ node, target }) => nodes.includes(node) && target !== null)
      .map(({ id, node, target }) => ({
        key: `${id} ${target}`,
        points: [placeIn(pose, rig.indexOf(node)), placeIn(pose, rig.indexOf(target!))] as const,
      }));
  }, [shot, nodes, frame]);
  return lines.map(({ key, points }) => (
    <Line
      key={key}
      points={[points[0], points[1]]}
      color={palette.accent}
      lineWidth={1.5}
      dashed
      dashSize={3}
      gapSize={2}
      depthTest={false}
      renderOrder={4}
    />
  ));
}
