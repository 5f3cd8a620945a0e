import { Button } from 'antd';
import type { Saving } from '../use-autosave.ts';

/** Another tab works on the shot: what that means, and the ways on. */
export function OtherTabNotice({ saving }: { readonly saving: Saving }) {
  return (
    <div className="bench-notice" role="alert">
      <span>
        Open in another tab, which stores what is done there. Nothing is stored from here
        {saving.changedHere && ': what you changed in this tab is kept only as a copy'}.
      </span>
      {saving.changedHere ? (
        <Button size="small" onClick={() => window.location.reload()}>
          Load that one
        </Button>
      ) : (
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
