import { Checkbox, InputNumber } from 'antd';
import type { LayerRange } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { Field } from './field.tsx';

interface RangeFieldsProps {
  readonly range: LayerRange | null;
  readonly disabled: boolean;
  readonly onChange: (range: LayerRange | null) => void;
}

const FIELDS = [
  ['start', 'From'],
  ['end', 'To'],
  ['rampIn', 'Comes in over'],
  ['rampOut', 'Goes out over'],
] as const;

/** Where a layer counts: its bookends and their ramps, as they can be dragged in its row too. */
export function RangeFields({ range, disabled, onChange }: RangeFieldsProps) {
  const marked = useBench((state) => state.session.selection.range);
  const shot = useBench((state) => state.session.shot.range);
  const first = () => ({ start: shot.start, end: shot.end, ...marked, rampIn: 0, rampOut: 0 });
  return (
    <>
      <Checkbox
        checked={range !== null}
        disabled={disabled}
        onChange={({ target }) => onChange(target.checked ? first() : null)}
      >
        Bookends
        {range
          ? ''
          : marked
            ? ` at the marked range, ${marked.start}–${marked.end}`
            : ' (drag them in its row)'}
      </Checkbox>
      {range &&
        FIELDS.map(([name, title]) => (
          <Field key={name} label={title}>
            <InputNumber
              size="small"
              aria-label={title}
              value={range[name]}
              disabled={disabled}
              step={1}
              suffix="frames"
              onChange={(value) => value !== null && onChange({ ...range, [name]: value })}
            />
          </Field>
        ))}
    </>
  );
}
