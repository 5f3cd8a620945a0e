import { useMemo } from 'react';
import type { Node, Shot, Source } from '@kneader/core';
import type { BenchState } from '../../bench-store.ts';
import type { Shading } from '../shading.ts';
import { useDrawsSkin, useSkin } from './skins.ts';
import { StageSkin } from './stage-skin.tsx';
import type { SkinTouch } from './stage-skin.tsx';

interface SourceSkinProps {
  readonly source: Source;
  readonly nodes: readonly Node[];
  readonly shading: Shading;
  readonly pick: (state: BenchState) => Shot | null;
  readonly isShown: boolean;
  readonly onTouch: (skin: SkinTouch | null) => void;
}

/** A character's skin as soon as its file is read. */
export function SourceSkin({ source, isShown, onTouch, ...rest }: SourceSkinProps) {
  const skin = useSkin(source);
  const draws = useDrawsSkin();
  const shown = useMemo(() => (skin ? { source, skin } : null), [source, skin]);
  return shown && isShown && draws(shown.skin) ? <StageSkin ref={onTouch} shown={shown} {...rest} /> : null;
}
