import { AXIS_HUES, OTHER_HUE } from '../../theme/palette.ts';
import type { ThemeName } from '../../theme/palette.ts';

/** The hue of a channel by its axis. */
export function channelHue(name: string, theme: ThemeName): string {
  const axis = 'xyz'.indexOf(name.slice(-1));
  return /^[trs][xyz]$/.test(name) ? AXIS_HUES[theme][axis]! : OTHER_HUE[theme];
}
