import { Input, Modal } from 'antd';
import { useEffect, useState } from 'react';
import { EDITS } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { bench } from '../bench-store.ts';

interface EditSearchProps {
  readonly open: boolean;
  readonly setOpen: (open: boolean) => void;
}

/** Every edit by what it does, one keystroke away. */
export function EditSearch({ open, setOpen }: EditSearchProps) {
  const [sought, setSought] = useState('');
  const [at, setAt] = useState(0);
  const [taken, setTaken] = useState(false);
  useEffect(() => {
    const find = (event: KeyboardEvent) => {
      const writing = event.target instanceof HTMLElement && /^(INPUT|TEXTAREA)$/.test(event.target.tagName);
      if (event.key !== '/' || writing) return;
      event.preventDefault();
      setOpen(true);
    };
    window.addEventListener('keydown', find);
    return () => window.removeEventListener('keydown', find);
  }, [setOpen]);
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const found = foundEdits(words);
  const take = (index: number) => {
    const edit = found[index];
    if (!edit) return;
    setTaken(true);
    setOpen(false);
    bench.openEdit(edit.id);
    // The hand goes on from there with Tab; the dialog would give the focus back to where it was.
    requestAnimationFrame(() => document.querySelector<HTMLElement>('.edit.open > .edit-title')?.focus());
  };
  return (
    <Modal
      open={open}
      onCancel={() => setOpen(false)}
      footer={null}
      closable={false}
      width={460}
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

/** Edits that all the words speak of; those whose title does come first. */
function foundEdits(words: readonly string[]): readonly Edit[] {
  const says = (text: string) => words.every((word) => text.toLowerCase().includes(word));
  const inTitle = EDITS.filter(({ title }) => says(title));
  const elsewhere = EDITS.filter(
    (edit) => !inTitle.includes(edit) && says(`${edit.title} ${edit.summary} ${edit.group}`),
  );
  return [...inTitle, ...elsewhere];
}

const SearchMark = () => <span className="soft">/</span>;
