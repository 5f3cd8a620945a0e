/** What is worth knowing of a filter where it lies: that it finds nothing to work on, or that others slide while these hold. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Layer } from '../../layers/layer.ts';
import { stackOf } from '../../shot/evaluation.ts';
import { rigOf } from '../../shot/shot.ts';
import type { Shot } from '../../shot/shot.ts';

/** Controls that move, share a figure or a hand with those that are stepped, and are left out: they slide while the rest holds. */
export function leftSliding(shot: Shot, filter: Layer): string[] {
  if (filter.kind !== 'step') return [];
  const rig = rigOf(shot);
  const { top } = stackOf(shot);
  const members = new Set(filter.members);
  const figures = new Set(rig.nodes.filter(({ id }) => members.has(id)).map(({ character }) => character));
  const stepped = new Set(
    shot.layers.filter(({ kind, muted }) => kind === 'step' && !muted).flatMap((layer) => layer.members),
  );
  return rig.nodes
    .filter(({ id, character, kind }, node) => {
      if (stepped.has(id) || members.has(id) || kind === 'camera') return false;
      // Props belong to nobody, and are carried: they count with every figure.
      if (character !== null && !figures.has(character)) return false;
      for (let c = rig.firstChannel[node]!; c < rig.firstChannel[node + 1]!; c += 1)
        if (!top[c]!.still) return true;
      return false;
    })
    .map(({ id }) => id);
}

/** @returns how many channels the filter changes, and the sentences */
export function filterFindings(
  shot: Shot,
  filter: Layer,
): { readonly counted: number; readonly findings: Finding[] } {
  const alone = stackOf({
    ...shot,
    layers: shot.layers.map((layer) => (layer.solo ? { ...layer, solo: false } : layer)),
  });
  const level = alone.levels.findIndex(({ layer }) => layer.id === filter.id);
  const above = alone.levels[level + 1]?.below ?? alone.top;
  const counted =
    level < 0 ? 0 : above.filter((signal, c) => signal !== alone.levels[level]!.below[c]).length;
  const sliding = leftSliding(shot, filter);
  return {
    counted,
    findings: [
      ...(counted === 0
        ? [
            finding(
              'nothingFiltered',
              {},
              rigOf(shot)
                .nodes.filter(({ id }) => filter.members.includes(id))
                .map(({ id }) => id),
            ),
          ]
        : []),
      ...(sliding.length > 0 ? [finding('leftSliding', {}, sliding)] : []),
    ],
  };
}
