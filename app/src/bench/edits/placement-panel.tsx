import { Button, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { evaluate, isBlock, isKeyedWeight } from '@kneader/core';
import type { Edit, Layer, PlacementSettings } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { openWeight } from '../lanes/layer-edits.ts';
import { useChosenBlock } from './chosen-block.ts';
import { OptionForm } from './option-form.tsx';
import { ReportView } from './report-view.tsx';
import { Field } from './field.tsx';

/** What was said last by any edit on placements. */
const SAID: ReadonlySet<string> = new Set([
  'actions.setPlacement',
  'actions.movePlacement',
  'actions.cross',
  'actions.toKeys',
  'filters.setStrength',
]);

/** Which placement the panel is about, and another one by its name. */
export function BlockChoice({ block }: { readonly block: Layer | null }) {
  const blocks = useBench((state) => state.session.shot.layers).filter(isBlock);
  if (!block)
    return (
      <p className="soft hint">
        No action is placed yet: open “Apply action”, choose “as a block”, and drag one onto the lanes.
      </p>
    );
  return (
    <Field label="Placement">
      <Select
        size="small"
        aria-label="Placement"
        value={block.id}
        options={[...blocks].reverse().map(({ id, name }) => ({ value: id, label: name }))}
        onChange={bench.chooseFilter}
      />
    </Field>
  );
}

/** All that can be said of a placement; what is dragged in its row is said here in numbers. */
export function PlacementPanel({ edit }: { readonly edit: Edit }) {
  const block = useChosenBlock();
  const chosen = useBench((state) => state.session.selection);
  const report = useBench((state) => (SAID.has(state.report?.edit ?? '') ? state.report!.report : null));
  // How the next stretching goes: nothing of the block.
  const [stays, setStays] = useState('start');
  if (!block) return <BlockChoice block={null} />;
  const { factor, from, to, repeats, backward, adds, goesOn, carriesOn, rotations } =
    block.settings as PlacementSettings;
  const values = {
    stretch: factor,
    stays,
    from,
    to,
    repeats,
    backward,
    adds,
    goesOn,
    carriesOn,
    rotations,
    ...block.range,
  };
  const set = (change: object) => bench.perform(edit.id, { placement: block.id, ...change });
  const percent = Math.round(100 * evaluate(block.weight, block.range?.start ?? 0, 1));
  const any = chosen.nodes.length > 0 || chosen.channels.length > 0;
  return (
    <div className="edit-body">
      <BlockChoice block={block} />
      <p className="acts-on">
        {block.members.length} {block.members.length === 1 ? 'control' : 'controls'}, frames{' '}
        {tidy(block.range?.start)} to {tidy(block.range?.end)}.
      </p>
      <OptionForm
        schema={edit.options}
        options={values}
        without={['placement', 'weight', 'parts']}
        onChange={(next) => {
          const [name, value] =
            Object.entries(next).find(([key, one]) => one !== values[key as keyof typeof values]) ?? [];
          if (name === 'stays') setStays(String(value));
          else if (name !== undefined) set({ [name]: value, stays });
        }}
      />
      <Field label="Weight">
        <InputNumber
          key={`${block.id} ${percent}`}
          size="small"
          aria-label="Weight"
          min={0}
          max={200}
          step={5}
          suffix="%"
          defaultValue={percent}
          disabled={block.locked || isKeyedWeight(block.weight)}
          onBlur={({ target }) => {
            const typed = Number(target.value.replace(',', '.'));
            if (Number.isFinite(typed) && typed !== percent) set({ weight: typed / 100 });
          }}
          onPressEnter={({ currentTarget }) => currentTarget.blur()}
        />
      </Field>
      <div className="edit-foot">
        <Button size="small" disabled={!any} onClick={() => set({ parts: 'selected' })}>
          Only what is selected
        </Button>
        <Button size="small" onClick={() => set({ parts: 'all' })}>
          All of it
        </Button>
      </div>
      <Crossing block={block} />
      <div className="edit-foot">
        <Button size="small" onClick={() => bench.perform('actions.toKeys', { placement: block.id })}>
          Turn to keys
        </Button>
        <Button size="small" onClick={() => openWeight(block, null)}>
          Weight as a curve
        </Button>
      </div>
      {report && <ReportView report={report} tried={false} />}
    </div>
  );
}

/** The one before gives way to this one over some frames. */
function Crossing({ block }: { readonly block: Layer }) {
  const [frames, setFrames] = useState<number | null>(8);
  const before = useBench((state) =>
    state.session.shot.layers.find((one) => isBlock(one) && one.settings['crosses'] === block.id),
  );
  return (
    <>
      <Field label="Crosses over">
        <InputNumber
          size="small"
          aria-label="Crosses over"
          min={1}
          max={10000}
          value={frames}
          suffix="frames"
          onChange={setFrames}
        />
      </Field>
      <div className="edit-foot">
        <Button
          size="small"
          title="It moves so that it comes in while the one before it goes out"
          onClick={() => bench.perform('actions.cross', { placement: block.id, frames })}
        >
          Cross with the one before
        </Button>
        {before && (
          <Button
            size="small"
            type="link"
            onClick={() =>
              bench.perform('actions.cross', { placement: block.id, before: before.id, frames: 0 })
            }
          >
            {before.name} gives way: undo
          </Button>
        )}
      </div>
    </>
  );
}

const tidy = (frame: number | undefined) => Math.round((frame ?? 0) * 100) / 100;
