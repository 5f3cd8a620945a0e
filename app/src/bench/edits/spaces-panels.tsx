import { Select } from 'antd';
import { useState } from 'react';
import { curveOf, relationKindOf, relationWords, spansOf, targetName } from '@kneader/core';
import type { Edit, Relation, Shot } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { ControlsSelect } from './controls-select.tsx';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { OptionForm } from './option-form.tsx';
import { Field } from './field.tsx';

/** Which relations an edit is for. */
const FITS: Readonly<Record<string, (relation: Relation) => boolean>> = {
  'spaces.switch': (relation) => relation.switch !== null,
  'spaces.moveSwitch': (relation) => relation.switch !== null,
  'spaces.match': (relation) => relation.switch !== null,
  'spaces.toJoints': ({ kind }) => kind === 'reach',
  'spaces.matchLimb': ({ kind }) => kind === 'reach',
};

/** Settings that say of which nodes a relation is made, or that were measured: they are not turned by hand. */
const WIRING = ['root', 'middle', 'pole', 'tip', 'upNode', 'offset'];

/** An edit of a relation: which one, to which of its targets, and the rest of its options. */
export function RelationPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const shot = useBench((state) => state.session.shot);
  const relations = shot.relations.filter(
    (relation) => relationKindOf(relation) && (FITS[edit.id]?.(relation) ?? true),
  );
  const nodes = useBench((state) => state.session.selection.nodes);
  const frame = useBench((state) => state.frame);
  const [chosen, setChosen] = useState<string | null>(null);
  const relation =
    relations.find(({ id }) => id === chosen) ??
    relations.find(
      ({ node, targets }) =>
        nodes.includes(node) || targets.some((target) => nodes.includes(target.node ?? '')),
    ) ??
    relations[0];
  if (!relation)
    return (
      <div className="edit-body">
        <p className="soft summary">{edit.summary}</p>
        <p className="soft hint">
          {edit.id === 'spaces.toJoints' || edit.id === 'spaces.matchLimb'
            ? 'No limb of this shot reaches: “Add goals” makes them.'
            : FITS[edit.id]
              ? 'Nothing in this shot switches what it follows: “Add relation” with several targets makes it.'
              : 'This shot has no relations: “Add relation” makes one.'}
        </p>
      </div>
    );
  // A switch is moved to the play-head; the nearest one, until another is said.
  const nearest = 'from' in edit.options.shape ? nearestSwitch(shot, relation, frame) : null;
  // Which relation is meant is found: once one is gone or switched, the next that fits is not tried by itself.
  const known = {
    relation: relation.id,
    ...('frame' in edit.options.shape && { frame: Math.round(frame) }),
    ...(nearest !== null && !('from' in options) && { from: nearest }),
  };
  return (
    <TriedPanel key={chosen} edit={edit} options={options} known={known}>
      <Field label="Relation">
        <Select
          size="small"
          aria-label="Relation"
          popupMatchSelectWidth={false}
          value={relation.id}
          options={relations.map((one) => ({ value: one.id, label: relationWords(one) }))}
          onChange={(id: string) => {
            setChosen(id);
            // What was set was of the other one.
            if ('settings' in edit.options.shape) setOptions({ ...options, settings: null, add: [] });
          }}
        />
      </Field>
      {'to' in edit.options.shape && edit.id !== 'spaces.matchLimb' && (
        <Field label="To">
          <Select
            size="small"
            aria-label="To"
            value={(options['to'] as number | undefined) ?? 0}
            options={relation.targets.map((target, at) => ({ value: at, label: targetName(target) }))}
            onChange={(to: number) => setOptions({ ...options, to })}
          />
        </Field>
      )}
      {'add' in edit.options.shape && (
        <Field label="Targets more">
          <ControlsSelect
            label="Targets more"
            world
            value={(options['add'] as string[] | undefined) ?? []}
            onChange={(add) => setOptions({ ...options, add })}
          />
        </Field>
      )}
      {'settings' in edit.options.shape && (
        <OptionForm
          schema={relationKindOf(relation)!.settings}
          options={{ ...relation.settings, ...(options['settings'] as object | null) }}
          onChange={(settings) => setOptions({ ...options, settings })}
          without={WIRING}
        />
      )}
      <OptionForm
        schema={edit.options}
        options={{ ...known, ...options }}
        onChange={setOptions}
        without={['relation', 'add', 'settings', 'frame', ...(edit.id === 'spaces.matchLimb' ? [] : ['to'])]}
      />
    </TriedPanel>
  );
}

/** The frame of the switch that is nearest to the play-head; null where it does not switch. */
function nearestSwitch(shot: Shot, relation: Relation, frame: number): number | null {
  if (relation.switch === null) return null;
  const starts = spansOf(curveOf(shot, null, relation.switch), shot.range).map(({ start }) => start);
  const away = (start: number) => Math.abs(start - frame);
  return starts.slice(1).sort((a, b) => away(a) - away(b))[0] ?? null;
}

/** What the selected controls shall go by: each target is named; the one that was selected last is offered. */
export function AddRelationPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const targets = (options['targets'] as string[] | undefined) ?? [];
  const frame = useBench((state) => state.frame);
  return (
    <TriedPanel edit={edit} options={options} known={{ frame: Math.round(frame) }}>
      <Field label="What">
        <ControlsSelect
          label="What"
          world
          value={targets}
          onChange={(next) => setOptions({ ...options, targets: next })}
        />
      </Field>
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={['targets', 'frame', ...(targets.length < 2 ? ['several'] : [])]}
      />
    </TriedPanel>
  );
}

/** A control that stands above others is dissolved. */
export function DissolvePanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const nodes = useBench((state) => state.session.shot.nodes);
  const selected = useBench((state) => state.session.selection.nodes);
  const free = nodes.filter(({ kind, solids }) => kind === 'control' && solids.length === 0);
  const control =
    (options['control'] as string | undefined) ?? free.findLast(({ id }) => selected.includes(id))?.id;
  return (
    <div className="edit-body">
      <Field label="Control">
        <Select
          size="small"
          aria-label="Control"
          placeholder="choose one"
          value={control}
          options={free.map(({ id }) => ({ value: id, label: id }))}
          onChange={(next: string) => setOptions({ ...options, control: next })}
        />
      </Field>
      {control !== undefined && (
        <TriedPanel edit={edit} options={options} known={{ control }}>
          <OptionForm schema={edit.options} options={options} onChange={setOptions} without={['control']} />
        </TriedPanel>
      )}
    </div>
  );
}
