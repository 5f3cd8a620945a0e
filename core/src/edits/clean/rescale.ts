/**
 * Rescale a character: position curves, rest offsets and solids by one factor about zero, on hidden and unselected controls
 * too. The figure is the same at another size; no joint turns.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { channelKind } from '../../rig/node.ts';
import type { Node, Solid, Vector } from '../../rig/node.ts';
import { withStands } from '../contacts/stands.ts';
import type { CurveTable } from '../../layers/layer.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import type { Shot } from '../../document/shot.ts';
import type { Selection } from '../../document/selection.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { heldPlaces } from './held-places.ts';
import { actionsWith } from '../spaces/node-changes.ts';
import { meantCharacter } from '../shared/meant-character.ts';
import { whichCharacter } from '../shared/targets.ts';

export const rescale = defineEdit({
  id: 'clean.rescale',
  title: 'Rescale a character',
  summary: 'Makes a whole character larger or smaller, its position curves with it.',
  words: 'scale size bigger smaller units cm inch proportion',
  group: 'clean',
  locks: 'none',
  options: z.object({
    factor: z.number().min(0.001).max(1000).default(1).meta({
      title: 'Factor',
      unit: '×',
      step: 0.1,
      description: 'How many times as large.',
    }),
    character: z.string().optional().meta({
      title: 'Character',
      description: 'Its id; left out, the character of the selected controls, or the only one.',
    }),
  }),
  run(shot, selection, { factor, character }) {
    const chosen = meantCharacter(shot, selection, character);
    return chosen === null
      ? refused(shot, selection, whichCharacter(shot))
      : rescaledCharacter(shot, selection, chosen, factor);
  },
});

/** A character larger or smaller, with all that belongs to it. */
export function rescaledCharacter(shot: Shot, selection: Selection, chosen: string, factor: number): Outcome {
  if (factor === 1) return outcome(shot, shot, selection);
  const isOurs = (node: Node) => node.character === chosen;
  const held = heldPlaces(shot, isOurs);
  if (held.length > 0) return refused(shot, selection, finding('lockedInTheWay', {}, held));
  const moves = (table: CurveTable) =>
    shot.nodes.some(
      (node, row) =>
        isOurs(node) && Object.keys(table[row] ?? {}).some((name) => channelKind(name) === 'position'),
    );
  const ours = new Set(shot.nodes.filter(isOurs).map(({ id }) => id));
  const touched: string[] = [];
  const scaledTable = (table: CurveTable): CurveTable =>
    shot.nodes.map((node, row) => {
      const entries = table[row];
      if (!entries || !isOurs(node)) return entries;
      return Object.fromEntries(
        Object.entries(entries).map(([name, curve]) => {
          if (channelKind(name) !== 'position') return [name, curve];
          touched.push(`${node.id}.${name}`);
          return [name, scaledCurve(curve, factor)];
        }),
      );
    });
  /** Points of what stands lie in the axes of its joint, and are as much larger. */
  const scaledPoints = <Point extends { readonly node: string; readonly at: Vector }>(
    points: readonly Point[],
  ) =>
    points.map((one): Point => {
      const [x, y, z] = one.at;
      return ours.has(one.node) ? { ...one, at: [x * factor, y * factor, z * factor] } : one;
    });
  const scaled: Shot = {
    ...shot,
    nodes: shot.nodes.map((node) => (isOurs(node) ? scaledNode(node, factor) : node)),
    relations: shot.relations.map((relation) =>
      ours.has(relation.node) ? scaledRelation(relation, factor) : relation,
    ),
    curves: scaledTable(shot.curves),
    layers: shot.layers.map((pass) =>
      moves(pass.curves) ? { ...pass, curves: scaledTable(pass.curves) } : pass,
    ),
    ...actionsWith(shot, scaledTable),
    ...(shot.contacts && { contacts: scaledPoints(shot.contacts) }),
  };
  const stored = scaled.actions?.map((one) =>
    one.contacts ? { ...one, contacts: scaledPoints(one.contacts) } : one,
  );
  const after = withStands(stored ? { ...scaled, actions: stored } : scaled);
  return outcome(shot, after, selection, {
    touched: [...new Set(touched)],
    measures: [
      { name: 'curves scaled', value: touched.length, unit: '' },
      { name: 'controls', value: shot.nodes.filter(isOurs).length, unit: '' },
    ],
  });
}

function scaledCurve(curve: Curve, factor: number): Curve {
  return rebuild(curve, null, (columns) => {
    for (const name of ['values', 'slopesIn', 'slopesOut'] as const)
      for (let row = 0; row < columns.times.length; row += 1) columns[name][row]! *= factor;
  });
}

const times = (vector: Vector, factor: number): Vector => [
  vector[0] * factor,
  vector[1] * factor,
  vector[2] * factor,
];

/** The offsets that it keeps, too. */
const scaledRelation = (relation: Relation, factor: number): Relation => ({
  ...relation,
  targets: relation.targets.map((target) => ({
    ...target,
    offset: {
      ...target.offset,
      matrix: target.offset.matrix.map((value, i) => (i >= 12 && i < 15 ? value * factor : value)),
    },
  })),
});

function scaledNode(node: Node, factor: number): Node {
  return {
    ...node,
    rest: { ...node.rest, translation: times(node.rest.translation, factor) },
    solids: node.solids.map((solid) => scaledSolid(solid, factor)),
  };
}

function scaledSolid(solid: Solid, factor: number): Solid {
  switch (solid.kind) {
    case 'capsule':
      return {
        ...solid,
        from: times(solid.from, factor),
        to: times(solid.to, factor),
        radiusFrom: solid.radiusFrom * factor,
        radiusTo: solid.radiusTo * factor,
      };
    case 'ellipsoid':
      return { ...solid, centre: times(solid.centre, factor), radii: times(solid.radii, factor) };
    case 'box':
      return { ...solid, centre: times(solid.centre, factor), size: times(solid.size, factor) };
  }
}
