import { Button, Checkbox, Input } from 'antd';
import { contextOf, isFilter, kindOf, LAYER_KINDS, leftSliding, stackOf } from '@kneader/core';
import type { Edit, Layer } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { FilterChoice, useDialledFilter } from './filter-choice.tsx';
import { initialOptions } from './option-fields.ts';
import { OptionForm } from './option-form.tsx';
import { openWeight } from '../lanes/layer-edits.ts';
import { RangeFields } from './range-fields.tsx';
import { ReportView } from './report-view.tsx';
import { useDialling } from './use-dialling.ts';
import { Field } from './field.tsx';

const FILTERS = LAYER_KINDS.filter(isFilter);

/** A new filter: what it is, its settings, and where it counts, tried live. */
export function AddFilterPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const marked = useBench((state) => state.session.selection.range);
  const kind = FILTERS.find((one) => one.kind === options['kind']) ?? FILTERS[0]!;
  const settings = { ...initialOptions(kind.settings), ...kind.fresh, ...(options['settings'] as object) };
  const confined = options['bookends'] !== null && options['bookends'] !== undefined;
  return (
    <TriedPanel edit={edit} options={options}>
      <div className="filter-kinds" role="radiogroup" aria-label="Kind">
        {FILTERS.map(({ kind: value, title, summary }) => (
          <button
            key={value}
            type="button"
            role="radio"
            aria-checked={value === kind.kind}
            className={`chip${value === kind.kind ? ' on' : ''}`}
            title={summary}
            onClick={() => setOptions({ ...options, kind: value, settings: {} })}
          >
            {title}
          </button>
        ))}
      </div>
      <p className="soft">{kind.summary}</p>
      <OptionForm
        schema={kind.settings}
        options={settings}
        onChange={(next) => setOptions({ ...options, settings: next })}
      />
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={['kind', 'settings', ...(confined ? [] : ['ramps'])]}
      />
      <Checkbox
        checked={confined}
        disabled={!marked && !confined}
        onChange={({ target }) => setOptions({ ...options, bookends: target.checked ? marked : null })}
      >
        Bookends at the marked range
        {marked ? `, ${marked.start}–${marked.end}` : ' (Shift-drag on the ruler)'}
      </Checkbox>
    </TriedPanel>
  );
}

/** What the chosen filter does, turned while it plays; the controls that it leaves out, added at a touch. */
export function SetFilterPanel({ edit }: { readonly edit: Edit }) {
  const filter = useDialledFilter();
  const shot = useBench((state) => state.session.shot);
  const report = useBench((state) => (state.report?.edit === edit.id ? state.report.report : null));
  const turn = useDialling(edit.id, `Turn ${filter?.name ?? 'filter'}`);
  const kind = filter && kindOf(filter);
  const sliding = filter ? leftSliding(shot, filter) : [];
  const set = (change: object) => filter && bench.perform(edit.id, { filter: filter.id, ...change });
  return (
    <div className="edit-body">
      <FilterChoice filter={filter} />
      {filter && (
        <>
          <p className="soft">
            {kind
              ? kind.summary
              : `Of a kind that this version does not know (“${filter.kind}”): kept as it is, and off.`}
          </p>
          <p className="acts-on">{actsOnWords(filter, shot)}</p>
          {kind && (
            <OptionForm
              schema={kind.settings}
              options={filter.settings}
              onChange={(next) => turn({ filter: filter.id, settings: next })}
            />
          )}
          <RangeFields
            range={filter.range}
            disabled={filter.locked}
            onChange={(range) => turn({ filter: filter.id, range })}
          />
          <Field label="Name">
            <Input
              key={filter.id + filter.name}
              size="small"
              aria-label="Name"
              defaultValue={filter.name}
              maxLength={60}
              onBlur={({ target }) => {
                const name = target.value.trim();
                if (name !== '' && name !== filter.name) set({ name });
              }}
            />
          </Field>
          {sliding.length > 0 && (
            <div className="finding">
              Sliding while the rest holds: {sliding.slice(0, 6).join(', ')}
              {sliding.length > 6 && ` and ${sliding.length - 6} more`}.{' '}
              <Button
                size="small"
                onClick={() => bench.perform('filters.members', { filter: filter.id, change: 'addLeftOut' })}
              >
                Add {sliding.length === 1 ? 'it' : 'them'}
              </Button>
            </div>
          )}
          <div className="edit-foot">
            <Button size="small" onClick={() => bench.openEdit('filters.bake')}>
              Bake …
            </Button>
            <Button size="small" onClick={() => openWeight(filter, null)}>
              Strength as a curve
            </Button>
            <Button size="small" onClick={() => bench.openEdit('filters.members')}>
              Members …
            </Button>
          </div>
        </>
      )}
      {report && report.status === 'refused' && <ReportView report={report} tried={false} />}
    </div>
  );
}

/** How much a filter works on. */
function actsOnWords(filter: Layer, shot: Parameters<typeof stackOf>[0]): string {
  const { levels, top } = stackOf(shot);
  const at = levels.findIndex(({ layer }) => layer.id === filter.id);
  const controls = `${filter.members.length} ${filter.members.length === 1 ? 'control' : 'controls'}`;
  if (at < 0) return `${controls}; it does not count now.`;
  const { below } = levels[at]!;
  const above = levels[at + 1]?.below ?? top;
  const changed = contextOf(shot).rig.channels.filter((_, c) => above[c] !== below[c]).length;
  return `${changed} ${changed === 1 ? 'channel' : 'channels'} of ${controls}.`;
}
