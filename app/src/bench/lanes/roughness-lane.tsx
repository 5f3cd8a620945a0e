import { useDeferredValue, useMemo } from 'react';
import { roughnessOf, weighingPoints } from '@kneader/core';
import type { Roughness, Shot } from '@kneader/core';
import { bench, ghostShot, shownShot, useBench } from '../bench-store.ts';
import { ClosenessCurve } from './closeness-curve.tsx';
import { Lane } from './lane.tsx';
import { useLaneLayout } from './lane-layout.ts';
import { ProfileTrack } from './profile-track.tsx';

/** Pixels. */
const HEIGHT = 92;
/** Frames times points that are looked at: of more the lane would hold the page. */
const MOST = 200_000;

function roughnessIn(shot: Shot): Roughness | null {
  const points = shot.characters.flatMap(({ id }) => weighingPoints(shot, id));
  const frames = shot.range.end - shot.range.start;
  return points.length === 0 || points.length * frames > MOST ? null : roughnessOf(shot, points, shot.range);
}

/** How rough the motion is along time, as a profile that rises where it jerks; the motion before as a line; its worst moments by joint, and a touch goes there. */
export function RoughnessLane() {
  const on = useLaneLayout((layout) => layout.shown?.includes('roughness') === true);
  const refining = useBench((state) => state.openEdit === 'motion.refine');
  return on || refining ? <RoughProfile /> : null;
}

function RoughProfile() {
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
      track={
        now && (
          <ProfileTrack now={now} before={before} words={wordsOf(now)}>
            {(axis, height) => <ClosenessCurve axis={axis} height={height} />}
          </ProfileTrack>
        )
      }
    />
  );
}

const wordsOf = ({ worst }: Roughness): string =>
  worst.length === 0
    ? 'Nothing jerks.'
    : `Roughest: ${worst.map(({ node, frame }) => `${node} at ${Math.round(frame)}`).join(', ')}`;
