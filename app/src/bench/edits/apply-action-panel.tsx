import { App, Button, Checkbox, Dropdown, Input, InputNumber, Popover, Select } from 'antd';
import { useState } from 'react';
import { actionSchema } from '@kneader/core';
import type { ActionJson, MatchBy } from '@kneader/core';
import { ActionPicture } from '../../pantry/action-picture.tsx';
import { shownActions, WHOLE_PANTRY } from '../../pantry/pantry-list.ts';
import { useKeepActions, usePantry } from '../../store/action-queries.ts';
import { keptOf } from '../../store/changed-actions.ts';
import { storageProblem } from '../../store/storage.ts';
import type { PantryItem } from '../../store/pantry-record.ts';
import { figuresKey, NOTHING_SAID, useKeepSaidMapping, useSaidMapping } from '../../store/mapping-queries.ts';
import type { SaidMapping } from '../../store/mapping-queries.ts';
import { bench, useBench } from '../bench-store.ts';
import { MappingTable } from './mapping-table.tsx';
import { counted } from './numbers.ts';
import { ReportView } from './report-view.tsx';
import { Field } from './field.tsx';

/** How an action is laid, beside where. */
interface LayOptions {
  readonly as: 'keys' | 'block';
  readonly carryOn: boolean;
  readonly onlySelected: boolean;
  readonly match: MatchBy;
  readonly character: string | null;
  readonly heights: boolean;
  readonly flipped: boolean;
  /** Of limbs that hang on goals; laid as keys alone. */
  readonly limbs: 'goals' | 'joints' | 'leave';
  /** Whether feet that stood on another figure stand. */
  readonly feet: boolean;
  /** Of what is flipped: its way over the ground. */
  readonly path: 'mirrored' | 'kept';
}
const PLAIN: LayOptions = {
  as: 'keys',
  carryOn: false,
  onlySelected: false,
  match: 'names',
  character: null,
  heights: true,
  flipped: false,
  limbs: 'goals',
  feet: true,
  path: 'mirrored',
};

/** As it was chosen last, while the application is open. */
let remembered = PLAIN;

/** What is done from here. */
const LAID: ReadonlySet<string> = new Set([
  'actions.apply',
  'actions.place',
  'actions.blendPose',
  'actions.map',
  'actions.renew',
]);

const MATCHES: readonly { readonly value: MatchBy; readonly label: string }[] = [
  { value: 'names', label: 'by name' },
  { value: 'both', label: 'by name, then by structure' },
  { value: 'structure', label: 'by structure' },
];

const AS = [
  { value: 'keys', label: 'as keys' },
  { value: 'block', label: 'as a block' },
] as const;
const LIMBS = [
  { value: 'goals', label: 'key the goals' },
  { value: 'joints', label: 'switch to joints' },
  { value: 'leave', label: 'leave them' },
] as const;
const LAYS = { keys: 'actions.apply', block: 'actions.place' } as const;

/** The pantry on the bench: an action is dragged onto the lanes, or laid at the play-head. */
export function ApplyActionPanel() {
  const pantry = usePantry();
  const [options, setOptions] = useState(remembered);
  const characters = useBench((state) => state.session.shot.characters);
  const hasGoals = useBench((state) => state.session.shot.relations.some(({ kind }) => kind === 'reach'));
  const report = useBench((state) => (LAID.has(state.report?.edit ?? '') ? state.report!.report : null));
  const set = (change: Partial<LayOptions>) => setOptions((remembered = { ...options, ...change }));
  return (
    <div className="edit-body">
      <p className="soft summary">Drag an action onto the lanes; what it will cover shows before it lands.</p>
      <Field label="It is laid">
        <Select
          size="small"
          aria-label="It is laid"
          value={options.as}
          options={[...AS]}
          onChange={(as: 'keys' | 'block') => set({ as })}
        />
      </Field>
      <Field label="Match">
        <Select
          size="small"
          aria-label="Match"
          popupMatchSelectWidth={false}
          value={options.match}
          options={[...MATCHES]}
          onChange={(match: MatchBy) => set({ match })}
        />
      </Field>
      {characters.length > 1 && (
        <Field label="Onto">
          <Select
            size="small"
            aria-label="Onto"
            popupMatchSelectWidth={false}
            value={options.character ?? ''}
            options={[
              { value: '', label: 'whose joints they are' },
              ...characters.map(({ id, name }) => ({ value: id, label: name })),
            ]}
            onChange={(character: string) => set({ character: character || null })}
          />
        </Field>
      )}
      <Checkbox checked={options.heights} onChange={({ target }) => set({ heights: target.checked })}>
        Places go by the figures’ legs
      </Checkbox>
      {hasGoals && options.as === 'keys' && (
        <Field label="Limbs on goals" title="Where the action turns joints of a limb that its goal leads.">
          <Select
            size="small"
            aria-label="Limbs on goals"
            popupMatchSelectWidth={false}
            value={options.limbs}
            options={[...LIMBS]}
            onChange={(limbs: LayOptions['limbs']) => set({ limbs })}
          />
        </Field>
      )}
      <Checkbox checked={options.feet} onChange={({ target }) => set({ feet: target.checked })}>
        Feet stay put, on the floor
      </Checkbox>
      <Checkbox checked={options.carryOn} onChange={({ target }) => set({ carryOn: target.checked })}>
        It carries on from where the figure stands
      </Checkbox>
      <Checkbox checked={options.flipped} onChange={({ target }) => set({ flipped: target.checked })}>
        Flipped: left and right change places
      </Checkbox>
      {options.flipped && (
        <Checkbox
          checked={options.path === 'kept'}
          onChange={({ target }) => set({ path: target.checked ? 'kept' : 'mirrored' })}
        >
          Its way over the ground stays as it was
        </Checkbox>
      )}
      <Checkbox
        checked={options.onlySelected}
        onChange={({ target }) => set({ onlySelected: target.checked })}
      >
        Only on what is selected
      </Checkbox>
      {pantry.data?.length === 0 && <p className="soft">The pantry is empty: save an action first.</p>}
      {report && <ReportView report={report} tried={false} />}
      <PantryRows items={pantry.data ?? []} options={options} />
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
      <PantryRows items={pantry.data} options={PLAIN} />
    </section>
  );
}

/** So many are offered at once; with more of them they are sought. */
const MOST_ROWS = 20;

interface PantryRowsProps {
  readonly items: readonly PantryItem[];
  readonly options: LayOptions;
}

function PantryRows({ items, options }: PantryRowsProps) {
  const [sought, setSought] = useState('');
  const found = shownActions(items, { ...WHOLE_PANTRY, sought });
  return (
    <>
      {items.length > 6 && (
        <Input
          size="small"
          allowClear
          placeholder="Search the pantry"
          aria-label="Search the pantry"
          value={sought}
          onChange={({ target }) => setSought(target.value)}
        />
      )}
      <ul className="pantry-list" aria-label="Actions">
        {found.slice(0, MOST_ROWS).map((item) => (
          <PantryRow key={item.id} item={item} options={options} />
        ))}
      </ul>
      {found.length > MOST_ROWS && (
        <p className="soft">and {found.length - MOST_ROWS} more: search for them.</p>
      )}
    </>
  );
}

interface PantryRowProps {
  readonly item: PantryItem;
  readonly options: LayOptions;
}

/** An action in hand: dragged onto the lanes, or laid at the play-head. */
function PantryRow({ item, options }: PantryRowProps) {
  const frame = useBench((state) => state.frame);
  const nodes = useBench((state) => state.session.shot.nodes);
  const [looking, setLooking] = useState(false);
  const [touched, setTouched] = useState(false);
  const { skeleton } = item.action;
  const figures = figuresKey(
    skeleton?.bones.map(({ id }) => id) ?? [],
    nodes.filter(({ character }) => character === options.character).map(({ id }) => id),
  );
  const said = useSaidMapping(figures).data ?? NOTHING_SAID;
  const keep = useKeepSaidMapping(figures);
  const { as, limbs, ...how } = options;
  const laid = { ...how, ...said };
  const own = as === 'keys' ? { limbs } : { kept: keptOf(item) };
  return (
    <li
      draggable
      aria-label={item.action.name}
      onDragStart={(event) => {
        event.dataTransfer.effectAllowed = 'copy';
        event.dataTransfer.setData('text/plain', item.action.name);
        bench.setDragged({ item, edit: LAYS[as], options: { ...laid, ...own }, frame: null });
      }}
      onDragEnd={() => bench.setDragged(null)}
      onPointerEnter={() => setTouched(true)}
      onPointerLeave={() => setTouched(false)}
    >
      <ActionPicture of={item} label={item.action.name} moves={touched} />
      <span className="pantry-words">
        <b>{item.action.name}</b>
        <span className="soft" title={counted(Object.keys(item.action.curves).length, 'channel')}>
          {counted(Math.round(item.action.length), 'frame')}
        </span>
        {options.heights && said.times !== null && <span className="soft">places × {said.times}</span>}
        <Button
          size="small"
          onClick={() => bench.perform(LAYS[as], { action: item.action, frame, ...laid, ...own })}
        >
          {as === 'keys' ? 'Lay' : 'Place'} at {frame}
        </Button>
      </span>
      <span className="row-links">
        <Popover
          trigger="click"
          placement="left"
          title={`A pose of “${item.action.name}”`}
          content={<PoseOfAction action={item.action} options={laid} />}
        >
          <Button size="small" type="link">
            A pose …
          </Button>
        </Popover>
        <Button size="small" type="link" onClick={() => setLooking(true)}>
          What fits …
        </Button>
        <MoreOfAction item={item} options={laid} />
      </span>
      {looking && (
        <MappingTable
          action={item.action}
          by={options.match}
          character={options.character}
          heights={options.heights}
          said={said}
          onSay={keep.mutate}
          onClose={() => setLooking(false)}
        />
      )}
    </li>
  );
}

interface MoreOfActionProps {
  readonly item: PantryItem;
  readonly options: Omit<LayOptions, 'as' | 'limbs'> & SaidMapping;
}

/** What is done with an action beside laying it: kept as one of the figure here, or renewed where it is placed. */
function MoreOfAction({ item, options }: MoreOfActionProps) {
  const { action, folder, id } = item;
  const stored = useBench((state) => {
    const actions = state.session.shot.actions ?? [];
    return (
      actions.find(({ from }) => from?.kept?.id === id) ??
      actions.find(({ name, from }) => !from?.kept && name === action.name)
    );
  });
  const keep = useKeepActions();
  const { message, notification } = App.useApp();
  const { match, character, heights, times, feet, flipped, path, pairs } = options;
  const how = { action, match, character, heights, times, feet, flipped, path, pairs };
  const keepMapped = async () => {
    const { made } = bench.perform('actions.map', how);
    if (made === undefined) return;
    try {
      const mapped = actionSchema.parse(made);
      const [kept] = await keep.mutateAsync([{ action: mapped, folder, sameName: 'beside' }]);
      if (kept)
        message.info(
          kept.how === 'known' ? `It is there already, as “${kept.name}”.` : `Kept as “${kept.name}”.`,
          6,
        );
    } catch (error) {
      notification.error({ title: 'It was not kept', description: storageProblem(error), duration: 0 });
    }
  };
  return (
    <Dropdown
      autoFocus
      trigger={['click']}
      menu={{
        items: [
          { key: 'map', label: 'Keep it as this figure’s own' },
          ...(stored ? [{ key: 'renew', label: 'Renew it where it is placed' }] : []),
        ],
        onClick: ({ key }) => {
          if (key === 'map') void keepMapped();
          else if (stored) bench.perform('actions.renew', { ...how, stored: stored.id, kept: keptOf(item) });
        },
      }}
    >
      <Button size="small" type="link" aria-label={`More of ${action.name}`}>
        More
      </Button>
    </Dropdown>
  );
}

interface PoseOfActionProps {
  readonly action: ActionJson;
  readonly options: Omit<LayOptions, 'as' | 'limbs' | 'feet'> & SaidMapping;
}

/** What the action shows at one of its frames, set or blended in at the play-head for what is selected. */
function PoseOfAction({ action, options }: PoseOfActionProps) {
  const frame = useBench((state) => state.frame);
  const [at, setAt] = useState(0);
  const [percent, setPercent] = useState(100);
  const { match, character, heights, times, flipped, pairs } = options;
  return (
    <div className="pose-of-action">
      <Field label="Its frame">
        <InputNumber
          size="small"
          aria-label="Its frame"
          min={0}
          max={Math.round(action.length)}
          value={at}
          onChange={(value) => setAt(value ?? 0)}
        />
      </Field>
      <Field label="Amount, %">
        <InputNumber
          size="small"
          aria-label="Amount, %"
          min={-200}
          max={300}
          step={10}
          value={percent}
          onChange={(value) => setPercent(value ?? 100)}
        />
      </Field>
      <Button
        size="small"
        type="primary"
        onClick={() =>
          bench.perform('actions.blendPose', {
            ...{ action, at, frame, amount: percent / 100 },
            ...{ match, character, heights, times, flipped, pairs },
          })
        }
      >
        Blend in at {frame}
      </Button>
    </div>
  );
}
