/** Relations in words, for lists: `tray follows hand_l, hand_r, shelf`. */
import { relationKindOf } from './kinds.ts';
import type { Relation, RelationTarget } from './relation.ts';

export const targetName = ({ node }: RelationTarget): string => node ?? 'the world';

export const relationWords = (relation: Relation): string =>
  `${relation.node} ${relationKindOf(relation)?.title.toLowerCase() ?? relation.kind} ${relation.targets.map(targetName).join(', ')}`;
