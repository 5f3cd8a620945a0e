import { useThree } from '@react-three/fiber';
import type { ThreeEvent } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import { Color, MeshBasicMaterial, MeshStandardMaterial, Raycaster } from 'three';
import type { Group, Material } from 'three';
import { SOLID_COLOURS } from '@kneader/core';
import type { Shot, Source } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, shownShot, useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import { figureParts } from './figure-parts.ts';
import { useUnderPointer } from './use-stage-drag.ts';
import type { Shading } from './shading.ts';
import { SourceSkin } from './skin/source-skin.tsx';
import { StageBones } from './skin/stage-bones.tsx';
import type { SkinTouch } from './skin/stage-skin.tsx';
import { useSkinnedNodes, useSkinShow } from './skin/skins.ts';
import { StageShadow } from './stage-shadow.tsx';
import { usePose } from './use-pose.ts';

interface StageFigureProps {
  readonly shading: Shading;
  /** Which shot it stands for; the same function at every drawing. */
  readonly pick?: (state: BenchState) => Shot | null;
  /** Only looked at. */
  readonly isStill?: boolean;
}

const NO_SOURCES: readonly Source[] = [];
const NOBODY: ReadonlySet<string> = new Set();
const NOT_FELT = () => undefined;
const UNSEEN = new MeshBasicMaterial({ visible: false });

/** The figure as it is, or as another shot of the same rig has it; touching a part selects its control. */
export function StageFigure({ shading, pick = shownShot, isStill = false }: StageFigureProps) {
  const group = useRef<Group>(null);
  const nodes = useBench((state) => pick(state)?.nodes ?? state.session.shot.nodes);
  const selected = useBench((state) => state.session.selection.nodes);
  const theme = useTheme((state) => state.name);
  const invalidate = useThree((state) => state.invalidate);
  const parts = figureParts(nodes);
  usePose(group, parts, pick);
  const sources = useBench((state) => (pick(state) ?? state.session.shot).sources) ?? NO_SOURCES;
  const show = useSkinShow((state) => state.show);
  const skinned = useSkinnedNodes(sources);
  const covered = show === 'solids' ? NOBODY : skinned;
  const skins = useRef(new Map<Source, SkinTouch>());
  const under = useUnderPointer('part');

  const materials = useMemo(() => {
    const palette = PALETTES[theme];
    const make = (colour: string, chosen: boolean): Material => {
      if (shading === 'silhouette')
        return new MeshBasicMaterial({ color: chosen ? palette.accent : palette.ink });
      const base = new Color(...(SOLID_COLOURS[colour] ?? SOLID_COLOURS['body']!));
      if (chosen) base.lerp(new Color(palette.accent), 0.55);
      return shading === 'flat'
        ? new MeshBasicMaterial({ color: base })
        : new MeshStandardMaterial({ color: base, roughness: 0.85 });
    };
    const table = new Map<string, Material>();
    return (colour: string, chosen: boolean) => {
      const key = `${colour} ${chosen}`;
      if (!table.has(key)) table.set(key, make(colour, chosen));
      return table.get(key)!;
    };
  }, [shading, theme]);

  useEffect(() => invalidate(), [selected, materials, invalidate]);
  // Of one control alone the colour tells; more have a line around them (`stage-chosen.tsx`), and keep their shading.
  const tinted = selected.length === 1 ? selected[0] : null;
  const touch = (event: ThreeEvent<MouseEvent>, id: string) => {
    if (event.delta > 4) return;
    event.stopPropagation();
    const ray = new Raycaster(event.ray.origin, event.ray.direction);
    const led = covered.has(id) ? [...skins.current.values()].map((skin) => skin.touched(ray)) : [];
    bench.selectNodes([led.find((one) => one !== null) ?? id], event.nativeEvent.shiftKey);
  };
  return (
    <>
      <StageShadow pick={pick} />
      <group ref={group} {...(isStill ? {} : under)}>
        {parts.map((part, i) => (
          <mesh
            key={i}
            geometry={part.geometry}
            // Under a skin they are felt and not seen.
            material={covered.has(part.id) ? UNSEEN : materials(part.colour, part.id === tinted)}
            matrixAutoUpdate={false}
            renderOrder={2}
            {...(isStill
              ? { raycast: NOT_FELT }
              : { onClick: (event: ThreeEvent<MouseEvent>) => touch(event, part.id) })}
          />
        ))}
      </group>
      {sources.map((source, i) => (
        <SourceSkin
          key={`${source.id} ${i}`}
          {...{ source, nodes, shading, pick, isShown: show !== 'solids' }}
          onTouch={(skin) => void (skin ? skins.current.set(source, skin) : skins.current.delete(source))}
        />
      ))}
      {show === 'bones' && covered.size > 0 && <StageBones nodes={nodes} pick={pick} of={covered} />}
    </>
  );
}
