import { EllipsisOutlined, PlusOutlined } from '../../theme/icons.tsx';
import { Button, Form, Input, Popover, Select, Space } from 'antd';
import { useState } from 'react';
import { membersOf, selectionSetsOf } from '@kneader/core';
import type { SelectionSet } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';

/** Controls that are kept together, as chips: touched, they are selected; with Shift added. The one that is selected can be changed. */
export function SelectionSets() {
  const shot = useBench((state) => state.session.shot);
  const selected = useBench((state) => state.session.selection.nodes);
  const [open, setOpen] = useState<string | null>(null);
  const chosen = new Set(selected);
  const sets = selectionSetsOf(shot).map((set) => ({ set, members: membersOf(shot, set) }));
  if (sets.length === 0 && selected.length === 0) return null;
  return (
    <div className="chip-group" role="group" aria-label="Selection sets">
      {sets.map(({ set, members }) => {
        const all = members.length > 0 && members.every((id) => chosen.has(id));
        return (
          <span key={set.id} className="set-chip">
            <button
              type="button"
              className={`chip${all ? ' on' : ''}`}
              aria-pressed={all}
              disabled={members.length === 0}
              title={`${set.name}: ${members.length} of ${set.nodes.length} controls${set.digit === undefined ? '' : ` (Shift ${set.digit})`}`}
              onClick={(event) => bench.selectNodes(members, event.shiftKey)}
            >
              {set.name}
              {set.digit !== undefined && <kbd aria-hidden>{set.digit}</kbd>}
            </button>
            {all && (
              <SetPopover
                set={set}
                label={`Change the set ${set.name}`}
                icon={<EllipsisOutlined />}
                isOpen={open === set.id}
                onOpen={(is) => setOpen(is ? set.id : null)}
              />
            )}
          </span>
        );
      })}
      {selected.length > 0 && (
        <SetPopover
          set={null}
          label="Keep what is selected as a set"
          icon={<PlusOutlined />}
          isOpen={open === ''}
          onOpen={(is) => setOpen(is ? '' : null)}
        />
      )}
    </div>
  );
}

interface SetPopoverProps {
  /** null makes one. */
  readonly set: SelectionSet | null;
  readonly label: string;
  readonly icon: React.ReactNode;
  readonly isOpen: boolean;
  readonly onOpen: (is: boolean) => void;
}

function SetPopover({ set, label, icon, isOpen, onOpen }: SetPopoverProps) {
  return (
    <Popover
      trigger="click"
      destroyOnHidden
      placement="rightTop"
      open={isOpen}
      onOpenChange={onOpen}
      title={set ? 'Selection set' : 'New selection set'}
      content={<SetForm set={set} done={() => onOpen(false)} />}
    >
      <button type="button" className="chip" aria-label={label} title={label}>
        {icon}
      </button>
    </Popover>
  );
}

interface SetValues {
  readonly name?: string;
  readonly digit: number | undefined;
}

const DIGITS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map((digit) => ({
  value: digit,
  label: digit === 0 ? 'No digit' : `Shift ${digit}`,
}));

function SetForm({ set, done }: { readonly set: SelectionSet | null; readonly done: () => void }) {
  const [problem, setProblem] = useState<string | null>(null);
  const save = (options: object) => {
    const { report } = bench.perform('sets.save', { ...(set && { set: set.id }), ...options });
    if (report.status === 'refused') setProblem(report.findings[0]?.sentence ?? null);
    else done();
  };
  return (
    <Form<SetValues>
      size="small"
      layout="vertical"
      className="set-form"
      initialValues={{ name: set?.name ?? '', digit: set ? (set.digit ?? 0) : undefined }}
      onFinish={({ name, digit }) =>
        save({ ...(name?.trim() && { name: name.trim() }), ...(digit !== undefined && { digit }) })
      }
    >
      <Form.Item name="name" label="Name">
        <Input autoFocus maxLength={60} placeholder={set ? set.name : 'As it comes'} />
      </Form.Item>
      <Form.Item name="digit" label="Chosen by">
        <Select options={DIGITS} placeholder="The first free digit" />
      </Form.Item>
      {problem !== null && (
        <p role="alert" className="set-problem">
          {problem}
        </p>
      )}
      <Space size={6}>
        <Button type="primary" htmlType="submit">
          {set ? 'Save' : 'Keep'}
        </Button>
        {set && (
          <>
            <Button onClick={() => save({ refill: true })}>As selected now</Button>
            <Button
              danger
              onClick={() => {
                bench.perform('sets.remove', { set: set.id });
                done();
              }}
            >
              Remove
            </Button>
          </>
        )}
      </Space>
    </Form>
  );
}
