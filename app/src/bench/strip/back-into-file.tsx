import { App, Form, Input, Modal, Select } from 'antd';
import { useState } from 'react';
import { sourcesOf, variantsOf } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { saveFile } from '../../shots/save-file.ts';
import { usePantry } from '../../store/action-queries.ts';
import { filesOf } from '../../store/sources.ts';
import { useBench } from '../bench-store.ts';
import { useAskOfLost } from './ask-of-lost.tsx';

interface BackIntoFileProps {
  /** Of the shot's sources. */
  readonly which: number;
  readonly onEnd: () => void;
}

/** The character's own file with the shot's motion in place of what it came from, and whatever else is chosen beside it. */
export function BackIntoFile({ which, onEnd }: BackIntoFileProps) {
  const { notification } = App.useApp();
  const ask = useAskOfLost();
  const shot = useBench((state) => state.session.shot);
  const source = sourcesOf(shot)[which]!;
  const [name, setName] = useState(source.animation?.name || shot.name);
  const [variants, setVariants] = useState<string[]>([]);
  const [chosen, setChosen] = useState<string[]>([]);
  const [writing, setWriting] = useState(false);
  const pantry = usePantry().data ?? [];
  const write = async () => {
    setWriting(true);
    try {
      const files = (await filesOf(shot)).get(source.id);
      if (!files) throw new Error(`“${source.name}” is not in this browser. Open it again first.`);
      const ending = /\.gltf$/i.test(source.name) ? '.gltf' : '.glb';
      const actions = pantry.filter(({ id }) => chosen.includes(id)).map(({ action }) => action);
      const { bytes, findings } = await bridge.backInto(shot, which, files, {
        ...{ name: name.trim(), variants, actions, ending },
      });
      if (!(await ask(findings, 'Write the file'))) return;
      saveFile(source.name, bytes, ending === '.gltf' ? 'model/gltf+json' : 'model/gltf-binary');
      onEnd();
    } catch (error) {
      notification.error({
        title: 'Nothing was written',
        description: error instanceof Error ? error.message : String(error),
      });
    } finally {
      setWriting(false);
    }
  };
  const replaced = source.animation
    ? `In place of “${source.animation.name || `number ${source.animation.index + 1}`}”; all else in the file stays as it came.`
    : 'The file has none yet; all else in it stays as it came.';
  return (
    <Modal
      open
      title={`Back into ${source.name}`}
      okText="Write the file"
      okButtonProps={{ disabled: name.trim() === '' }}
      confirmLoading={writing}
      onOk={() => void write()}
      onCancel={onEnd}
    >
      <Form layout="vertical">
        <Form.Item label="Name of the animation" extra={replaced}>
          <Input
            aria-label="Name of the animation"
            value={name}
            maxLength={200}
            onChange={(event) => setName(event.target.value)}
          />
        </Form.Item>
        {variantsOf(shot).length > 0 && (
          <Form.Item label="Variants, each as an animation of its name">
            <Select
              mode="multiple"
              aria-label="Variants"
              value={variants}
              onChange={setVariants}
              options={variantsOf(shot).map(({ id, name: label }) => ({ value: id, label }))}
            />
          </Form.Item>
        )}
        <Form.Item
          label="Actions of the pantry, each as an animation of its name"
          extra="One that has the name of an animation in the file takes its place."
        >
          <Select
            mode="multiple"
            aria-label="Actions"
            value={chosen}
            onChange={setChosen}
            optionFilterProp="label"
            options={pantry.map(({ id, action }) => ({ value: id, label: action.name }))}
          />
        </Form.Item>
      </Form>
    </Modal>
  );
}
