import { SearchOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import { useState } from 'react';
import type { ComponentType } from 'react';
import { Link } from 'react-router';
import { EDIT_GROUPS, EDITS } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { ApplyActionPanel } from './apply-action-panel.tsx';
import { EditSearch } from './edit-search.tsx';
import { GenericPanel } from './edit-panel.tsx';
import { HistoryList } from './history-list.tsx';
import { OffsetPassPanel } from './offset-pass-panel.tsx';
import { PasteKeysPanel } from './paste-keys-panel.tsx';
import { PastePosePanel } from './paste-pose-panel.tsx';
import { SaveActionPanel } from './save-action-panel.tsx';
import { TangentsPanel } from './tangents-panel.tsx';
import { ThinPanel } from './thin-panel.tsx';
import { TransformPanel } from './transform-panel.tsx';

/** Edits whose gesture a generic form would not do justice. */
const PANELS: Readonly<Record<string, ComponentType<{ readonly edit: Edit }>>> = {
  'clean.thin': ThinPanel,
  'tangents.set': TangentsPanel,
  'keys.paste': PasteKeysPanel,
  'keys.transform': TransformPanel,
  'poses.paste': PastePosePanel,
  'poses.setPair': CharactersHint,
  'poses.setFlipSigns': CharactersHint,
  'poses.setFacing': CharactersHint,
  'passes.addOffset': OffsetPassPanel,
  'passes.pose': PosingHint,
  'actions.save': SaveActionPanel,
  'actions.apply': ApplyActionPanel,
};

/** All edits in the order of the work, one open at a time; below them the history. */
/** An edit that is opened comes to the top of the list, so that its options and its report are in sight. */
const showWhole = (element: HTMLElement | null) => element?.scrollIntoView({ block: 'start' });

export function EditsPanel() {
  const open = useBench((state) => state.openEdit);
  const [searching, setSearching] = useState(false);
  return (
    <aside className="edits" aria-label="Edits">
      <div className="edits-head">
        <h2>Edits</h2>
        <Button size="small" type="text" icon={<SearchOutlined />} onClick={() => setSearching(true)}>
          Find <kbd>/</kbd>
        </Button>
      </div>
      <EditSearch open={searching} setOpen={setSearching} />
      <div className="edits-list">
        {EDIT_GROUPS.map((group) => (
          <section key={group}>
            <h3>{group}</h3>
            {EDITS.filter((edit) => edit.group === group).map((edit) => {
              const Panel = PANELS[edit.id] ?? GenericPanel;
              const isOpen = open === edit.id;
              return (
                <div
                  key={edit.id}
                  className={`edit${isOpen ? ' open' : ''}`}
                  ref={isOpen ? showWhole : undefined}
                >
                  <button
                    type="button"
                    className="edit-title"
                    aria-expanded={isOpen}
                    title={edit.summary}
                    onClick={() => bench.openEdit(isOpen ? null : edit.id)}
                  >
                    {edit.title}
                  </button>
                  {isOpen && <Panel key={edit.id} edit={edit} />}
                </div>
              );
            })}
          </section>
        ))}
      </div>
      <HistoryList />
    </aside>
  );
}

/** Posing is done by hand on the stage or with a value; the panel says how. */
function PosingHint() {
  const pass = useBench((state) =>
    state.session.shot.passes.find(({ id }) => id === state.session.selection.pass),
  );
  return (
    <p className="soft hint">
      {pass
        ? `“${pass.name}” is worked on: turn a control on the stage, or change a value under the figure, and it is keyed on the pass.`
        : 'Choose a pass in the lanes, then turn a control on the stage or change a value under the figure.'}
    </p>
  );
}

/** Pairs and signs are set where the flip test shows what they do. */
function CharactersHint({ edit }: { readonly edit: Edit }) {
  const id = useBench((state) => state.id);
  return (
    <p className="soft hint">
      {edit.summary} The flip test shows there what is wrong: <Link to={`/characters/${id}`}>Characters</Link>
      .
    </p>
  );
}
