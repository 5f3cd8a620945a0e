import { sourcesOf } from '@kneader/core';
import { useBench } from '../../bench-store.ts';
import { useDrawsSkin, useSkins, useSkinShow } from './skins.ts';

const WORDS = {
  missing:
    'is not in this browser: drawn from solids. Open it again beside the shot, or a .kneader.zip of both.',
  unreadable: 'cannot be drawn here: shown as solids. It is kept as it came.',
} as const;

/** Why a figure is not seen in its skin. */
export function SkinNote() {
  const shot = useBench((state) => state.session.shot);
  const skins = useSkins();
  const draws = useDrawsSkin();
  const show = useSkinShow((state) => state.show);
  if (show === 'solids') return null;
  return sourcesOf(shot).map(({ id, name }, i) => {
    const state = skins[id];
    if (state === 'loading')
      return (
        <span key={i} className="stage-coarse soft" role="status">
          Reading {name} …
        </span>
      );
    if (state && typeof state === 'object' && !draws(state))
      return (
        <span key={i} className="stage-coarse soft" role="status">
          {name}: solids while it plays, {state.triangles.toLocaleString('en')} triangles are more than the
          processor draws
        </span>
      );
    return state === 'missing' || state === 'unreadable' ? (
      <span key={i} className="stage-coarse soft" role="status">
        “{name}” {WORDS[state]}
      </span>
    ) : null;
  });
}
