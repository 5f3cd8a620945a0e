import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { ghostShot } from '../bench-store.ts';
import { useShape } from './skin/use-shape.ts';
import { StageOutline } from './stage-outline.tsx';

const THICKNESS = 0.007;

/** The motion before, as an outline behind the figure. */
export function StageGhost() {
  const shape = useShape(ghostShot, 2);
  const theme = useTheme((state) => state.name);
  return (
    <StageOutline
      shape={shape}
      pick={ghostShot}
      colour={PALETTES[theme].accent}
      thickness={THICKNESS}
      order={0}
    />
  );
}
