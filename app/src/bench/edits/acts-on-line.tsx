import { useEffect, useMemo, useRef } from 'react';
import { actsOn } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { counted } from './numbers.ts';

/** What the open edit acts on, in one line; that a choice of keys is gone is said, never passed over. */
export function ActsOnLine({ edit }: { readonly edit: Edit }) {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const said = useMemo(() => actsOn(shot, selection), [shot, selection]);
  const hadChosen = useRef(said.chosen);
  useEffect(() => {
    if (said.chosen) hadChosen.current = true;
  }, [said.chosen]);
  const emptied = hadChosen.current && !said.chosen && said.keys > 0 && edit.needs !== 'chosen';
  if (said.channels === 0)
    return (
      <p className="acts-on soft">Nothing is selected: touch a control on the figure, or choose keys.</p>
    );
  const { range } = selection;
  // A filter works on what shows, whichever layer is worked on.
  const layer = edit.group === 'filters' ? 'as they show' : said.layer;
  const where = `of ${said.whose}${range ? `, frames ${range.start}–${range.end}` : ''}, ${layer}`;
  const channels = `${counted(said.channels, 'channel')} ${where}`;
  const keys =
    edit.group === 'filters'
      ? channels
      : said.keys === 0
        ? `No keys, ${channels}`
        : `${said.chosen ? '' : 'All '}${counted(said.keys, 'key')} on ${channels}`;
  return (
    <p className={`acts-on${emptied ? ' emptied' : ''}`}>
      {emptied && 'The chosen keys are gone: it acts on all now. '}
      {keys}
    </p>
  );
}
