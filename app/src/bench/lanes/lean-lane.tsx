import { useDeferredValue, useMemo } from 'react';
import { leansOver } from '@kneader/core';
import type { Leans } from '@kneader/core';
import { bench, ghostShot, shownShot, useBench } from '../bench-store.ts';
import { Lane } from './lane.tsx';
import { useLaneLayout } from './lane-layout.ts';
import { ProfileTrack } from './profile-track.tsx';

/** Pixels. */
const HEIGHT = 64;

/** How far each body's centre of mass leans out of what it stands on, along time; a touch goes where that is most. */
export function LeanLane() {
  return useLaneLayout((layout) => layout.shown?.includes('lean') === true) ? <LeanProfile /> : null;
}

function LeanProfile() {
  const shot = useDeferredValue(useBench(shownShot));
  const ghost = useDeferredValue(useBench(ghostShot));
  const now = useMemo(() => leansOver(shot), [shot]);
  const before = useMemo(() => (ghost ? leansOver(ghost) : null), [ghost]);
  return (
    <Lane
      id="lean"
      name="Lean"
      height={HEIGHT}
      head={
        now === null ? (
          <span className="soft">Nothing is known to stand: find contacts first.</span>
        ) : now.most.mm < 1 ? (
          <span className="soft">Nobody leans out.</span>
        ) : (
          <span className="rough-moments">
            <button
              type="button"
              className="chip"
              title={`${wordsOf(now)}; a touch goes there`}
              onClick={() => bench.setFrame(now.most.frame)}
            >
              {Math.round(now.most.mm)} mm at {now.most.frame}
            </button>
          </span>
        )
      }
      track={now && <ProfileTrack now={now} before={before} words={wordsOf(now)} />}
    />
  );
}

const wordsOf = ({ most }: Leans): string =>
  most.mm < 1
    ? 'Nobody leans out of what carries them.'
    : `${most.name} leans ${Math.round(most.mm)} mm out of the support at ${most.frame}, at most`;
