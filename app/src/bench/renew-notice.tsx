import { Button } from 'antd';
import { useState } from 'react';
import { usePantry } from '../store/action-queries.ts';
import { bench, useBench } from './bench-store.ts';
import { keptOf } from './edits/apply-action-panel.tsx';

/** An action that is placed in the shot is another in the pantry by now: it is renewed, or left as it is. */
export function RenewNotice() {
  const pantry = usePantry();
  const placed = useBench((state) => state.session.shot.actions);
  const [left, setLeft] = useState<readonly string[]>([]);
  const found = (pantry.data ?? []).flatMap((item) => {
    const kept = keptOf(item);
    const stored = placed?.find(({ from }) => from?.kept?.id === item.id && from.kept.print !== kept?.print);
    return kept && stored && !left.includes(kept.print) ? [{ action: item.action, kept, stored }] : [];
  });
  const [first] = found;
  if (!first) return null;
  const { action, kept, stored } = first;
  return (
    <p className="bench-notice" role="status">
      <span>“{action.name}” has changed in the pantry since it was placed here.</span>
      <Button
        size="small"
        onClick={() => bench.perform('actions.renew', { action, stored: stored.id, kept })}
      >
        Renew it where it is placed
      </Button>
      <Button size="small" type="text" onClick={() => setLeft([...left, kept.print])}>
        Leave it
      </Button>
    </p>
  );
}
