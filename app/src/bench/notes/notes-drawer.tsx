import { Button, Checkbox, Drawer, Form, Input, Space, Typography } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { notesOf } from '@kneader/core';
import type { Note } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { framesOfNote } from './note-words.ts';
import { toggleNotes, useNotesOpen } from './notes-open.ts';

/** Who writes notes here: kept for the next one. */
const BY = 'kneader-notes-by';

/** How many notes are open still; it opens their list. */
export function NotesButton() {
  const notes = useBench((state) => notesOf(state.session.shot));
  const open = notes.filter(({ done }) => !done).length;
  return (
    <Button size="small" type="text" title="What was said about this shot (Shift+N)" onClick={toggleNotes}>
      Notes{notes.length > 0 ? ` ${open} of ${notes.length} open` : ''}
    </Button>
  );
}

/** All notes in the order of their frames, and a new one at the play-head or over the marked range. */
export function NotesDrawer() {
  const isOpen = useNotesOpen((state) => state.isOpen);
  return (
    <Drawer
      title="Notes"
      size={360}
      mask={false}
      open={isOpen}
      onClose={toggleNotes}
      destroyOnHidden
      className="notes-drawer"
    >
      <NewNote />
      <NotesList />
    </Drawer>
  );
}

interface NewNoteValues {
  readonly text: string;
  readonly by: string;
}

function NewNote() {
  const frame = useBench((state) => Math.round(state.frame));
  const range = useBench((state) => state.session.selection.range);
  const [form] = Form.useForm<NewNoteValues>();
  const where = range ? framesOfNote(range) : String(frame);
  const write = ({ text, by }: NewNoteValues) => {
    localStorage.setItem(BY, by);
    const at = range ? { frame: range.start, end: range.end } : { frame };
    const { report } = bench.perform('notes.set', { text, by, ...at }, undefined, `Note at ${where}`);
    if (report.status === 'changed') form.setFieldValue('text', '');
  };
  return (
    <Form<NewNoteValues>
      form={form}
      size="small"
      layout="vertical"
      initialValues={{ text: '', by: localStorage.getItem(BY) ?? '' }}
      onFinish={write}
    >
      <Form.Item
        name="text"
        label={range ? `About ${where}, the marked range` : `About frame ${where}`}
        rules={[{ required: true, whitespace: true, message: 'Write what is to be said.' }]}
      >
        <Input.TextArea
          autoFocus
          autoSize={{ minRows: 2, maxRows: 6 }}
          maxLength={2000}
          // Enter ends it, as in a field; with Shift it is a new line.
          onPressEnter={(event) => {
            if (event.shiftKey) return;
            event.preventDefault();
            form.submit();
          }}
        />
      </Form.Item>
      <div className="notes-by">
        <Form.Item name="by" label="By">
          <Input maxLength={60} />
        </Form.Item>
        <Button type="primary" htmlType="submit">
          Write
        </Button>
      </div>
    </Form>
  );
}

function NotesList() {
  const notes = useBench((state) => notesOf(state.session.shot));
  const anyDone = notes.some(({ done }) => done);
  if (notes.length === 0) return <p className="soft">Nothing was said about this shot yet.</p>;
  return (
    <>
      <ul className="notes-list" aria-label="All notes">
        {notes.map((note) => (
          <NoteItem key={note.id} note={note} />
        ))}
      </ul>
      {anyDone && (
        <Button
          size="small"
          onClick={() => bench.perform('notes.remove', {}, undefined, 'Remove done notes')}
        >
          Remove those that are done
        </Button>
      )}
    </>
  );
}

function NoteItem({ note }: { readonly note: Note }) {
  const isMeant = useNotesOpen((state) => state.note === note.id);
  const [writing, setWriting] = useState(false);
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (isMeant) item.current?.scrollIntoView({ block: 'nearest' });
  }, [isMeant]);
  const change = (options: object, label: string) =>
    bench.perform('notes.set', { note: note.id, ...options }, undefined, label);
  return (
    <li ref={item} className={isMeant ? 'is-meant' : undefined}>
      <Checkbox
        checked={note.done}
        aria-label={`Done: ${note.text}`}
        onChange={({ target }) =>
          change({ done: target.checked }, target.checked ? 'Note done' : 'Note open again')
        }
      />
      <div>
        <Space size={8}>
          <Button
            size="small"
            type="link"
            className="note-frames"
            onClick={() => bench.goToFrame(note.start)}
          >
            {framesOfNote(note)}
          </Button>
          {note.by !== '' && <span className="soft">{note.by}</span>}
        </Space>
        {writing ? (
          <Input.TextArea
            autoFocus
            size="small"
            aria-label="What it says"
            autoSize
            maxLength={2000}
            defaultValue={note.text}
            onBlur={({ target }) => {
              if (target.value.trim() !== '') change({ text: target.value }, 'Reword note');
              setWriting(false);
            }}
          />
        ) : (
          <Typography.Paragraph delete={note.done} className="note-text">
            {note.text}
          </Typography.Paragraph>
        )}
        <Space size={4}>
          <Button size="small" type="text" onClick={() => setWriting(true)}>
            Reword
          </Button>
          <Button
            size="small"
            type="text"
            danger
            onClick={() => bench.perform('notes.remove', { note: note.id }, undefined, 'Remove note')}
          >
            Remove
          </Button>
        </Space>
      </div>
    </li>
  );
}
