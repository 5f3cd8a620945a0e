/** What else has a say in what is selected: relations that hold, filters over it, locks. */
import { isFilter, relationsHolding, RELATION_KINDS, rigOf } from '@kneader/core';
import type { Shot } from '@kneader/core';

export interface Hold {
  readonly key: string;
  readonly kind: 'relation' | 'filter' | 'lock';
  readonly words: string;
  /** The edit that changes it, and what it is about. */
  readonly edit: string;
  readonly about: string;
}

const kindWords = (kind: string): string => RELATION_KINDS.find((one) => one.kind === kind)?.title ?? kind;

/** @param frame where it is asked; relations that do not hold there are none */
export function whatHolds(shot: Shot, selected: readonly string[], frame: number): Hold[] {
  if (selected.length === 0) return [];
  const chosen = new Set(selected);
  const relations = new Map<string, Hold>();
  for (const { id, kind, node, target, weight } of relationsHolding(shot, frame)) {
    if (!chosen.has(node) || relations.has(id)) continue;
    const share = weight < 0.995 ? ` ${Math.round(weight * 100)} %` : '';
    relations.set(id, {
      key: `relation ${id}`,
      kind: 'relation',
      words: `${kindWords(kind)}: ${target ?? 'world'}${share}`,
      edit: 'spaces.set',
      about: id,
    });
  }
  const filters = shot.layers.flatMap((layer): Hold[] => {
    if (!isFilter(layer) || layer.muted || !layer.members.some((node) => chosen.has(node))) return [];
    return [
      { key: `filter ${layer.id}`, kind: 'filter', words: layer.name, edit: 'filters.set', about: layer.id },
    ];
  });
  const own = new Set(
    rigOf(shot)
      .channels.map(({ id }) => id)
      .filter((id) => chosen.has(id.slice(0, id.lastIndexOf('.')))),
  );
  const locked = shot.locked.filter((id) => own.has(id)).length;
  const locks: Hold[] =
    locked === 0
      ? []
      : [
          {
            key: 'locks',
            kind: 'lock',
            words: locked === own.size ? 'locked' : `${locked} of ${own.size} channels locked`,
            edit: 'keys.lockChannels',
            about: '',
          },
        ];
  return [...relations.values(), ...filters, ...locks];
}
