import { useMemo } from 'react';
import type { Source } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { shownShot, useBench } from '../bench-store.ts';
import { figureParts } from './figure-parts.ts';
import { useSkinnedNodes } from './skin/skins.ts';
import { StageOutline } from './stage-outline.tsx';

const NO_SOURCES: readonly Source[] = [];
const THICKNESS = 0.004;
/** After the figure, which is 2. */
const ORDER = 3;

/** What is selected, where that is more than one control: a thin line around it, so that its shading can be seen. Left out while it plays. */
export function StageChosen() {
  const nodes = useBench((state) => state.session.shot.nodes);
  const selected = useBench((state) => state.session.selection.nodes);
  const playing = useBench((state) => state.playing);
  const theme = useTheme((state) => state.name);
  const parts = useMemo(() => {
    const chosen = new Set(selected);
    return figureParts(nodes).filter(({ id }) => chosen.has(id));
  }, [nodes, selected]);
  const sources = useBench((state) => state.session.shot.sources) ?? NO_SOURCES;
  const skinned = useSkinnedNodes(sources);
  // One alone is tinted, unless a skin covers it.
  if (playing || selected.length === 0 || (selected.length === 1 && !skinned.has(selected[0]!))) return null;
  return (
    <StageOutline
      // Another group for other parts: matrices are set child by child.
      key={parts.map(({ id }) => id).join()}
      shape={{ nodes, parts, skins: NO_SOURCES }}
      {...{ pick: shownShot, thickness: THICKNESS, order: ORDER }}
      colour={PALETTES[theme].ink}
    />
  );
}
