import { Button, InputNumber, Select, Space } from 'antd';
import { useEffect } from 'react';
import type { Edit } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import type { FlightWish } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { Field } from './field.tsx';
import { OptionForm } from './option-form.tsx';

const AXES = ['x', 'y', 'z'] as const;
const AS_IT_IS = { from: null, to: null, top: null } as const;

/** Flight: take-off, landing and top are dragged on the stage, or typed here; all else is as options are. */
export function FlightPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const wish = useBench((state) => state.flight);
  const characters = useBench((state) => state.session.shot.characters);
  const selected = useBench((state) => state.session.selection.nodes);
  const key = JSON.stringify(options);
  useEffect(() => {
    const before = useBench.getState().flight ?? AS_IT_IS;
    bench.setFlight({
      ...before,
      edit: 'motion.flight',
      options: JSON.parse(key) as Record<string, unknown>,
    });
  }, [key]);
  useEffect(() => () => bench.setFlight(null), []);
  const { from, to, top } = wish ?? AS_IT_IS;
  const change = (part: Partial<FlightWish>) =>
    bench.setFlight({ ...AS_IT_IS, edit: 'motion.flight', options, ...wish, ...part });
  const isMoved = from !== null || to !== null || top !== null;
  const control = options['control'] as string | null | undefined;
  const [first] = selected;
  return (
    <TriedPanel edit={edit} options={{ ...options, from, to, top }}>
      <p className="soft">On the stage the beads of take-off, landing and top can be dragged.</p>
      <Field label="What flies">
        <Select
          size="small"
          aria-label="What flies"
          value={control ?? (options['character'] as string | undefined) ?? ''}
          options={[
            { value: '', label: 'the character' },
            ...(characters.length > 1 ? characters.map(({ id, name }) => ({ value: id, label: name })) : []),
            ...(first !== undefined && first !== control
              ? [{ value: `@${first}`, label: `${first} alone` }]
              : []),
            ...(control ? [{ value: control, label: `${control} alone` }] : []),
          ]}
          onChange={(value: string) => {
            const { character: _, control: __, ...rest } = options;
            const alone = value.startsWith('@') ? value.slice(1) : null;
            setOptions(alone ? { ...rest, control: alone } : value ? { ...rest, character: value } : rest);
          }}
        />
      </Field>
      <Place label="Takes off at" place={from} onChange={(place) => change({ from: place })} />
      <Place label="Lands at" place={to} onChange={(place) => change({ to: place })} />
      <Field label="Top" title="How high the centre rises; its time in the air follows.">
        <InputNumber
          size="small"
          aria-label="Top"
          suffix="cm"
          value={top === null ? null : Number(top.toFixed(1))}
          onChange={(value) => change({ top: value })}
        />
      </Field>
      {isMoved && (
        <Button size="small" type="link" onClick={() => change(AS_IT_IS)}>
          From where it is to where it is
        </Button>
      )}
      <OptionForm
        schema={edit.options}
        options={{ ...options, top }}
        onChange={({ top: _, ...next }) => setOptions(next)}
        without={['character', 'control', 'from', 'to', 'top']}
      />
    </TriedPanel>
  );
}

interface PlaceProps {
  readonly label: string;
  readonly place: FlightWish['from'];
  readonly onChange: (place: [number, number, number] | null) => void;
}

function Place({ label, place, onChange }: PlaceProps) {
  return (
    <Field label={label}>
      <Space.Compact size="small">
        {AXES.map((axis, k) => (
          <InputNumber
            key={axis}
            size="small"
            controls={false}
            aria-label={`${label}, ${axis}`}
            placeholder={axis}
            value={place === null ? null : Number(place[k]!.toFixed(1))}
            onChange={(value) => {
              if (value === null) onChange(null);
              else
                onChange(
                  AXES.map((_, other) => (other === k ? value : (place?.[other] ?? 0))) as [
                    number,
                    number,
                    number,
                  ],
                );
            }}
          />
        ))}
      </Space.Compact>
    </Field>
  );
}
