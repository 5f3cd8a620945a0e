import { Link } from 'react-router';
import { FilmPicture } from '../drawing/film-picture.tsx';
import { changedOn } from '../shots/shot-list.ts';
import { useRunFilms } from '../store/routine-queries.ts';
import type { LastRun, ShotRun } from '../store/routine-queries.ts';

/** Shots that are shown before and after; the others are counted. */
const MOST_SHOWN = 2;

interface LastTimeProps {
  readonly routine: string;
  readonly last: LastRun;
}

/** What a routine did last: each shot by its keys, the first that changed before and after. */
export function LastTime({ routine, last }: LastTimeProps) {
  const changed = last.shots.filter(({ status }) => status === 'changed');
  const failed = last.shots.filter(({ status }) => status === 'failed');
  return (
    <section className="last-time" aria-label="What it did last">
      <span className="soft">
        {changedOn(last.at, Date.now()).replace('changed', 'Run')}: {changed.length} of {last.shots.length}{' '}
        changed{failed.length > 0 && `, ${failed.length} failed`}
      </span>
      {changed.slice(0, MOST_SHOWN).map((shot) => (
        <BeforeAndAfter key={shot.id} routine={routine} shot={shot} at={last.at} />
      ))}
      {failed.slice(0, MOST_SHOWN).map(({ id, name, sentence }) => (
        <p key={id} className="refusal">
          {name}: {sentence}
        </p>
      ))}
    </section>
  );
}

interface BeforeAndAfterProps {
  readonly routine: string;
  readonly shot: ShotRun;
  readonly at: number;
}

function BeforeAndAfter({ routine, shot, at }: BeforeAndAfterProps) {
  const films = useRunFilms(routine, shot.id, at);
  return (
    <div>
      <Link to={`/shots/${shot.id}`}>{shot.name}</Link>{' '}
      <span className="soft">
        {shot.keysBefore.toLocaleString('en-US')} → {shot.keysAfter.toLocaleString('en-US')} keys
      </span>
      {films?.before && films.after && (
        <div className="before-after">
          <figure>
            <FilmPicture film={films.before} label={`${shot.name} before`} />
            <figcaption className="soft">before</figcaption>
          </figure>
          <figure>
            <FilmPicture film={films.after} label={`${shot.name} after`} />
            <figcaption className="soft">after</figcaption>
          </figure>
        </div>
      )}
    </div>
  );
}
