import { AutoComplete, Button, Form, Input, Modal, Select } from 'antd';
import type { ActionVersion, PantryItem } from '../store/pantry-record.ts';
import { changedOn } from '../shots/shot-list.ts';
import { changeWords } from './change-words.ts';
import { folderName } from './pantry-list.ts';

interface ChangeActionProps {
  readonly item: PantryItem;
  readonly folders: readonly string[];
  readonly tags: readonly string[];
  readonly onCompare: (older: ActionVersion) => void;
  readonly onKeep: (item: PantryItem) => void;
  readonly onClose: () => void;
}

interface Words {
  readonly name: string;
  readonly folder: string;
  readonly tags: string[];
  readonly notes: string;
}

/** What an action is called and where it lies; and what it was before. */
export function ChangeAction({ item, folders, tags, onCompare, onKeep, onClose }: ChangeActionProps) {
  const [form] = Form.useForm<Words>();
  const { action, folder, versions } = item;
  const done = ({ name, folder: typed, tags: words, notes }: Words) => {
    onKeep({
      ...item,
      folder: folderName(typed),
      action: { ...action, name: name.trim(), tags: words, notes },
    });
    onClose();
  };
  const goBackTo = (older: ActionVersion) => {
    const { savedAt, film } = item;
    const others = versions.filter((one) => one !== older);
    // The digest was that of the other motion.
    const { print: _, ...rest } = item;
    onKeep({
      ...rest,
      savedAt: Date.now(),
      action: older.action,
      film: older.film,
      versions: [{ savedAt, action, film }, ...others],
    });
    onClose();
  };
  return (
    <Modal open title={action.name} okText="Keep" onOk={() => form.submit()} onCancel={onClose} width={560}>
      <Form
        form={form}
        layout="vertical"
        size="small"
        initialValues={{ name: action.name, folder, tags: action.tags, notes: action.notes }}
        onFinish={done}
      >
        <Form.Item
          name="name"
          label="Name"
          rules={[{ required: true, whitespace: true, message: 'It needs a name.' }]}
        >
          <Input autoFocus maxLength={80} />
        </Form.Item>
        <Form.Item name="folder" label="Folder, with / between one and the next">
          <AutoComplete options={folders.map((value) => ({ value }))} maxLength={120} />
        </Form.Item>
        <Form.Item name="tags" label="Tags">
          <Select mode="tags" options={tags.map((value) => ({ value, label: value }))} suffixIcon={null} />
        </Form.Item>
        <Form.Item name="notes" label="Notes">
          <Input.TextArea rows={2} maxLength={2000} />
        </Form.Item>
      </Form>
      {versions.length > 0 && (
        <>
          <h3 className="section-title">Older versions</h3>
          <ul className="versions">
            {versions.map((older, i) => (
              <li key={older.savedAt}>
                <span>
                  <b>{versions.length - i}</b>{' '}
                  <span className="soft">{changedOn(older.savedAt, Date.now())}</span>{' '}
                  {changeWords(older.action, i === 0 ? action : versions[i - 1]!.action)}
                </span>
                <Button size="small" onClick={() => onCompare(older)}>
                  Compare
                </Button>
                <Button size="small" onClick={() => goBackTo(older)}>
                  Go back to it
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </Modal>
  );
}
