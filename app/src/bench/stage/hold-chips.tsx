import { FilterOutlined, LinkOutlined, LockOutlined } from '../../theme/icons.tsx';
import { useMemo } from 'react';
import { bench, useBench } from '../bench-store.ts';
import { lockChannels } from '../bench-actions.ts';
import { openWith } from '../edits/edit-panel.tsx';
import { whatHolds } from './what-holds.ts';
import type { Hold } from './what-holds.ts';

const MARKS = { relation: <LinkOutlined />, filter: <FilterOutlined />, lock: <LockOutlined /> };
/** More would hide the figure: they are counted. */
const MOST = 4;

/** What else has a say in the selection, beside its name: touched, it is set up, or unlocked. */
export function HoldChips() {
  const shot = useBench((state) => state.session.shot);
  const selected = useBench((state) => state.session.selection.nodes);
  const frame = useBench((state) => (state.playing ? state.held : state.frame));
  const holds = useMemo(() => whatHolds(shot, selected, frame), [shot, selected, frame]);
  if (holds.length === 0) return null;
  return (
    <span className="hold-chips" role="group" aria-label="What else has a say in it">
      {holds.slice(0, MOST).map((hold) => (
        <button
          key={hold.key}
          type="button"
          className="chip"
          title={hold.kind === 'lock' ? `${hold.words}: touch to unlock` : `${hold.words}: set it up`}
          onClick={() => take(hold, shot.locked)}
        >
          {MARKS[hold.kind]} {hold.words}
        </button>
      ))}
      {holds.length > MOST && <span className="soft">and {holds.length - MOST} more</span>}
    </span>
  );
}

function take({ kind, edit, about }: Hold, locked: readonly string[]): void {
  if (kind === 'lock') {
    const chosen = new Set(useBench.getState().session.selection.nodes);
    lockChannels(
      locked.filter((id) => chosen.has(id.slice(0, id.lastIndexOf('.')))),
      false,
    );
  } else if (kind === 'filter') {
    bench.chooseFilter(about);
    bench.openEdit(edit);
  } else openWith(edit, { relation: about });
}
