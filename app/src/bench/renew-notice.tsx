import { Button } from 'antd';
import { usePantry } from '../store/action-queries.ts';
import { changedSince, placedIn } from '../store/changed-actions.ts';
import { leaveAlone, useLeftAlone } from '../store/left-alone.ts';
import { bench, useBench } from './bench-store.ts';

/** An action that is placed in the shot is another in the pantry by now: it is renewed, or left as it is. */
export function RenewNotice() {
  const pantry = usePantry();
  const shot = useBench((state) => state.session.shot);
  const id = useBench((state) => state.id);
  const left = useLeftAlone((state) => state.left[id]);
  const [first] = changedSince(pantry.data ?? [], placedIn(shot), left);
  if (!first) return null;
  const { item, kept, stored } = first;
  return (
    <p className="bench-notice" role="status">
      <span>“{item.action.name}” has changed in the pantry since it was placed here.</span>
      <Button
        size="small"
        onClick={() => bench.perform('actions.renew', { action: item.action, stored, kept })}
      >
        Renew it where it is placed
      </Button>
      <Button size="small" type="text" onClick={() => leaveAlone(id, kept.print)}>
        Leave it
      </Button>
    </p>
  );
}
