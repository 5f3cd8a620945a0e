import { memo } from 'react';
import { Link } from 'react-router';
import { FacePicture } from '../drawing/face-picture.tsx';
import { CardRows } from '../shots/card-rows.tsx';
import { useShotFilm } from '../store/shot-index.ts';
import type { ShotHead } from '../store/shot-record.ts';

const FACE = 84;

/** The characters of all shots by their faces, shot by shot. */
export const CharacterCards = ({ heads }: { readonly heads: readonly ShotHead[] }) => (
  <CardRows heads={heads} card={CharacterCard} tall={140} />
);

const CharacterCard = memo(function CharacterCard({ head }: { readonly head: ShotHead }) {
  const { id, name } = head;
  const film = useShotFilm(head);
  const known = film?.characters ?? [];
  const faces = known.length > 0 ? known : [{ id: null, name: 'Figure' }];
  return (
    <Link className="card face-card" to={`/characters/${id}`} aria-label={`Characters of ${name}`}>
      <span className="faces">
        {film &&
          faces.map((one) => (
            <span key={one.id} className="face">
              <FacePicture {...{ film, character: one.id, label: one.name, size: FACE }} />
              {one.name}
            </span>
          ))}
      </span>
      <span className="soft">{name}</span>
    </Link>
  );
});
