import { useRef } from 'react';
import type { ReactNode } from 'react';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { frameToX } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** A number by frame, at least 0. */
export interface Profile {
  readonly frames: Float64Array;
  readonly profile: Float64Array;
}

interface ProfileTrackProps {
  readonly now: Profile;
  /** As it was before, drawn as a line. */
  readonly before: Profile | null;
  readonly words: string;
  /** What lies over it. */
  readonly children?: (axis: TimeAxis, height: number) => ReactNode;
}

/** A profile along time that rises where there is much of something. */
export function ProfileTrack({ now, before, words, children }: ProfileTrackProps) {
  const holder = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(holder);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const palette = PALETTES[useTheme((state) => state.name)];
  const axis = { from, to, width: Math.max(width, 1) };
  const top = Math.max(1e-9, ...now.profile, ...(before?.profile ?? []));
  const line = (of: Profile) => pathOf(of, axis, height, top);
  const end = now.frames.at(-1)!;
  return (
    <div ref={holder} className="rough-track">
      <svg width={axis.width} height={height} role="img" aria-label={words}>
        <path
          d={`${line(now)} L ${frameToX(axis, end)} ${height} L ${frameToX(axis, now.frames[0]!)} ${height} Z`}
          fill={`color-mix(in srgb, ${palette.accent} 38%, transparent)`}
          stroke={palette.accent}
        />
        {before && <path d={line(before)} fill="none" stroke={palette.soft} strokeDasharray="3 3" />}
      </svg>
      {children?.(axis, height)}
    </div>
  );
}

/** By the root of what it is: else one blow would hide all else. */
function pathOf({ frames, profile }: Profile, axis: TimeAxis, height: number, top: number): string {
  return Array.from(frames, (frame, k) => {
    const y = height - (height - 4) * Math.sqrt(profile[k]! / top);
    return `${k === 0 ? 'M' : 'L'} ${frameToX(axis, frame).toFixed(1)} ${y.toFixed(1)}`;
  }).join(' ');
}
