import { AutoComplete, Form, Modal, Select } from 'antd';
import { counted } from '../bench/edits/numbers.ts';
import type { PantryItem } from '../store/pantry-record.ts';
import { rearranged, tagsOf } from './pantry-list.ts';
import type { Rearranging } from './pantry-list.ts';

interface ChangeManyProps {
  readonly items: readonly PantryItem[];
  readonly folders: readonly string[];
  readonly tags: readonly string[];
  /** With those that have changed. */
  readonly onKeep: (changed: readonly PantryItem[]) => void;
  readonly onClose: () => void;
}

/** Where several actions lie, and what they are tagged with; what is left empty stays as it is. */
export function ChangeMany({ items, folders, tags, onKeep, onClose }: ChangeManyProps) {
  const [form] = Form.useForm<Rearranging>();
  return (
    <Modal
      open
      title={`Folder and tags of ${counted(items.length, 'action')}`}
      okText="Keep"
      onOk={() => form.submit()}
      onCancel={onClose}
      width={480}
    >
      <Form
        form={form}
        layout="vertical"
        size="small"
        initialValues={{ folder: '', add: [], without: [] }}
        onFinish={(wishes) => {
          onKeep(rearranged(items, wishes));
          onClose();
        }}
      >
        <Form.Item name="folder" label="Folder, with / between one and the next">
          <AutoComplete
            autoFocus
            placeholder="As it is"
            options={folders.map((value) => ({ value }))}
            maxLength={120}
          />
        </Form.Item>
        <Form.Item name="add" label="Tags to add">
          <Select mode="tags" options={tags.map((value) => ({ value, label: value }))} suffixIcon={null} />
        </Form.Item>
        <Form.Item name="without" label="Tags to take off">
          <Select
            mode="multiple"
            options={tagsOf(items).map((value) => ({ value, label: value }))}
            suffixIcon={null}
          />
        </Form.Item>
      </Form>
    </Modal>
  );
}
