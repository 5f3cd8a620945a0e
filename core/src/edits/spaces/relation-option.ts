/** Options that name relations and what they go by, and finding them: what all edits on spaces share. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import type { Shot } from '../../document/shot.ts';
import { toleranceOption } from '../shared/tolerance-option.ts';
import type { KeepWishes } from './keep-motion.ts';

/** The word for what is no control: the world itself. */
const WORLD = 'world';

export const relationOption = z.string().meta({ title: 'Relation', description: 'The id of the relation.' });

export function knownRelation(shot: Shot, id: string): Relation {
  return shot.relations.find((relation) => relation.id === id) ?? refuse('unknownRelation', {}, id);
}

/** The relation, which has several targets of which one holds at a time. */
export function switchedRelation(shot: Shot, id: string): Relation & { readonly switch: string } {
  const relation = knownRelation(shot, id);
  const { switch: by } = relation;
  return by === null ? refuse('noSwitch', {}, relation.node) : { ...relation, switch: by };
}

/** The node that a target option names; null is the world. */
export function targetNode(shot: Shot, name: string): string | null {
  if (name === WORLD) return null;
  return shot.nodes.some(({ id }) => id === name) ? name : refuse('unknownNode', { node: name }, name);
}

/** How near the motion is kept. @param when other options and the values of theirs with which it matters; left out, it always does */
export const withinOptions = (when?: Readonly<Record<string, unknown>>) => ({
  space: toleranceOption(
    {
      ...{ title: 'In space', unit: 'mm', step: 0.5 },
      description: 'How far a control may end up from where it was.',
    },
    1,
    1000,
    when,
  ),
  turn: toleranceOption(
    {
      ...{ title: 'In turn', unit: '°', step: 0.05 },
      description: 'How far its orientation may end up from what it was.',
    },
    0.2,
    180,
    when,
  ),
});

export const wishesOf = ({ space, turn }: { readonly space: number; readonly turn: number }): KeepWishes => ({
  distance: space / 10,
  angle: turn,
});

/** The shot with one relation in place of another. */
export const withRelation = (shot: Shot, id: string, change: (relation: Relation) => Relation): Shot => ({
  ...shot,
  relations: shot.relations.map((relation) => (relation.id === id ? change(relation) : relation)),
});

/** `relation-1`, `relation-2` …: the first that is free. */
export function freshRelationId({ relations }: Pick<Shot, 'relations'>): string {
  const known = new Set(relations.map(({ id }) => id));
  for (let i = 1; ; i += 1) if (!known.has(`relation-${i}`)) return `relation-${i}`;
}
