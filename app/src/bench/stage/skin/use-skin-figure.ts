import { useEffect, useMemo } from 'react';
import { rigOf } from '@kneader/core';
import type { Node, Shot, Source } from '@kneader/core';
import { useBench } from '../../bench-store.ts';
import type { BenchState } from '../../bench-store.ts';
import type { LoadedSkin } from './load-skin.ts';
import { skinFigure } from './skin-figure.ts';
import type { SkinFigure } from './skin-figure.ts';

/** A character's file and what is drawn of it. */
export interface ShownSkin {
  readonly source: Source;
  readonly skin: LoadedSkin;
}

/** An instance of a skin for these nodes, let go with whoever shows it. @param pick the same function at every drawing */
export function useSkinFigure(
  { source, skin }: ShownSkin,
  nodes: readonly Node[],
  pick: (state: BenchState) => Shot | null,
): SkinFigure {
  const figure = useMemo(() => {
    const state = useBench.getState();
    const rig = rigOf(pick(state) ?? state.session.shot);
    return skinFigure(skin, source, rig.indexOf, rig.channelIndex);
    // Rows and channels are those of these nodes.
  }, [skin, source, nodes, pick]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => figure.dispose, [figure]);
  return figure;
}
