import { Flex, InputNumber, Modal, Select, Table } from 'antd';
import { useMemo } from 'react';
import { mappingOf } from '@kneader/core';
import type { ActionJson, Carried, MatchBy } from '@kneader/core';
import type { SaidMapping } from '../../store/mapping-queries.ts';
import { useBench } from '../bench-store.ts';

interface MappingTableProps {
  readonly action: ActionJson;
  readonly by: MatchBy;
  readonly character: string | null;
  /** Whether places go by the figures' sizes. */
  readonly heights: boolean;
  readonly said: SaidMapping;
  readonly onSay: (said: SaidMapping) => void;
  readonly onClose: () => void;
}

interface Row {
  readonly source: string;
  readonly pair: Carried | null;
}

const HOW = { name: 'by name', structure: 'by structure', hand: 'by hand' } as const;
/** A turn of the rest and a difference in length that are worth a word. */
const [TURNED, LONGER] = [0.1, 0.05];

/** What of an action fits the figure here, joint by joint; each can be said otherwise by hand. */
export function MappingTable({ action, by, character, heights, said, onSay, onClose }: MappingTableProps) {
  const shot = useBench((state) => state.session.shot);
  const mapping = useMemo(
    () => mappingOf(shot, { json: action }, { by, character, scaled: true, byHand: said.pairs }),
    [shot, action, by, character, said.pairs],
  );
  const rows = useMemo((): Row[] => {
    const found = new Map(mapping?.pairs.map((pair) => [pair.source, pair]));
    return (action.skeleton?.bones ?? []).map(({ id }) => ({ source: id, pair: found.get(id) ?? null }));
  }, [action, mapping]);
  const here = [...(mapping?.pairs.map(({ target }) => target) ?? []), ...(mapping?.spare ?? [])].sort();
  return (
    <Modal
      open
      title={`How “${action.name}” fits`}
      width={760}
      footer={null}
      onCancel={onClose}
      destroyOnHidden
    >
      {mapping === null ? (
        <p>
          It was saved before actions kept their skeleton: its joints go by name. Save it again to map it.
        </p>
      ) : (
        <>
          <p className="soft">
            {mapping.pairs.length} of {rows.length} joints fit
            {mapping.spare.length > 0 && `; ${mapping.spare.length} of this figure stay as they are`}.
          </p>
          {heights && (
            <Flex gap="small" align="center" style={{ marginBottom: 12 }}>
              <span id="places-times">Places times</span>
              <InputNumber
                size="small"
                aria-labelledby="places-times"
                title="Remembered for these two figures, as the joints are."
                placeholder={`${Number(mapping.size.toPrecision(3))}, as found`}
                style={{ width: 150 }}
                min={0.001}
                max={1000}
                step={0.1}
                value={said.times}
                onChange={(times) => onSay({ ...said, times })}
              />
            </Flex>
          )}
          <Table<Row>
            size="small"
            pagination={false}
            rowKey="source"
            scroll={{ y: 420 }}
            dataSource={rows}
            columns={[
              { title: 'Of the action', dataIndex: 'source', width: 170 },
              {
                title: 'Here',
                width: 210,
                render: (_, { source, pair }) => (
                  <Select
                    size="small"
                    showSearch
                    allowClear
                    aria-label={`What ${source} is here`}
                    placeholder="nothing"
                    style={{ width: 190 }}
                    value={pair?.target}
                    options={here.map((id) => ({ value: id, label: id }))}
                    onChange={(target: string | undefined) =>
                      onSay({ ...said, pairs: { ...said.pairs, [source]: target ?? null } })
                    }
                  />
                ),
              },
              { title: 'Found', width: 110, render: (_, { pair }) => (pair ? HOW[pair.how] : '–') },
              {
                title: 'Rest',
                width: 110,
                render: (_, { pair }) =>
                  pair ? (pair.turned > TURNED ? `${pair.turned.toFixed(1)}° off` : 'alike') : '–',
              },
              {
                title: 'Bone',
                render: (_, { pair }) =>
                  pair
                    ? Math.abs(pair.longer - 1) > LONGER
                      ? `${Math.round(pair.longer * 100)} %`
                      : 'as long'
                    : '–',
              },
            ]}
          />
        </>
      )}
    </Modal>
  );
}
