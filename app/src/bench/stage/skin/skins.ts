/** The characters' files that the stage has read: each once, however many figures of it are shown, and let go when nobody shows it any more. */
import { useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo } from 'react';
import type { WebGLRenderer } from 'three';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import type { Source } from '@kneader/core';
import { sourceStore } from '../../../store/storage.ts';
import type { SourceFile } from '@kneader/core';
import { HAS_GRAPHICS_CARD } from '../../../drawing/graphics-card.ts';
import { useBench } from '../../bench-store.ts';
import { loadSkin } from './load-skin.ts';
import type { LoadedSkin } from './load-skin.ts';

/** 'missing': its files are not in this browser; 'unreadable': three does not draw them. */
export type SkinState = LoadedSkin | 'loading' | 'missing' | 'unreadable';

/** By digest. */
export const useSkins = create<Readonly<Record<string, SkinState>>>()(() => ({}));

export type SkinShow = 'skin' | 'bones' | 'solids';
/** How figures with a skin are shown; remembered in the browser. */
export const useSkinShow = create<{ readonly show: SkinShow }>()(
  persist((): { show: SkinShow } => ({ show: 'skin' }), { name: 'kneader-skin-show' }),
);

const uses = new Map<string, number>();
/** What is shown again within this time was only drawn anew. */
const LET_GO_MS = 1000;

async function load(id: string, gl: WebGLRenderer): Promise<void> {
  const put = (state: SkinState) => useSkins.setState({ [id]: state });
  put('loading');
  const files = await sourceStore.getItem<readonly SourceFile[]>(id).catch(() => null);
  if (!files) return put('missing');
  const skin = await loadSkin(files, gl).catch(() => null);
  if (!skin) return put('unreadable');
  if (uses.has(id)) put(skin);
  else skin.dispose();
}

function take(id: string, gl: WebGLRenderer): () => void {
  uses.set(id, (uses.get(id) ?? 0) + 1);
  if (useSkins.getState()[id] === undefined) void load(id, gl);
  return () =>
    void window.setTimeout(() => {
      const left = (uses.get(id) ?? 1) - 1;
      if (left > 0) return void uses.set(id, left);
      uses.delete(id);
      const { [id]: skin, ...others } = useSkins.getState();
      useSkins.setState(others, true);
      if (typeof skin === 'object') skin.dispose();
    }, LET_GO_MS);
}

/** Triangles that the processor draws fast enough to be played; more are solids meanwhile. */
export const MOST_PLAYED = 60_000;

/** Whether a skin is drawn now. */
export const useDrawsSkin = (): ((skin: SkinState | undefined) => boolean) => {
  const coarse = useBench((state) => state.playing) && !HAS_GRAPHICS_CARD;
  return useCallback(
    (skin) => typeof skin === 'object' && !(coarse && skin.triangles > MOST_PLAYED),
    [coarse],
  );
};

/** Nodes of whose files a skin is drawn. */
export function useSkinnedNodes(sources: readonly Source[]): ReadonlySet<string> {
  const skins = useSkins();
  const draws = useDrawsSkin();
  return useMemo(
    () =>
      new Set(
        sources.flatMap(({ id, nodes }) => (draws(skins[id]) ? nodes.filter((node) => node !== null) : [])),
      ),
    [skins, sources, draws],
  );
}

/** The skin of a source as soon as it is there; undefined until then, and where it cannot be shown. */
export function useSkin({ id }: Pick<Source, 'id'>): LoadedSkin | undefined {
  const gl = useThree((state) => state.gl);
  useEffect(() => take(id, gl), [id, gl]);
  const state = useSkins((skins) => skins[id]);
  return typeof state === 'object' ? state : undefined;
}
