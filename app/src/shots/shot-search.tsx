import { Input, Select } from 'antd';
import { SHOT_ORDERS } from './shot-list.ts';
import type { ListView } from './shot-list.ts';

interface ShotSearchProps {
  readonly view: ListView;
  readonly setView: (view: ListView) => void;
  /** All that there are. */
  readonly tags: readonly string[];
}

const ORDER_WORDS: Readonly<Record<ListView['order'], string>> = {
  newest: 'last changed first',
  name: 'by name',
  longest: 'longest first',
};

export function ShotSearch({ view, setView, tags }: ShotSearchProps) {
  return (
    <div className="shot-search" role="search">
      <Input
        allowClear
        size="small"
        aria-label="Find a shot"
        placeholder="Find a shot"
        value={view.sought}
        onChange={(event) => setView({ ...view, sought: event.target.value })}
      />
      {tags.length > 0 && (
        <Select
          mode="multiple"
          allowClear
          size="small"
          aria-label="Tags"
          placeholder="Tags"
          maxTagCount="responsive"
          value={[...view.tags]}
          options={tags.map((tag) => ({ value: tag, label: tag }))}
          onChange={(chosen) => setView({ ...view, tags: chosen })}
          style={{ minWidth: 140 }}
        />
      )}
      <Select<ListView['order']>
        size="small"
        aria-label="Order of the shots"
        value={view.order}
        options={SHOT_ORDERS.map((order) => ({ value: order, label: ORDER_WORDS[order] }))}
        onChange={(order) => setView({ ...view, order })}
        style={{ minWidth: 150 }}
      />
    </div>
  );
}
