import {
  AppstoreOutlined,
  BorderlessTableOutlined,
  ClearOutlined,
  FieldTimeOutlined,
  RiseOutlined,
  SearchOutlined,
  ApartmentOutlined,
  FilterOutlined,
  SwitcherOutlined,
  ThunderboltOutlined,
  UserOutlined,
} from '../../theme/icons.tsx';
import { Button } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import type { ComponentType, ReactNode } from 'react';
import { Link } from 'react-router';
import { actsOn, EDIT_GROUPS, EDITS } from '@kneader/core';
import type { Edit, EditGroup } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { findEdit } from '../bench-actions.ts';
import { useStrokes } from '../keys/key-map.ts';
import { ApplyActionPanel, PantryDrawer } from './apply-action-panel.tsx';
import { GenericPanel } from './edit-panel.tsx';
import { fittingFirst, missingFor } from './fitting-edits.ts';
import { HistoryList } from './history-list.tsx';
import { AddFilterPanel, SetFilterPanel } from './filter-panels.tsx';
import { BakeOutPanel } from './bake-out-panel.tsx';
import { AimPanel } from './aim-panel.tsx';
import { HeightPanel, MassPanel } from './body-panels.tsx';
import { ContactsPanel, FindContactsPanel, GivePanel, SetContactPanel } from './contacts-panels.tsx';
import { FlightPanel } from './flight-panel.tsx';
import { RefinePanel } from './refine-panel.tsx';
import { LoopPanel } from './loop-panel.tsx';
import { MergePanel } from './merge-panel.tsx';
import { NewPassPanel } from './new-pass-panel.tsx';
import { VariantPanel } from './variant-panels.tsx';
import { PasteKeysPanel } from './paste-keys-panel.tsx';
import { PastePosePanel } from './paste-pose-panel.tsx';
import { SetPassPanel, SetWeightPanel } from './pass-panels.tsx';
import { noteUse, useRecentEdits } from './recent-edits.ts';
import { RecordPanel } from '../record/record-panel.tsx';
import { PlacementPanel } from './placement-panel.tsx';
import { RescalePanel } from './rescale-panel.tsx';
import { RoutinesDrawer } from './routines-drawer.tsx';
import { SaveActionPanel } from './save-action-panel.tsx';
import { SetValuePanel } from './set-value-panel.tsx';
import { TangentsPanel } from './tangents-panel.tsx';
import { AddRelationPanel, DissolvePanel, RelationPanel } from './spaces-panels.tsx';
import { ThinPanel } from './thin-panel.tsx';
import { TransformPanel } from './transform-panel.tsx';

/** Edits whose gesture a generic form would not do justice. */
const PANELS: Readonly<Record<string, ComponentType<{ readonly edit: Edit }>>> = {
  'clean.thin': ThinPanel,
  'clean.rescale': RescalePanel,
  'keys.setValue': SetValuePanel,
  'passes.set': SetPassPanel,
  'passes.setWeight': SetWeightPanel,
  'tangents.set': TangentsPanel,
  'keys.paste': PasteKeysPanel,
  'keys.transform': TransformPanel,
  'poses.paste': PastePosePanel,
  'poses.setPair': CharactersHint,
  'poses.setFlipSigns': CharactersHint,
  'poses.setFacing': CharactersHint,
  'passes.addOffset': NewPassPanel,
  'passes.addReplace': NewPassPanel,
  'passes.merge': MergePanel,
  'passes.bakeOut': BakeOutPanel,
  'variants.bakeOut': BakeOutPanel,
  'variants.show': VariantPanel,
  'variants.set': VariantPanel,
  'variants.remove': VariantPanel,
  'filters.add': AddFilterPanel,
  'filters.set': SetFilterPanel,
  'filters.setStrength': StackHint,
  'filters.move': StackHint,
  'passes.move': StackHint,
  'passes.pose': PosingHint,
  'spaces.add': AddRelationPanel,
  'spaces.set': RelationPanel,
  'spaces.switch': RelationPanel,
  'spaces.moveSwitch': RelationPanel,
  'spaces.match': RelationPanel,
  'spaces.remove': RelationPanel,
  'spaces.toJoints': RelationPanel,
  'spaces.matchLimb': RelationPanel,
  'spaces.dissolve': DissolvePanel,
  'actions.save': SaveActionPanel,
  'actions.savePose': SaveActionPanel,
  'actions.map': ApplyActionPanel,
  'actions.renew': ApplyActionPanel,
  'actions.apply': ApplyActionPanel,
  'actions.blendPose': ApplyActionPanel,
  'actions.place': ApplyActionPanel,
  'actions.record': RecordPanel,
  'actions.setPlacement': PlacementPanel,
  'timing.loop': LoopPanel,
  'contacts.find': FindContactsPanel,
  'contacts.hold': ContactsPanel,
  'contacts.remove': ContactsPanel,
  'contacts.set': SetContactPanel,
  'contacts.giveAtHips': GivePanel,
  'motion.setHeight': HeightPanel,
  'motion.setMass': MassPanel,
  'motion.flight': FlightPanel,
  'motion.aim': AimPanel,
  'motion.refine': RefinePanel,
};

/** The marks of the groups, in the order of the work. */
const MARKS: Readonly<Record<EditGroup, ReactNode>> = {
  clean: <ClearOutlined />,
  tangents: <RiseOutlined />,
  keys: <BorderlessTableOutlined />,
  timing: <FieldTimeOutlined />,
  poses: <UserOutlined />,
  passes: <SwitcherOutlined />,
  filters: <FilterOutlined />,
  spaces: <ApartmentOutlined />,
  motion: <ThunderboltOutlined />,
  actions: <AppstoreOutlined />,
};

/** The groups of the work as a narrow column; the edits of one of them, or the one that is open; below them the history. */
export function EditsPanel() {
  const open = useBench((state) => state.openEdit);
  const opened = useBench((state) => state.opened);
  const [group, setGroup] = useState<EditGroup>('clean');
  const strokeFor = useStrokes();
  const edit = EDITS.find(({ id }) => id === open);
  useEffect(() => {
    if (!edit) return;
    setGroup(edit.group);
    noteUse(edit.id);
  }, [edit]);
  const Panel = (edit && PANELS[edit.id]) ?? GenericPanel;
  return (
    <aside className="edits" aria-label="Edits">
      <div className="edits-head">
        <h2>Edits</h2>
        <Button size="small" type="text" icon={<SearchOutlined />} onClick={() => findEdit()}>
          Find <kbd>{strokeFor('find')}</kbd>
        </Button>
      </div>
      <div className="edits-body">
        <nav className="edit-groups" aria-label="Groups of edits">
          {EDIT_GROUPS.map((name) => (
            <button
              key={name}
              type="button"
              aria-current={group === name}
              onClick={() => {
                bench.openEdit(null);
                setGroup(name);
              }}
            >
              {MARKS[name]}
              {name}
            </button>
          ))}
        </nav>
        <div className="edits-list">
          {edit ? (
            <div className="edit open" tabIndex={-1}>
              <button
                type="button"
                className="edit-title"
                aria-expanded
                title={`Leave (${strokeFor('escape')})`}
                onClick={() => bench.openEdit(null)}
              >
                {edit.title}
              </button>
              <Panel key={`${edit.id} ${opened}`} edit={edit} />
            </div>
          ) : (
            <GroupList group={group} />
          )}
        </div>
      </div>
      <HistoryList />
    </aside>
  );
}

/** The edits of a group, those that fit what is selected first; above them those that were used last. */
function GroupList({ group }: { readonly group: EditGroup }) {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const recent = useRecentEdits((state) => state.ids);
  const said = useMemo(() => actsOn(shot, selection), [shot, selection]);
  const rows = fittingFirst(
    EDITS.filter((edit) => edit.group === group),
    (edit) => missingFor(edit, said, shot),
  );
  const last = recent.flatMap((id) => EDITS.find((edit) => edit.id === id) ?? []);
  return (
    <>
      {last.length > 0 && (
        <div className="chips" role="group" aria-label="Used last">
          {last.map(({ id, title, summary }) => (
            <button
              key={id}
              type="button"
              className="chip"
              title={summary}
              onClick={() => bench.openEdit(id)}
            >
              {title}
            </button>
          ))}
        </div>
      )}
      <h3>{group}</h3>
      {rows.map(({ edit, missing }) => (
        <button
          key={edit.id}
          type="button"
          className={`edit-title${missing ? ' soft' : ''}`}
          aria-expanded={false}
          title={missing ? `${edit.summary} ${missing}` : edit.summary}
          onClick={() => bench.openEdit(edit.id)}
        >
          {edit.title}
        </button>
      ))}
      {group === 'actions' && <RoutinesDrawer />}
      {group === 'actions' && <PantryDrawer />}
    </>
  );
}

/** Posing is done by hand on the stage or with a value; the panel says how. */
function PosingHint() {
  const pass = useBench((state) =>
    state.session.shot.layers.find(({ id }) => id === state.session.selection.layer),
  );
  return (
    <p className="soft hint">
      {pass
        ? `“${pass.name}” is worked on: turn a control on the stage, or change a value under the figure, and it is keyed on the pass.`
        : 'Choose a pass in the lanes, then turn a control on the stage or change a value under the figure.'}
    </p>
  );
}

/** What is done in the stack's own rows; the panel says how. */
function StackHint({ edit }: { readonly edit: Edit }) {
  return (
    <p className="soft hint">
      {edit.summary} In the stack:{' '}
      {edit.id.endsWith('.move')
        ? 'carry the row by its grip.'
        : 'dial the number beside its name, drag its keys in the row, or double-click to make one.'}
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
