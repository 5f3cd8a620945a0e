import { Table } from 'antd';
import type { ContactCompared, KeysCompared } from '@kneader/core';
import { bench } from '../bench-store.ts';
import { counted } from '../edits/numbers.ts';

const mm = (value: number | null) => (value === null ? '–' : value.toFixed(1));

interface TablesProps {
  readonly names: readonly [string, string];
}

/** Contacts and how far they slide. */
export function ContactsTable({ rows, names }: TablesProps & { readonly rows: readonly ContactCompared[] }) {
  if (rows.length === 0)
    return <p className="soft">Neither says where something stands: Motion finds contacts.</p>;
  return (
    <Table<ContactCompared>
      size="small"
      pagination={false}
      rowKey={({ node, point, start, a }) => `${node} ${point} ${start} ${a === null}`}
      dataSource={[...rows]}
      onRow={({ start }) => ({ onClick: () => bench.goToFrame(start), style: { cursor: 'pointer' } })}
      columns={[
        {
          title: 'Stands',
          render: (_, { node, point, start, end }) =>
            `${node}, ${point}: ${Math.round(start)}–${Math.round(end)}`,
        },
        { title: `${names[0]} slides, mm`, align: 'right', width: 92, render: (_, { a }) => mm(a) },
        { title: `${names[1]}`, align: 'right', width: 72, render: (_, { b }) => mm(b) },
      ]}
    />
  );
}

/** Channels whose keys are not the same. */
export function KeysTable({ rows, names }: TablesProps & { readonly rows: readonly KeysCompared[] }) {
  if (rows.length === 0) return <p className="soft">All keys are the same.</p>;
  return (
    <Table<KeysCompared>
      size="small"
      virtual
      scroll={{ y: 380 }}
      pagination={false}
      rowKey="channel"
      dataSource={[...rows]}
      columns={[
        { title: `${counted(rows.length, 'channel')} with other keys`, dataIndex: 'channel', ellipsis: true },
        { title: names[0], align: 'right', width: 74, ellipsis: true, render: (_, { a }) => a ?? '–' },
        { title: names[1], align: 'right', width: 74, ellipsis: true, render: (_, { b }) => b ?? '–' },
      ]}
    />
  );
}
