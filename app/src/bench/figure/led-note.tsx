import { Button } from 'antd';
import { useMemo } from 'react';
import { ledBy } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';

/** Where what is selected follows another control: that one, and the way there. */
export function LedNote() {
  const shot = useBench((state) => state.session.shot);
  const selected = useBench((state) => state.session.selection.nodes);
  const still = useBench((state) => (state.playing ? state.held : state.frame));
  const leaders = useMemo(() => ledBy(shot, still), [shot, still]);
  const led = selected.find((node) => leaders.has(node));
  if (led === undefined) return null;
  const leader = leaders.get(led)!;
  if (selected.includes(leader)) return null;
  return (
    <p className="led-note" role="note">
      <span>
        <b>{led}</b> follows <b>{leader}</b> on this frame.
      </span>
      <Button size="small" type="link" onClick={() => bench.selectNodes([leader])}>
        Go there
      </Button>
    </p>
  );
}
