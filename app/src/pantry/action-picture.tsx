import type { ActionJson } from '@kneader/core';
import { FilmPicture } from '../drawing/film-picture.tsx';
import { useFilm } from '../store/film-store.ts';
import type { KeptFilm } from '../store/pantry-record.ts';

interface ActionPictureProps {
  readonly of: { readonly action: ActionJson; readonly film: KeptFilm };
  readonly label: string;
  readonly moves?: boolean;
}

/** The picture of an action, as soon as it was fetched. */
export function ActionPicture({ of, label, moves = true }: ActionPictureProps) {
  const film = useFilm(of);
  if (!film) return <p className="no-picture" />;
  if (film.poses.length === 0) return <p className="no-picture soft">It keeps no skeleton to be drawn on.</p>;
  return <FilmPicture film={film} label={label} moves={moves} />;
}
