import { DeleteOutlined, DownloadOutlined, EditOutlined, UndoOutlined } from '../theme/icons.tsx';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Button, Checkbox, Tag } from 'antd';
import { memo, useRef, useState } from 'react';
import { useSize } from '../bench/use-size.ts';
import { saveFile } from '../shots/save-file.ts';
import type { PantryItem } from '../store/pantry-record.ts';
import { actionFileName } from './action-file-name.ts';
import { ActionPicture } from './action-picture.tsx';
import { useTurntable } from './use-turntable.ts';

interface ActionCardsProps {
  readonly items: readonly PantryItem[];
  readonly chosen: ReadonlySet<string>;
  readonly onToggle: (id: string) => void;
  readonly onChange: (item: PantryItem) => void;
  readonly onRemove: (item: PantryItem) => void;
  readonly onRestore: (item: PantryItem) => void;
}

/** A card and the gap beside it, pixels. */
const [NARROWEST, TALL, GAP] = [214, 268, 14];

/** The cards in rows; only those in sight are made. */
export function ActionCards({ items, ...hands }: ActionCardsProps) {
  const holder = useRef<HTMLDivElement>(null);
  const { width } = useSize(holder);
  const across = Math.max(1, Math.floor((width + GAP) / (NARROWEST + GAP)));
  const rows = useVirtualizer({
    count: Math.ceil(items.length / across),
    getScrollElement: () => holder.current,
    estimateSize: () => TALL + GAP,
    overscan: 1,
    // A row is cheap until its cards fill in; a scroll event that waited for them would hold the page.
    useFlushSync: false,
    // Else the end of a scroll is waited for by reading the place, which lays the page out in the middle of drawing.
    useScrollendEvent: true,
  });
  return (
    <div ref={holder} className="action-cards">
      <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
        {rows.getVirtualItems().map(({ index, start }) => (
          <div
            key={index}
            className="action-row"
            style={{
              transform: `translateY(${start}px)`,
              gridTemplateColumns: `repeat(${across}, 1fr)`,
              height: TALL,
            }}
          >
            {items.slice(index * across, (index + 1) * across).map((item) => (
              <ActionCard key={item.id} item={item} {...hands} />
            ))}
          </div>
        ))}
      </div>
    </div>
  );
}

interface ActionCardProps extends Omit<ActionCardsProps, 'items'> {
  readonly item: PantryItem;
}

/** Its name at once; picture and hands as soon as there is time, so that hundreds of cards scroll without a stop. */
const ActionCard = memo(function ActionCard(props: ActionCardProps) {
  const isFilled = useTurntable();
  const { action } = props.item;
  return isFilled ? (
    <FilledCard {...props} />
  ) : (
    <article className="card action-card" aria-label={action.name}>
      <p className="no-picture" />
      <div className="card-text">
        <b className="one-line">{action.name}</b>
      </div>
    </article>
  );
});

function FilledCard({ item, chosen, onToggle, onChange, onRemove, onRestore }: ActionCardProps) {
  const [touched, setTouched] = useState(false);
  const { action } = item;
  return (
    <article
      className="card action-card"
      aria-label={action.name}
      onPointerEnter={() => setTouched(true)}
      onPointerLeave={() => setTouched(false)}
      onFocus={() => setTouched(true)}
      onBlur={() => setTouched(false)}
    >
      <ActionPicture of={item} label={`${action.name}, moving under the hand`} moves={touched} />
      <div className="card-text">
        <Checkbox
          checked={chosen.has(item.id)}
          onChange={() => onToggle(item.id)}
          aria-label={`Choose ${action.name}`}
        >
          <b title={action.name}>{action.name}</b>
        </Checkbox>
        <span className="soft one-line">
          {Math.round(action.length)} frames · {Object.keys(action.curves).length} channels
          {item.versions.length > 0 && ` · version ${item.versions.length + 1}`}
        </span>
        <span className="one-line">
          {action.tags.slice(0, 3).map((tag) => (
            <Tag key={tag}>{tag}</Tag>
          ))}
        </span>
        <div className="card-foot">
          {item.removedAt === null ? (
            <>
              <Button
                size="small"
                aria-label={`Name, folder, tags and versions of ${action.name}`}
                icon={<EditOutlined />}
                onClick={() => onChange(item)}
              />
              <Button
                size="small"
                aria-label={`Save ${action.name} to a file`}
                icon={<DownloadOutlined />}
                onClick={() => saveFile(actionFileName(action), JSON.stringify(action), 'application/json')}
              />
              <Button
                size="small"
                aria-label={`Remove ${action.name}`}
                icon={<DeleteOutlined />}
                onClick={() => onRemove(item)}
              />
            </>
          ) : (
            <Button size="small" icon={<UndoOutlined />} onClick={() => onRestore(item)}>
              Have it back
            </Button>
          )}
        </div>
      </div>
    </article>
  );
}
