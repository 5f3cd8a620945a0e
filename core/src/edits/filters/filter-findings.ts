/** What is worth knowing of a filter where it lies: that it finds nothing to work on, or that others slide while these hold. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { kindOf } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import type { Signals } from '../../layers/signal.ts';
import { contextOf } from '../../evaluation/context.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';

/** Controls that move, share a figure or a hand with those that are stepped, and are left out: they slide while the rest holds. */
export function leftSliding(shot: Shot, filter: Layer): string[] {
  if (!kindOf(filter)?.drawings) return [];
  const rig = rigOf(shot);
  const { top } = stackOf(shot);
  const members = new Set(filter.members);
  const figures = new Set(rig.nodes.filter(({ id }) => members.has(id)).map(({ character }) => character));
  const stepped = new Set(
    shot.layers.filter((layer) => kindOf(layer)?.drawings && !layer.muted).flatMap((layer) => layer.members),
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

/** Rotations that leap by more than half a turn from one frame to the next: a filter that runs from value to value spins them. */
function wrapsUnder(shot: Shot, filter: Layer, below: Signals): string[] {
  if (!kindOf(filter)?.spins) return [];
  const rig = rigOf(shot);
  const over = filter.range ?? shot.range;
  const grid = { start: over.start, count: Math.floor(over.end - over.start) + 1 };
  return rig.channels.flatMap(({ id, node, kind, name }, c) => {
    const meant =
      kind === 'rotation' &&
      filter.members.includes(rig.nodes[node]!.id) &&
      (filter.channels === null || filter.channels.includes(name) || filter.channels.includes(id));
    if (!meant || below[c]!.still) return [];
    const column = below[c]!.column(grid);
    return column.some((value, i) => i > 0 && Math.abs(value - column[i - 1]!) > 180) ? [id] : [];
  });
}

/** The stack with every layer heard: a filter is told of beside soloed ones too. */
const allHeard = (shot: Shot): Shot => ({
  ...shot,
  layers: shot.layers.map((layer) => (layer.solo ? { ...layer, solo: false } : layer)),
});

/** What the kind itself says of what it makes here. */
export function saidOf(shot: Shot, filter: Layer): readonly Finding[] {
  const { said } = kindOf(filter) ?? {};
  const level = said && stackOf(allHeard(shot)).levels.find(({ layer }) => layer.id === filter.id);
  return level ? said(filter, level.below, contextOf(shot)) : [];
}

/** @returns how many channels the filter changes, and the sentences */
export function filterFindings(
  shot: Shot,
  filter: Layer,
): { readonly counted: number; readonly findings: Finding[] } {
  const alone = stackOf(allHeard(shot));
  const level = alone.levels.findIndex(({ layer }) => layer.id === filter.id);
  const above = alone.levels[level + 1]?.below ?? alone.top;
  const counted =
    level < 0 ? 0 : above.filter((signal, c) => signal !== alone.levels[level]!.below[c]).length;
  const sliding = leftSliding(shot, filter);
  const wraps = level < 0 ? [] : wrapsUnder(shot, filter, alone.levels[level]!.below);
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
      ...(wraps.length > 0 ? [finding('wrapsUnder', {}, wraps)] : []),
      ...saidOf(shot, filter),
    ],
  };
}
