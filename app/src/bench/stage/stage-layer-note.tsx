import { isFilter } from '@kneader/core';
import type { Layer } from '@kneader/core';
import { PASS_HUES } from '../../theme/palette.ts';
import { useBench } from '../bench-store.ts';
import { HoldChips } from './hold-chips.tsx';

/** Names that fit; more are counted. */
const MOST_NAMED = 3;

/** On which layer the selected controls are worked on, and what else is laid over them. */
export function StageLayerNote() {
  const { nodes, layer } = useBench((state) => state.session.selection);
  const layers = useBench((state) => state.session.shot.layers);
  if (nodes.length === 0) return null;
  const holds = <HoldChips />;
  if (layers.length === 0) return <div className="stage-layer-note bare">{holds}</div>;
  const chosen = new Set(nodes);
  // Filters have chips of their own.
  const over = layers.filter(
    (one) => one.id !== layer && !isFilter(one) && one.members.some((node) => chosen.has(node)),
  );
  const worked = layers.find(({ id }) => id === layer);
  const whose = nodes.length === 1 ? nodes[0]! : `${nodes.length} controls`;
  return (
    <div className="stage-layer-note" role="note">
      {worked && <span className="stage-layer-hue" style={{ background: PASS_HUES[worked.colour] }} />}
      <b>{whose}</b> on <b>{worked?.name ?? 'the base'}</b>
      {worked && !nodes.some((node) => worked.members.includes(node)) && ', which it is not in'}
      {over.length > 0 && <span className="soft">, beside it {namesOf(over)}</span>}
      {holds}
    </div>
  );
}

function namesOf(layers: readonly Layer[]): string {
  const names = layers.slice(0, MOST_NAMED).map(({ name, muted }) => (muted ? `${name} (muted)` : name));
  const more = layers.length - names.length;
  return more > 0 ? `${names.join(', ')} and ${more} more` : names.join(', ');
}
