import { UserOutlined, VerticalAlignBottomOutlined } from '../../theme/icons.tsx';
import { Button, InputNumber, Select, Space } from 'antd';
import { useEffect } from 'react';
import { carrierAt } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { Field } from './field.tsx';
import { OptionForm } from './option-form.tsx';

const WHO = [
  ['control', 'What is thrown'],
  ['from', 'Thrown by'],
  ['to', 'Caught by'],
] as const;
const WHEN = [
  ['release', 'Let go at'],
  ['catch', 'Caught at'],
] as const;

/** Frames after the play-head at which it is caught until somebody says otherwise: a toss of 20 cm. */
const A_TOSS = 10;

/** Throw and catch: who throws what to whom, and when; the flight is drawn on the stage. */
export function AimPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit, guessed());
  const frame = useBench((state) => state.frame);
  const nodes = useBench((state) => state.session.shot.nodes);
  const [selected] = useBench((state) => state.session.selection.nodes);
  const key = JSON.stringify(options);
  useEffect(() => {
    bench.setFlight({
      edit: 'motion.aim',
      from: null,
      to: null,
      top: null,
      options: JSON.parse(key) as Record<string, unknown>,
    });
  }, [key]);
  useEffect(() => () => bench.setFlight(null), []);
  const set = (name: string, value: unknown) => {
    const pair = name === 'from' ? nodes.find(({ id }) => id === value)?.pair : null;
    setOptions({ ...options, [name]: value, ...(pair && pair !== value ? { to: pair } : {}) });
  };
  const controls = nodes
    .filter(({ channels }) => channels.length > 0)
    .map(({ id }) => ({ value: id, label: id }));
  const form = (
    <>
      {WHO.map(([name, title]) => (
        <Field key={name} label={title}>
          <Space.Compact size="small" block>
            <Select
              size="small"
              showSearch
              aria-label={title}
              placeholder="which"
              value={(options[name] as string | undefined) || undefined}
              options={controls}
              onChange={(value: string) => set(name, value)}
            />
            <Button
              size="small"
              icon={<UserOutlined />}
              aria-label={`${title}: what is selected`}
              title={
                selected === undefined ? 'Nothing is selected' : `${title}: ${selected}, which is selected`
              }
              disabled={selected === undefined || selected === options[name]}
              onClick={() => set(name, selected)}
            />
          </Space.Compact>
        </Field>
      ))}
      {WHEN.map(([name, title]) => (
        <Field key={name} label={title}>
          <Space.Compact size="small" block>
            <InputNumber
              size="small"
              aria-label={title}
              value={options[name] as number}
              step={1}
              onChange={(value) => value !== null && set(name, value)}
            />
            <Button
              size="small"
              icon={<VerticalAlignBottomOutlined />}
              aria-label={`${title}: the play-head`}
              title={`${title} the play-head, frame ${frame}`}
              disabled={options[name] === Math.round(frame)}
              onClick={() => set(name, Math.round(frame))}
            />
          </Space.Compact>
        </Field>
      ))}
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={[...WHO, ...WHEN].map(([name]) => name)}
      />
    </>
  );
  const missing = WHO.find(([name]) => !options[name]);
  if (missing)
    return (
      <>
        {form}
        <p className="soft hint">Say who throws what to whom: touch a control and take it over.</p>
      </>
    );
  return (
    <TriedPanel edit={edit} options={options}>
      {form}
    </TriedPanel>
  );
}

/** What is selected, and what carries it at the play-head: the other hand catches it. */
function guessed(): Record<string, unknown> {
  const { session, frame } = useBench.getState();
  const { shot, selection } = session;
  const release = Math.min(Math.round(frame), shot.range.end - 1);
  const times = { release, catch: Math.min(release + A_TOSS, shot.range.end) };
  const [control] = selection.nodes;
  if (control === undefined) return times;
  const from = carrierAt(shot, control, release);
  const to = from && shot.nodes.find(({ id }) => id === from)?.pair;
  return { ...times, control, ...(from ? { from } : {}), ...(to ? { to } : {}) };
}
