import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { EDITS } from '@kneader/core';
import { actBetween } from '../store/journal.ts';
import type { Act } from '../store/journal.ts';
import { keeperOf } from '../store/shot-keeper.ts';
import { holdShot } from '../store/shot-hold.ts';
import type { ShotHold } from '../store/shot-hold.ts';
import { isRecordGone } from '../store/record-store.ts';
import { onOtherTabs, RecordGone, StaleRecord, storageProblem, viewStore } from '../store/storage.ts';
import { useAddShot, useSaveShot } from '../store/shot-queries.ts';
import type { OpenedShot } from '../store/shot-queries.ts';
import { Autosave } from './autosave.ts';
import type { Elsewhere, SavingState } from './autosave.ts';
import { bench, useBench } from './bench-store.ts';
import type { BenchState } from './bench-store.ts';

export interface Saving {
  readonly state: SavingState;
  /** What is wrong, when something is. */
  readonly problem: string | null;
  /** While nothing is stored from here: whether something was changed here too. */
  readonly changedHere: boolean;
  /** Works on the shot here, from what the other tab has stored. */
  readonly workHere: () => void;
  /** Keeps what is here as a shot of its own. */
  readonly makeCopy: () => void;
}

const elsewhereBy = (error: unknown): Elsewhere | null =>
  error instanceof StaleRecord ? 'changed elsewhere' : error instanceof RecordGone ? 'removed' : null;

/** Time for the other tab to store what it has when a shot is taken from it. */
const HAND_OVER_MS = 700;
const VIEW_MS = 400;

/**
 * Keeps the shot on the bench: each edit is noted at once (`journal.ts`), the whole is stored soon after, and looking around is stored
 * apart and puts nothing off. One tab works on a shot; another is told.
 */
export function useAutosave(record: OpenedShot): Saving {
  const { mutateAsync } = useSaveShot();
  const add = useAddShot();
  const navigate = useNavigate();
  const [said, setSaid] = useState<Pick<Saving, 'state' | 'problem' | 'changedHere'>>({
    state: 'saved',
    problem: null,
    changedHere: false,
  });
  const [{ keeper, autosave }] = useState(() => {
    // What could not be noted is stored without waiting.
    const notes = keeperOf(record, () => void saves.flush());
    const saves = new Autosave({
      take: () => {
        const { id, session, frame, from, to } = useBench.getState();
        const acts = notes.number;
        return async () => {
          if (id !== record.id) return;
          await mutateAsync({ id, session, view: { frame, from, to }, acts });
          notes.stored(acts);
        };
      },
      elsewhereBy,
      onState: (now, error) =>
        setSaid((was) => ({
          state: now,
          // A problem stays said until something is stored.
          problem: error !== null ? storageProblem(error) : now === 'saved' ? null : was.problem,
          changedHere: saves.elsewhere && (was.changedHere || error !== null),
        })),
    });
    return { keeper: notes, autosave: saves };
  });
  const [hold, setHold] = useState<ShotHold | null>(null);

  useEffect(() => {
    let mine = true;
    const elsewhere = (how: Elsewhere) => {
      mine = false;
      autosave.isElsewhere(how);
    };
    const held = holdShot(record.id, {
      // What the journal brought back is stored by the tab that works on the shot, and no other.
      onHeld: () => {
        if (record.recovered > 0) autosave.changed();
      },
      onTaken: () => elsewhere('open elsewhere'),
      // What is not stored yet is, before the other tab reads it.
      onLost: () => void autosave.flush().then(() => elsewhere('open elsewhere')),
    });
    setHold(held);
    let viewTimer: ReturnType<typeof setTimeout> | null = null;
    const storeView = () => {
      if (viewTimer !== null) clearTimeout(viewTimer);
      viewTimer = null;
      const { frame, from, to } = useBench.getState();
      // Where one looked last is nobody's work: what cannot be kept of it is forgotten.
      viewStore.setItem(record.id, { frame, from, to }).catch(() => undefined);
    };
    // What was asked for while it was still being tried is done when the shot is opened again.
    const noteAsked = ({ id, asked, session }: BenchState) => {
      if (!asked || !mine || id !== record.id) return;
      const label = EDITS.find((edit) => edit.id === asked.edit)?.title ?? asked.edit;
      keeper.note({ kind: 'edit', ...asked, label, selection: session.selection } as Act);
    };
    const stop = useBench.subscribe((now, was) => {
      // The bench may be cleared before this hears that it is left.
      if (now.id !== was.id) noteAsked(was);
      if (now.id !== record.id || was.id !== record.id) return;
      const looked = now.from !== was.from || now.to !== was.to || (now.frame !== was.frame && !now.playing);
      if (looked && mine) viewTimer ??= setTimeout(storeView, VIEW_MS);
      if (now.session === was.session) return;
      const done = actBetween(was.session, now.session);
      // After a writing that came too late nothing here is stored any more either.
      if (autosave.elsewhere) mine = false;
      if (done !== null && !mine) setSaid((before) => ({ ...before, changedHere: true }));
      if (done !== null && mine) keeper.note(done);
      // What is only chosen in a tab that stores nothing is nobody's work.
      if (done !== null || mine) autosave.changed();
      // What the journal cannot say is stored without waiting.
      if (done?.kind === 'gap') void autosave.flush();
    });
    const stopHearing = onOtherTabs((note) => {
      if (note.id !== record.id || note.kind === 'action') return;
      elsewhere(note.kind === 'shot removed' ? 'removed' : mine ? 'changed elsewhere' : 'open elsewhere');
    });
    // Nobody says so when the browser's data are cleared.
    const lookAgain = () => {
      if (document.visibilityState !== 'visible' || autosave.elsewhere) return;
      isRecordGone(record.id).then(
        (gone) => gone && elsewhere('removed'),
        () => undefined,
      );
    };
    const leave = () => {
      if (useBench.getState().id === record.id) bench.commitGesture();
      if (viewTimer !== null) storeView();
      void autosave.flush();
      noteAsked(useBench.getState());
      bench.setAsked(null);
    };
    const ask = (event: BeforeUnloadEvent) => {
      if (useBench.getState().asked) event.preventDefault();
      // In the tab that works on the shot the journal has it all.
      if (autosave.elsewhere && autosave.unsaved) event.preventDefault();
      if (keeper.isRefused && autosave.pending) event.preventDefault();
    };
    window.addEventListener('pagehide', leave);
    window.addEventListener('beforeunload', ask);
    document.addEventListener('visibilitychange', lookAgain);
    window.addEventListener('focus', lookAgain);
    return () => {
      leave();
      held.release();
      stop();
      stopHearing();
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('beforeunload', ask);
      document.removeEventListener('visibilitychange', lookAgain);
      window.removeEventListener('focus', lookAgain);
    };
  }, [autosave, keeper, record]);

  return {
    ...said,
    workHere: () => {
      hold?.takeOver();
      setTimeout(() => window.location.reload(), HAND_OVER_MS);
    },
    makeCopy: () => {
      add
        .mutateAsync({ shot: useBench.getState().session.shot })
        .then((made) => {
          bench.open('', useBench.getInitialState().session, null);
          return navigate(`/shots/${made}`);
        })
        .catch((error: unknown) =>
          setSaid((was) => ({ ...was, state: 'problem', problem: storageProblem(error) })),
        );
    },
  };
}
