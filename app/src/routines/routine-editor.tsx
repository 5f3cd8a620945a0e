import { CaretDownOutlined, CaretRightOutlined, DeleteOutlined, HolderOutlined } from '../theme/icons.tsx';
import { closestCenter, DndContext } from '@dnd-kit/core';
import type { DragEndEvent } from '@dnd-kit/core';
import { arrayMove, SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { dequal } from 'dequal/lite';
import { App, Button, Drawer, Input, Select } from 'antd';
import { useState } from 'react';
import { EDIT_GROUPS, EDITS, findEdit, ROUTINE_VERSION, roleWords } from '@kneader/core';
import type { Routine, RoutineStep } from '@kneader/core';
import { initialOptions } from '../bench/edits/option-fields.ts';
import { OptionForm } from '../bench/edits/option-form.tsx';
import { Field } from '../bench/edits/field.tsx';
import { useCarrySensors } from '../bench/lanes/use-carry-sensors.ts';
import type { StoredRoutine } from '../store/routine-queries.ts';
import { useSaveRoutine } from './use-save-routine.ts';
import { ON_CHOICES } from './on-words.ts';
// The fields of edits look as they do on the bench.
import '../bench/bench.css';

interface RoutineEditorProps {
  /** null begins an empty one. */
  readonly opened: StoredRoutine | null;
  readonly onClose: () => void;
}

/** A step with an id of its own, by which it is carried. */
type Row = RoutineStep & { readonly row: string };

const NOTHING_RECORDED = { nodes: [], channels: [], range: null, pass: null };
const EMPTY: Routine = {
  format: 'kneader-routine',
  version: ROUTINE_VERSION,
  name: '',
  notes: '',
  steps: [],
};

/** A routine step by step: read, carried to another place, set up with the options that its edits have, begun from nothing. */
export function RoutineEditor({ opened, onClose }: RoutineEditorProps) {
  const begun = opened?.routine ?? EMPTY;
  const [name, setName] = useState(begun.name);
  const [notes, setNotes] = useState(begun.notes);
  const [rows, setRows] = useState<readonly Row[]>(() =>
    begun.steps.map((step) => ({ ...step, row: crypto.randomUUID() })),
  );
  const [open, setOpen] = useState<string | null>(null);
  const sensors = useCarrySensors();
  const saving = useSaveRoutine();
  const { modal } = App.useApp();
  const set = (row: string, change: Partial<RoutineStep>) =>
    setRows(rows.map((one) => (one.row === row ? { ...one, ...change } : one)));
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    const at = (row: unknown) => rows.findIndex((one) => one.row === row);
    setRows(arrayMove([...rows], at(active.id), at(over.id)));
  };
  const add = (edit: string) => {
    const row = crypto.randomUUID();
    setRows([
      ...rows,
      {
        row,
        edit,
        options: initialOptions(findEdit(edit)!.options),
        on: 'selection',
        recorded: NOTHING_RECORDED,
        made: [],
      },
    ]);
    setOpen(row);
  };
  const now: Routine = {
    ...begun,
    name: name.trim(),
    notes,
    steps: rows.map(({ row: _, ...step }) => step),
  };
  const save = async () => {
    if (await saving.save(now, opened ?? undefined)) onClose();
  };
  /** What was done by hand is never lost without a question. */
  const leave = () => {
    if (dequal(now, begun)) return onClose();
    modal.confirm({
      title: 'Leave without saving?',
      content: 'What was changed here is lost then.',
      okText: 'Leave',
      cancelText: 'Stay',
      onOk: onClose,
    });
  };
  const isWhole = name.trim() !== '' && rows.length > 0;
  return (
    <Drawer
      open
      size={520}
      title={opened ? `Change “${begun.name}”` : 'New routine'}
      onClose={leave}
      footer={
        <div className="card-foot">
          <Button type="primary" disabled={!isWhole} loading={saving.isSaving} onClick={() => void save()}>
            Save
          </Button>
          <Button onClick={leave}>Leave</Button>
          {!isWhole && (
            <span className="soft">{name.trim() === '' ? 'It needs a name.' : 'It needs a step.'}</span>
          )}
        </div>
      }
    >
      <Field label="Name" wide>
        <Input
          size="small"
          aria-label="Name of the routine"
          maxLength={80}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
      </Field>
      <Field label="What for" wide>
        <Input.TextArea
          autoSize
          size="small"
          aria-label="What it is for"
          maxLength={2000}
          value={notes}
          onChange={({ target }) => setNotes(target.value)}
        />
      </Field>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        // Steps are carried past each other by their heads.
        onDragStart={() => setOpen(null)}
        onDragEnd={drop}
      >
        <SortableContext items={rows.map(({ row }) => row)} strategy={verticalListSortingStrategy}>
          <ol className="routine-editor" aria-label="Steps">
            {rows.map((step, i) => (
              <StepRow
                key={step.row}
                {...{ step }}
                place={i + 1}
                isOpen={open === step.row}
                onOpen={(is) => setOpen(is ? step.row : null)}
                onChange={(change) => set(step.row, change)}
                onRemove={() => setRows(rows.filter((one) => one.row !== step.row))}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <Select
        showSearch={{ filterOption: matches }}
        className="add-step"
        aria-label="Add an edit"
        placeholder="Add an edit"
        value={null}
        options={GROUPS}
        onChange={(edit: string | null) => edit !== null && add(edit)}
      />
    </Drawer>
  );
}

const GROUPS = EDIT_GROUPS.map((group) => ({
  label: group,
  options: EDITS.filter((edit) => edit.group === group).map(({ id, title, words }) => ({
    value: id,
    label: title,
    words: `${title} ${words}`.toLowerCase(),
  })),
}));

function matches(text: string, option?: unknown): boolean {
  const { words = '' } = (option ?? {}) as { words?: string };
  return words.includes(text.toLowerCase());
}

interface StepRowProps {
  readonly step: Row;
  readonly place: number;
  readonly isOpen: boolean;
  readonly onOpen: (is: boolean) => void;
  readonly onChange: (change: Partial<RoutineStep>) => void;
  readonly onRemove: () => void;
}

function StepRow({ step, place, isOpen, onOpen, onChange, onRemove }: StepRowProps) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id: step.row,
  });
  const edit = findEdit(step.edit);
  const title = edit?.title ?? step.edit;
  const roles = step.recorded.roles ?? [];
  return (
    <li ref={setNodeRef} style={{ transform: CSS.Translate.toString(transform), transition }}>
      <div className="routine-step">
        <button
          type="button"
          ref={setActivatorNodeRef}
          className="icon lane-grip"
          {...attributes}
          {...listeners}
          aria-label={`Move step ${place}, ${title}`}
        >
          <HolderOutlined />
        </button>
        <button
          type="button"
          className="icon"
          aria-expanded={isOpen}
          aria-label={`Options of step ${place}, ${title}`}
          onClick={() => onOpen(!isOpen)}
        >
          {isOpen ? <CaretDownOutlined /> : <CaretRightOutlined />}
        </button>
        <b>
          {place}. {title}
        </b>
        <Select
          size="small"
          aria-label={`Step ${place}, on what`}
          popupMatchSelectWidth={false}
          value={step.on}
          options={ON_CHOICES.filter(({ value }) => value !== 'roles' || roles.length > 0)}
          onChange={(on) => onChange({ on })}
        />
        <button
          type="button"
          className="icon"
          aria-label={`Remove step ${place}, ${title}`}
          onClick={onRemove}
        >
          <DeleteOutlined />
        </button>
      </div>
      {isOpen && (
        <div className="routine-options edit-body">
          {edit === null ? (
            <p className="refusal">This version has no edit of this name.</p>
          ) : (
            <>
              <p className="soft">{edit.summary}</p>
              {roles.length > 0 && <p className="soft">Recorded on: {roles.map(roleWords).join(', ')}.</p>}
              <OptionForm
                schema={edit.options}
                // What is left out is as it usually is.
                options={{ ...initialOptions(edit.options), ...step.options }}
                onChange={(options) => onChange({ options })}
              />
            </>
          )}
        </div>
      )}
    </li>
  );
}
