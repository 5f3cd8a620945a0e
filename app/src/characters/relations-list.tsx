import { Button, Collapse, Table } from 'antd';
import { relationKindOf, relationWords, spaceChecks } from '@kneader/core';
import type { Relation, Shot } from '@kneader/core';

interface RelationsListProps {
  readonly shot: Shot;
  readonly onRemove: (relation: Relation) => void;
}

const heldBy = (relation: Relation): string =>
  [
    relationKindOf(relation) ? '' : 'a kind that this version does not know: kept, and off',
    relation.weight ?? 'always',
    relation.switch === null ? '' : `switched by ${relation.switch}`,
  ]
    .filter((part) => part !== '')
    .join(', ');

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
            <Table<Relation>
              size="small"
              pagination={false}
              rowKey="id"
              scroll={{ y: 200 }}
              dataSource={[...relations]}
              columns={[
                { title: 'Relation', width: 300, render: (_, relation) => relationWords(relation) },
                { title: 'How much of it holds', width: 280, render: (_, relation) => heldBy(relation) },
                {
                  title: 'Noticed',
                  render: (_, relation) =>
                    spaceChecks(shot, relation)
                      .map(({ sentence }) => sentence)
                      .join(' ') || 'nothing',
                },
                {
                  title: 'Remove',
                  width: 200,
                  render: (_, relation) => (
                    <Button
                      size="small"
                      aria-label={`Remove ${relationWords(relation)}, keeping the motion`}
                      onClick={() => onRemove(relation)}
                    >
                      Remove, keeping the motion
                    </Button>
                  ),
                },
              ]}
            />
          ),
        },
      ]}
    />
  );
}
