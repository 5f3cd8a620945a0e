import { Modal, Segmented, Table } from 'antd';
import { useState } from 'react';
import type { AnimationInFile } from '@kneader/core';

type Fate = 'shot' | 'action' | 'left';

/** What becomes of the animations of a file. */
export interface Taken {
  readonly shots: readonly AnimationInFile[];
  readonly actions: readonly AnimationInFile[];
}

interface TakeAnimationsProps {
  readonly name: string;
  readonly animations: readonly AnimationInFile[];
  /** Null where it was left. */
  readonly answer: (taken: Taken | null) => void;
}

const FATES: readonly { readonly value: Fate; readonly label: string }[] = [
  { value: 'shot', label: 'A shot' },
  { value: 'action', label: 'An action' },
  { value: 'left', label: 'Left out' },
];

/** The animations of a file with names and lengths: the first becomes the shot, the others actions, unless somebody wants it otherwise. */
export function TakeAnimations({ name, animations, answer }: TakeAnimationsProps) {
  const [fates, setFates] = useState<readonly Fate[]>(
    animations.map((_, i) => (i === 0 ? 'shot' : 'action')),
  );
  const of = (fate: Fate) => animations.filter((_, i) => fates[i] === fate);
  const taken = { shots: of('shot'), actions: of('action') };
  const words = [
    taken.shots.length > 0 && `${taken.shots.length} ${taken.shots.length === 1 ? 'shot' : 'shots'}`,
    taken.actions.length > 0 &&
      `${taken.actions.length} ${taken.actions.length === 1 ? 'action' : 'actions'}`,
  ].filter((word) => word !== false);
  return (
    <Modal
      open
      title={`“${name}” has ${animations.length} animations`}
      okText={words.length > 0 ? `Take ${words.join(' and ')}` : 'Take nothing'}
      okButtonProps={{ disabled: words.length === 0 }}
      onOk={() => answer(taken)}
      onCancel={() => answer(null)}
    >
      <Table<AnimationInFile>
        size="small"
        rowKey="index"
        pagination={false}
        scroll={{ y: 320 }}
        dataSource={[...animations]}
        columns={[
          { title: 'Animation', dataIndex: 'name', ellipsis: true },
          {
            title: 'Length',
            width: 90,
            align: 'right',
            render: (_, { seconds }) => `${seconds.toFixed(2)} s`,
          },
          {
            title: 'becomes',
            width: 250,
            render: (_, { name: own }, i) => (
              <Segmented<Fate>
                size="small"
                aria-label={`What ${own} becomes`}
                options={[...FATES]}
                value={fates[i] ?? 'left'}
                onChange={(fate) => setFates(fates.map((one, k) => (k === i ? fate : one)))}
              />
            ),
          },
        ]}
      />
      <p className="soft">
        Actions are kept in the pantry, with the character’s skeleton, and fit any figure.
      </p>
    </Modal>
  );
}
