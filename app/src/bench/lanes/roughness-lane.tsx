import { useDeferredValue, useMemo, useRef } from 'react';
import { roughnessOf, weighingPoints } from '@kneader/core';
import type { Roughness, Shot } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, ghostShot, shownShot, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { ClosenessCurve } from './closeness-curve.tsx';
import { Lane } from './lane.tsx';
import { laneLayout, useLaneLayout } from './lane-layout.ts';
import { frameToX } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Pixels. */
const HEIGHT = 72;
/** Frames times points that are looked at: of more the lane would hold the page. */
const MOST = 200_000;

function roughnessIn(shot: Shot): Roughness | null {
  const points = shot.characters.flatMap(({ id }) => weighingPoints(shot, id));
  const frames = shot.range.end - shot.range.start;
  return points.length === 0 || points.length * frames > MOST ? null : roughnessOf(shot, points, shot.range);
}

/** How rough the motion is along time, as a profile that rises where it jerks; the motion before as a line; its worst moments by joint, and a touch goes there. */
export function RoughnessLane() {
  const on = useLaneLayout((layout) => layout.roughness === true);
  const refining = useBench((state) => state.openEdit === 'motion.refine');
  return on || refining ? <Profile /> : null;
}

/** Shows the lane, or takes it away. */
export function RoughnessSwitch() {
  const on = useLaneLayout((layout) => layout.roughness === true);
  return (
    <button
      type="button"
      className={`chip${on ? ' on' : ''}`}
      aria-pressed={on}
      title="How rough the motion is along time, and where it is worst"
      onClick={() => laneLayout.showRoughness(!on)}
    >
      Roughness
    </button>
  );
}

function Profile() {
  const shot = useDeferredValue(useBench(shownShot));
  const ghost = useDeferredValue(useBench(ghostShot));
  const now = useMemo(() => roughnessIn(shot), [shot]);
  const before = useMemo(() => (ghost ? roughnessIn(ghost) : null), [ghost]);
  return (
    <Lane
      id="roughness"
      name="Roughness"
      height={HEIGHT}
      head={
        now === null ? (
          <span className="soft">Nothing that weighs, or too long a shot.</span>
        ) : (
          <span className="rough-moments">
            {now.worst.map(({ frame, node, share }) => (
              <button
                key={frame}
                type="button"
                className="chip"
                title={`${node} makes ${Math.round(share * 100)} % of it there; a touch goes there`}
                onClick={() => bench.setFrame(Math.round(frame))}
              >
                {node} {Math.round(frame)}
              </button>
            ))}
          </span>
        )
      }
      track={now ? <ProfileTrack now={now} before={before} /> : null}
    />
  );
}

function ProfileTrack({ now, before }: { readonly now: Roughness; readonly before: Roughness | null }) {
  const holder = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(holder);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const palette = PALETTES[useTheme((state) => state.name)];
  const axis = { from, to, width: Math.max(width, 1) };
  const top = Math.max(1e-9, ...now.profile, ...(before?.profile ?? []));
  const line = (of: Roughness) => pathOf(of, axis, height, top);
  const end = now.frames.at(-1)!;
  return (
    <div ref={holder} className="rough-track">
      <svg width={axis.width} height={height} role="img" aria-label={wordsOf(now)}>
        <path
          d={`${line(now)} L ${frameToX(axis, end)} ${height} L ${frameToX(axis, now.frames[0]!)} ${height} Z`}
          fill={`color-mix(in srgb, ${palette.accent} 38%, transparent)`}
          stroke={palette.accent}
        />
        {before && <path d={line(before)} fill="none" stroke={palette.soft} strokeDasharray="3 3" />}
      </svg>
      <ClosenessCurve axis={axis} height={height} />
    </div>
  );
}

/** By the root of what it costs: else one blow would hide all else. */
function pathOf({ frames, profile }: Roughness, axis: TimeAxis, height: number, top: number): string {
  return Array.from(frames, (frame, k) => {
    const y = height - (height - 4) * Math.sqrt(profile[k]! / top);
    return `${k === 0 ? 'M' : 'L'} ${frameToX(axis, frame).toFixed(1)} ${y.toFixed(1)}`;
  }).join(' ');
}

const wordsOf = ({ worst }: Roughness): string =>
  worst.length === 0
    ? 'Nothing jerks.'
    : `Roughest: ${worst.map(({ node, frame }) => `${node} at ${Math.round(frame)}`).join(', ')}`;
