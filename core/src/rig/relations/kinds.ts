/** The kinds of relations. Adding one is its file and a line here. */
import { aim } from './aim.ts';
import { orientation } from './orientation.ts';
import { parent } from './parent.ts';
import { position } from './position.ts';
import { reach } from './reach.ts';
import type { Relation, RelationKind } from './relation.ts';
import { stand } from './stand.ts';
import { steady } from './steady.ts';

/** In the order in which they are offered. */
export const RELATION_KINDS = [
  parent,
  position,
  orientation,
  aim,
  reach,
  steady,
  stand,
] as unknown as readonly RelationKind[];

const BY_NAME = new Map(RELATION_KINDS.map((kind) => [kind.kind, kind]));

/** The kind of a relation; null for one that this version does not know. */
export const relationKindOf = ({ kind }: Pick<Relation, 'kind'>): RelationKind | null =>
  BY_NAME.get(kind) ?? null;
