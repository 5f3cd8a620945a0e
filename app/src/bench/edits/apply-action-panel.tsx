import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import type { Edit } from '@kneader/core';
import { FilmPicture } from '../../drawing/film-picture.tsx';
import { usePantry } from '../../store/action-queries.ts';
import type { PantryItem } from '../../store/action-queries.ts';
import { bench, useBench } from '../bench-store.ts';
import { ReportView } from './report-view.tsx';

/** The pantry on the bench: an action is dragged onto the lanes, or laid at the play-head. */
export function ApplyActionPanel({ edit }: { readonly edit: Edit }) {
  const pantry = usePantry();
  const [carryOn, setCarryOn] = useState(false);
  const [onlySelected, setOnlySelected] = useState(false);
  const report = useBench((state) => (state.report?.edit === edit.id ? state.report.report : null));
  return (
    <div className="edit-body">
      <p className="soft summary">Drag an action onto the lanes; what it will cover shows before it lands.</p>
      <Checkbox checked={carryOn} onChange={(event) => setCarryOn(event.target.checked)}>
        The root carries on from where it stands
      </Checkbox>
      <Checkbox checked={onlySelected} onChange={(event) => setOnlySelected(event.target.checked)}>
        Only on what is selected
      </Checkbox>
      {pantry.data?.length === 0 && <p className="soft">The pantry is empty: save an action first.</p>}
      <ul className="pantry-list" aria-label="Actions">
        {pantry.data?.map((item) => (
          <PantryRow key={item.id} item={item} options={{ carryOn, onlySelected }} />
        ))}
      </ul>
      {report && <ReportView report={report} tried={false} />}
    </div>
  );
}

/** The pantry as a drawer beside the edits: whatever is in it can be dragged at once. */
export function PantryDrawer() {
  const pantry = usePantry();
  if (!pantry.data || pantry.data.length === 0) return null;
  return (
    <section className="pantry-drawer" aria-label="Pantry">
      <h3>pantry: drag onto the lanes</h3>
      <ul className="pantry-list">
        {pantry.data.map((item) => (
          <PantryRow key={item.id} item={item} options={PLAIN} />
        ))}
      </ul>
    </section>
  );
}
const PLAIN = { carryOn: false, onlySelected: false };

interface PantryRowProps {
  readonly item: PantryItem;
  readonly options: { readonly carryOn: boolean; readonly onlySelected: boolean };
}

/** An action in hand: dragged onto the lanes, or laid at the play-head. */
function PantryRow({ item, options }: PantryRowProps) {
  const frame = useBench((state) => state.frame);
  return (
    <li
      draggable
      aria-label={item.action.name}
      onDragStart={(event) => {
        event.dataTransfer.effectAllowed = 'copy';
        event.dataTransfer.setData('text/plain', item.action.name);
        bench.setDragged({ item, options, frame: null });
      }}
      onDragEnd={() => bench.setDragged(null)}
    >
      <FilmPicture film={item.film} label={item.action.name} />
      <span className="pantry-words">
        <b>{item.action.name}</b>
        <span className="soft">
          {Math.round(item.action.length)} frames, {Object.keys(item.action.curves).length} channels
        </span>
        <Button
          size="small"
          onClick={() => bench.perform('actions.apply', { action: item.action, frame, ...options })}
        >
          Lay at {frame}
        </Button>
      </span>
    </li>
  );
}
