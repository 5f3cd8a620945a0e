import { Input, Modal } from 'antd';
import { useEffect, useEffectEvent, useLayoutEffect, useState } from 'react';
import { flushSync } from 'react-dom';
import { useNavigate } from 'react-router';
import { onFindEdit } from '../bench-actions.ts';
import { takeKeys } from '../keys/key-owner.ts';
import { found as findIn } from './find.ts';
import { FINDABLES } from './findables.ts';

/** Further down nobody looks. */
const MOST_SHOWN = 60;

/** Whatever the bench can do, by what it does, one keystroke away. */
export function FindDialog() {
  const [open, setOpen] = useState(false);
  const [sought, setSought] = useState('');
  const [at, setAt] = useState(0);
  const [taken, setTaken] = useState(false);
  // At once: the next letter may come before the page is drawn again.
  useEffect(() => onFindEdit(() => flushSync(() => setOpen(true))), []);
  const navigate = useNavigate();
  const found = findIn(FINDABLES, sought).slice(0, MOST_SHOWN);
  const take = (index: number) => {
    const item = found[index];
    if (!item) return;
    flushSync(() => {
      setTaken(true);
      setOpen(false);
      item.take((path) => void navigate(path));
    });
    // The hand goes on from there with Tab; the dialog would give the focus back to where it was.
    document.querySelector<HTMLElement>('.edit.open')?.focus();
  };
  const handle = (key: string): boolean => {
    if (key === 'ArrowDown') setAt(Math.min(at + 1, found.length - 1));
    else if (key === 'ArrowUp') setAt(Math.max(at - 1, 0));
    else if (key === 'Enter') take(at);
    else return false;
    return true;
  };
  // Until the field has the focus, what is typed is written here.
  const early = useEffectEvent((event: KeyboardEvent) => {
    if (event.target instanceof Element && event.target.closest('[role="dialog"]')) return;
    if (event.key === 'Escape') setOpen(false);
    else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey) {
      flushSync(() => setSought((text) => text + event.key));
    } else if (!handle(event.key)) return;
    event.preventDefault();
  });
  useLayoutEffect(() => {
    if (!open) return;
    const giveBack = takeKeys();
    const listen = (event: KeyboardEvent) => early(event);
    window.addEventListener('keydown', listen, { capture: true });
    return () => {
      giveBack();
      window.removeEventListener('keydown', listen, { capture: true });
    };
  }, [open]);
  return (
    <Modal
      open={open}
      onCancel={() => setOpen(false)}
      footer={null}
      closable={false}
      width={460}
      title="Find"
      // It comes and goes at once: strokes that follow mean the bench.
      transitionName=""
      maskTransitionName=""
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
          if (handle(event.key)) event.preventDefault();
        }}
      />
      <ul className="found" aria-label="Found edits">
        {found.map((item, i) => (
          <li key={item.id} className={i === at ? 'on' : undefined}>
            <button type="button" onClick={() => take(i)}>
              <span className="found-title">
                <b>{item.title}</b>
                <span className="soft">{item.where}</span>
              </span>
              <span className="soft">{item.says}</span>
            </button>
          </li>
        ))}
        {found.length === 0 && (
          <li className="soft hint">
            Nothing here says that. Try another word of the trade, or look into Help.
          </li>
        )}
      </ul>
    </Modal>
  );
}

const SearchMark = () => <span className="soft">/</span>;
