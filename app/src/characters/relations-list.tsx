import { Button, Collapse } from 'antd';
import { relationKindOf, relationWords, spaceChecks } from '@kneader/core';
import type { Relation, Shot } from '@kneader/core';

interface RelationsListProps {
  readonly shot: Shot;
  readonly onRemove: (relation: Relation) => void;
}

/** What places controls by others: each relation in words, with what says how much of it holds, and what is likely to be a mistake. */
export function RelationsList({ shot, onRemove }: RelationsListProps) {
  const { relations } = shot;
  if (relations.length === 0) return null;
  return (
    <Collapse
      size="small"
      items={[
        {
          key: 'relations',
          label: `Relations: ${relations.length}`,
          children: (
            <ul className="relations">
              {relations.map((relation) => (
                <li key={relation.id}>
                  <span>{relationWords(relation)}</span>
                  <span className="soft">
                    {relationKindOf(relation)
                      ? ''
                      : 'of a kind that this version does not know: kept, and off; '}
                    {relation.weight ?? 'always'}
                    {relation.switch !== null && `, switched by ${relation.switch}`}
                  </span>
                  <Button size="small" onClick={() => onRemove(relation)}>
                    Remove, keeping the motion
                  </Button>
                  {spaceChecks(shot, relation).map(({ code, sentence }) => (
                    <span key={code} className="finding">
                      {sentence}
                    </span>
                  ))}
                </li>
              ))}
            </ul>
          ),
        },
      ]}
    />
  );
}
