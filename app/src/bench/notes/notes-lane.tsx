import { useRef } from 'react';
import { notesOf } from '@kneader/core';
import type { Note } from '@kneader/core';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { beginDrag } from '../gestures/drag.ts';
import { frameToX, xToFrame } from '../lanes/time-axis.ts';
import type { TimeAxis } from '../lanes/time-axis.ts';
import { useSize } from '../use-size.ts';
import { framesOfNote } from './note-words.ts';
import { openNotes } from './notes-open.ts';

/** Pixels that a note about few frames may take for its words. */
const WIDEST = 180;

/** Notes along the frames that they are about: touched, the play-head goes there and the list opens; dragged, they move. Takes no room where there is none. */
export function NotesLane() {
  const isEmpty = useBench((state) => notesOf(shownShot(state)).length === 0);
  return isEmpty ? null : (
    <div className="lane" style={{ height: 26 }}>
      <div className="lane-head">Notes</div>
      <div className="lane-track">
        <NotesTrack />
      </div>
    </div>
  );
}

function NotesTrack() {
  const notes = useBench((state) => notesOf(shownShot(state)));
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const holder = useRef<HTMLDivElement>(null);
  const { width } = useSize(holder);
  const axis = { from, to, width: Math.max(width, 1) };
  const seen = notes.filter(({ start, end }) => end >= from && start <= to);
  return (
    <div ref={holder} className="note-strip">
      {seen.map((note, i) => {
        const next = seen[i + 1];
        const room = (next ? frameToX(axis, next.start) : axis.width) - frameToX(axis, note.start);
        const [left, right] = [frameToX(axis, note.start), frameToX(axis, note.end)];
        return (
          <button
            key={note.id}
            type="button"
            className={`note-bar${note.done ? ' is-done' : ''}`}
            // The arrows are its own: see keys/key-owner.ts.
            data-arrows
            aria-label={`Note at ${framesOfNote(note)}${note.done ? ', done' : ''}: ${note.text}`}
            title={note.text}
            style={{
              left,
              // A bar over frames ends where they do; one on a single frame takes the room for its words.
              width: Math.max(note.end > note.start ? right - left : Math.min(room - 3, WIDEST), 24),
            }}
            onPointerDown={(event) => begin(event, note, axis)}
            onKeyDown={(event) => {
              const by = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
              if (by !== 0)
                bench.perform('notes.set', { note: note.id, frame: note.start + by }, undefined, 'Move note');
              else if (event.key === 'Delete') bench.perform('notes.remove', { note: note.id });
              else if (event.key === 'Enter') touch(note);
              else return;
              event.preventDefault();
              event.stopPropagation();
            }}
          >
            {note.text}
          </button>
        );
      })}
    </div>
  );
}

function touch(note: Note): void {
  bench.goToFrame(note.start);
  openNotes(note.id);
}

function begin(event: React.PointerEvent<HTMLElement>, note: Note, axis: TimeAxis): void {
  if (event.button !== 0) return;
  const left = event.clientX - frameToX(axis, note.start);
  event.currentTarget.setPointerCapture(event.pointerId);
  beginDrag(event, {
    start: () => bench.beginGesture('notes.set'),
    move: ({ x }) => bench.updateGesture({ note: note.id, frame: Math.round(xToFrame(axis, x - left)) }),
    end: () => bench.commitGesture('Move note'),
    click: () => touch(note),
    cancel: bench.cancelGesture,
  });
}
