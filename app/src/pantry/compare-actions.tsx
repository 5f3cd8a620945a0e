import { Modal, Table } from 'antd';
import { compareActions, readAction, splitChannel, unitOf } from '@kneader/core';
import { withUnit } from '../bench/edits/numbers.ts';
import type { PantryItem } from '../store/pantry-record.ts';
import { changedOn } from '../shots/shot-list.ts';
import { ActionPicture } from './action-picture.tsx';
import { changeWords } from './change-words.ts';

interface CompareActionsProps {
  readonly pair: readonly [PantryItem, PantryItem];
  readonly onClose: () => void;
}

/** Two actions side by side, both moving, and where they differ. */
export function CompareActions({ pair, onClose }: CompareActionsProps) {
  const [first, second] = pair;
  const { channels, same } = compareActions(readAction(first.action), readAction(second.action));
  const rows = channels.map(({ channel, only, greatest, frame }) => ({
    channel,
    said: only === null ? '' : only === 'first' ? 'only in the first' : 'only in the second',
    greatest: only === null ? withUnit(greatest, unitOf(splitChannel(channel).name)) : null,
    frame: only === null ? Math.round(frame) : null,
  }));
  return (
    <Modal open title="Two actions compared" footer={null} onCancel={onClose} width={760}>
      <div className="compared">
        {pair.map((one, i) => (
          <figure key={i}>
            <ActionPicture of={one} label={`${one.action.name}, moving`} />
            <figcaption>
              <b>{one.action.name}</b>{' '}
              <span className="soft">
                {Math.round(one.action.length)} frames, {changedOn(one.savedAt, Date.now())}
              </span>
            </figcaption>
          </figure>
        ))}
      </div>
      <p>
        From the first to the second: {changeWords(first.action, second.action).replace(/^then /, '')}. {same}{' '}
        {same === 1 ? 'channel is' : 'channels are'} the same.
      </p>
      <Table
        size="small"
        rowKey="channel"
        dataSource={rows}
        pagination={{ pageSize: 8, hideOnSinglePage: true, showSizeChanger: false }}
        columns={[
          { title: 'Channel', dataIndex: 'channel' },
          { title: 'Greatest distance', dataIndex: 'greatest', align: 'right' },
          { title: 'at frame', dataIndex: 'frame', align: 'right' },
          { title: '', dataIndex: 'said' },
        ]}
      />
    </Modal>
  );
}
