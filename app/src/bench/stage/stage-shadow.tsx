import { useMemo, useRef } from 'react';
import { CustomBlending, DoubleSide, MeshBasicMaterial, MinEquation, OneFactor } from 'three';
import type { Group } from 'three';
import type { Shot } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import type { ThemeName } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import type { BenchState } from '../bench-store.ts';
import { PartMeshes } from './part-meshes.tsx';
import { changeShader, onFloor } from './shader-changes.ts';
import type { Darkness } from './shader-changes.ts';
import { SkinShape } from './skin/skin-shape.tsx';
import { useShape } from './skin/use-shape.ts';
import { useFigureSize } from './use-figure-size.ts';
import { usePose } from './use-pose.ts';

/** Of the figure's height: how far above the floor something is still near to it. */
const REACH = 0.12;
/** A dark floor needs more of it. */
const DARKNESS: Readonly<Record<ThemeName, Darkness>> = {
  flour: { touching: 0.6, above: 0.14 },
  rye: { touching: 0.95, above: 0.55 },
};
/** After the floor and its grid, before ghosts. */
const ORDER = -0.5;

/** What stands on the floor and how far all else is above it: the figure's shape laid flat, darkest where it touches. */
export function StageShadow({ pick }: { readonly pick: (state: BenchState) => Shot | null }) {
  const group = useRef<Group>(null);
  const { floor, height } = useFigureSize();
  const theme = useTheme((state) => state.name);
  const { nodes, parts, skins } = useShape(pick, 2);
  const flat = useMemo(() => onFloor(floor, height * REACH, DARKNESS[theme]), [floor, height, theme]);
  const [onParts, onSkins] = useMemo(() => {
    const plain = new MeshBasicMaterial({
      color: PALETTES[theme].floor,
      side: DoubleSide,
      // Of all that lies on one another the darkest shows.
      ...{ transparent: false, blending: CustomBlending, blendEquation: MinEquation },
      ...{ blendSrc: OneFactor, blendDst: OneFactor, depthWrite: false },
      // Just over the floor's grid.
      ...{ polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -4 },
    });
    const fallen = plain.clone();
    changeShader(fallen, flat);
    return [fallen, plain];
  }, [theme, flat]);
  usePose(group, parts, pick);
  return (
    <>
      <PartMeshes group={group} parts={parts} material={onParts} renderOrder={ORDER} />
      {skins.map((source, i) => (
        <SkinShape
          key={`${source.id} ${i}`}
          {...{ source, nodes, pick }}
          material={onSkins}
          renderOrder={ORDER}
          change={flat}
        />
      ))}
    </>
  );
}
