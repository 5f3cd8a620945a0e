import { useMemo } from 'react';
import type { Node, Shot, Source } from '@kneader/core';
import { HAS_GRAPHICS_CARD } from '../../../drawing/graphics-card.ts';
import { useBench } from '../../bench-store.ts';
import type { BenchState } from '../../bench-store.ts';
import { movingParts } from '../figure-parts.ts';
import type { FigurePart } from '../figure-parts.ts';
import { MOST_PLAYED, useSkinnedNodes, useSkins, useSkinShow } from './skins.ts';

/** What the shape of everything that moves is made of: skins, and the solids of what has none. */
export interface Shape {
  readonly nodes: readonly Node[];
  readonly parts: readonly FigurePart[];
  readonly skins: readonly Source[];
}

const NONE: readonly Source[] = [];

/**
 * @param pick the same function at every drawing
 * @param copies so many of it are drawn at once: without a graphics card heavy skins are solids in them
 */
export function useShape(pick: (state: BenchState) => Shot | null, copies: number): Shape {
  const nodes = useBench((state) => (pick(state) ?? state.session.shot).nodes);
  const sources = useBench((state) => (pick(state) ?? state.session.shot).sources) ?? NONE;
  const show = useSkinShow((state) => state.show);
  const loaded = useSkins();
  const skins = useMemo(() => {
    if (show === 'solids') return NONE;
    const trianglesOf = ({ id }: Source) => {
      const skin = loaded[id];
      return typeof skin === 'object' ? skin.triangles : 0;
    };
    return sources.filter((source) => HAS_GRAPHICS_CARD || trianglesOf(source) * copies <= MOST_PLAYED);
  }, [show, loaded, sources, copies]);
  const covered = useSkinnedNodes(skins);
  return useMemo(
    () => ({ nodes, skins, parts: movingParts(nodes).filter(({ id }) => !covered.has(id)) }),
    [nodes, skins, covered],
  );
}
