import { Input, Modal } from 'antd';
import { useEffect, useState } from 'react';
import { onFindEdit } from '../bench-actions.ts';
import { bench } from '../bench-store.ts';
import { foundEdits } from './find-edits.ts';

interface EditSearchProps {
  readonly open: boolean;
  readonly setOpen: (open: boolean) => void;
}

/** Every edit by what it does, one keystroke away. */
export function EditSearch({ open, setOpen }: EditSearchProps) {
  const [sought, setSought] = useState('');
  const [at, setAt] = useState(0);
  const [taken, setTaken] = useState(false);
  useEffect(() => onFindEdit(() => setOpen(true)), [setOpen]);
  const found = foundEdits(sought);
  const take = (index: number) => {
    const edit = found[index];
    if (!edit) return;
    setTaken(true);
    setOpen(false);
    bench.openEdit(edit.id);
    // The hand goes on from there with Tab; the dialog would give the focus back to where it was.
    requestAnimationFrame(() => document.querySelector<HTMLElement>('.edit.open')?.focus());
  };
  return (
    <Modal
      open={open}
      onCancel={() => setOpen(false)}
      footer={null}
      closable={false}
      width={460}
      title="Find an edit"
      destroyOnHidden
      focusable={{ focusTriggerAfterClose: !taken }}
      afterOpenChange={(shown) => {
        if (shown) return;
        setSought('');
        setAt(0);
        setTaken(false);
      }}
    >
      <Input
        autoFocus
        placeholder="What do you want to do?"
        aria-label="Find an edit"
        prefix={<SearchMark />}
        value={sought}
        onChange={(event) => {
          setSought(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(at + 1, found.length - 1));
          else if (event.key === 'ArrowUp') setAt(Math.max(at - 1, 0));
          else if (event.key === 'Enter') take(at);
          else return;
          event.preventDefault();
        }}
      />
      <ul className="found" aria-label="Found edits">
        {found.map((edit, i) => (
          <li key={edit.id} className={i === at ? 'on' : undefined}>
            <button type="button" onClick={() => take(i)}>
              <b>{edit.title}</b>
              <span className="soft">{edit.summary}</span>
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="soft hint">No edit says that.</li>}
      </ul>
    </Modal>
  );
}

const SearchMark = () => <span className="soft">/</span>;
