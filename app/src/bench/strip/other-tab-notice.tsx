import { Button } from 'antd';
import type { Elsewhere } from '../autosave.ts';
import type { Saving } from '../use-autosave.ts';

const SENTENCES: Readonly<Record<Elsewhere, string>> = {
  'open elsewhere': 'Open in another tab, which stores what is done there. Nothing is stored from here',
  'changed elsewhere':
    'Changed in another tab since it was opened here. Nothing is stored from here, so that nothing is written over that',
  removed:
    'Removed: in another tab, or with the browser’s data. It stands here alone, and nothing of it is stored',
};
const isElsewhere = (state: Saving['state']): state is Elsewhere => state in SENTENCES;

/** The shot is not this tab's to store: why, and the ways on. */
export function OtherTabNotice({ saving }: { readonly saving: Saving }) {
  const { state, changedHere } = saving;
  if (!isElsewhere(state)) return null;
  const loads = state === 'changed elsewhere' || (state === 'open elsewhere' && changedHere);
  return (
    <div className="bench-notice" role="alert">
      <span>
        {SENTENCES[state]}
        {changedHere && ': what you changed in this tab is kept only as a copy'}.
      </span>
      {loads && (
        <Button size="small" onClick={() => window.location.reload()}>
          Load that one
        </Button>
      )}
      {state === 'open elsewhere' && !changedHere && (
        <Button size="small" onClick={saving.workHere}>
          Work here
        </Button>
      )}
      <Button size="small" onClick={saving.makeCopy}>
        Make a copy
      </Button>
    </div>
  );
}
