import { Button, InputNumber, Segmented } from 'antd';
import { useMemo, useState } from 'react';
import { targetsOf } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { TriedPanel } from './edit-panel.tsx';
import { readable } from './numbers.ts';
import { Field } from './field.tsx';

/** A value for the chosen keys. It begins with the one that they share, so that opening the panel changes nothing. */
export function SetValuePanel({ edit }: { readonly edit: Edit }) {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const [relative, setRelative] = useState(false);
  const [typed, setTyped] = useState<number | null>(null);
  const { low, high } = useMemo(() => {
    const values = targetsOf(shot, selection).flatMap(({ curve, rows }) =>
      [...curve.values].filter((_, row) => rows[row] === 1),
    );
    return values.reduce(
      (span, value) => ({ low: Math.min(span.low, value), high: Math.max(span.high, value) }),
      { low: Infinity, high: -Infinity },
    );
  }, [shot, selection]);
  const shared = high - low < 1e-9 ? Math.round(low * 1e4) / 1e4 : null;
  const value = typed ?? (relative ? 0 : shared);
  return (
    <TriedPanel
      edit={edit}
      options={typed === null ? { value: 0, relative: true } : { value: typed, relative }}
    >
      <Segmented
        block
        size="small"
        aria-label="How"
        value={relative ? 'add' : 'set'}
        options={[
          { value: 'set', label: 'Just this value' },
          { value: 'add', label: 'Add to each' },
        ]}
        onChange={(how) => {
          setRelative(how === 'add');
          setTyped(null);
        }}
      />
      <Field label="Value">
        <InputNumber
          size="small"
          aria-label="Value"
          placeholder={Number.isFinite(low) ? `${readable(low, 'cm')} … ${readable(high, 'cm')}` : 'no keys'}
          value={value}
          step={0.1}
          min={-1e9}
          max={1e9}
          onChange={setTyped}
        />
      </Field>
      <div className="edit-foot">
        <Button
          size="small"
          onClick={() => {
            setRelative(false);
            setTyped(0);
          }}
        >
          Zero
        </Button>
      </div>
    </TriedPanel>
  );
}
