import { useEffect, useMemo } from 'react';
import type { RefObject } from 'react';
import { Matrix4 } from 'three';
import type { Group } from 'three';
import { rigOf, valuesAt } from '@kneader/core';
import type { Node, Shot, Source, WorldPose } from '@kneader/core';
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

const from = new Matrix4();

/** Sets an instance to the pose that a shot has at a frame, within the group that it is drawn in; hides it where there is no shot. */
export function poseSkin(
  figure: SkinFigure,
  group: RefObject<Group | null>,
  shot: Shot | null,
  { matrices }: Pick<WorldPose, 'matrices'>,
  frame: number,
): void {
  figure.root.visible = shot !== null;
  if (!shot) return;
  group.current?.parent?.updateWorldMatrix(true, false);
  from.copy(group.current?.parent?.matrixWorld ?? from.identity());
  figure.pose(matrices, figure.hasMorphs ? valuesAt(shot, frame) : null, from);
}
