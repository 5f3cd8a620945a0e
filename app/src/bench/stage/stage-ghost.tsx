import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { ghostShot, useBench } from '../bench-store.ts';
import { movingParts } from './figure-parts.ts';
import { StageOutline } from './stage-outline.tsx';

const THICKNESS = 0.007;

/** The motion before, as an outline behind the figure. */
export function StageGhost() {
  const nodes = useBench((state) => state.session.shot.nodes);
  const theme = useTheme((state) => state.name);
  return (
    <StageOutline
      parts={movingParts(nodes)}
      pick={ghostShot}
      colour={PALETTES[theme].accent}
      thickness={THICKNESS}
      order={0}
    />
  );
}
