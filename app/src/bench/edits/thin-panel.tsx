import { InputNumber, Segmented } from 'antd';
import { channelKind, selectedChannels, splitChannel } from '@kneader/core';
import type { ChannelKind, Edit } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { FineSlider } from './fine-slider.tsx';
import { OptionForm } from './option-form.tsx';
import { TriedPanel, useOptions } from './edit-panel.tsx';

const ROWS: readonly {
  readonly kind: ChannelKind;
  readonly title: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
}[] = [
  { kind: 'rotation', title: 'Rotation', unit: '°', min: 0.01, max: 20 },
  { kind: 'position', title: 'Position', unit: 'cm', min: 0.005, max: 20 },
  { kind: 'scale', title: 'Scale', unit: '×', min: 0.0005, max: 1 },
  { kind: 'other', title: 'Other', unit: '', min: 0.0005, max: 1 },
];

interface ToleranceProps {
  readonly title: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly value: number;
  readonly onChange: (value: number) => void;
}

/** A tolerance that is dragged on a logarithmic way, or typed. */
function Tolerance({ title, unit, min, max, value, onChange }: ToleranceProps) {
  const set = (next: number | null) => {
    if (next !== null && next > 0) onChange(next);
  };
  return (
    <div className="tolerance">
      <span>{title}</span>
      <InputNumber
        size="small"
        aria-label={`${title} in ${unit || 'units'}`}
        value={value}
        min={0.00001}
        step={min * 10}
        suffix={unit}
        onChange={set}
      />
      <FineSlider
        label={`Tolerance, ${title.toLowerCase()}`}
        value={value}
        min={min}
        max={max}
        onChange={set}
      />
    </div>
  );
}

/**
 * Thin: a tolerance for each kind of channel that is selected, or one in space, dragged while curves and figure follow.
 */
export function ThinPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const kinds = new Set(selectedChannels(shot, selection).map((id) => channelKind(splitChannel(id).name)));
  const inSpace = options['measure'] === 'space';
  const change = (name: string) => (value: unknown) => setOptions({ ...options, [name]: value });
  return (
    <TriedPanel edit={edit} options={options}>
      <Segmented
        block
        size="small"
        aria-label="Tolerance"
        value={inSpace ? 'space' : 'channels'}
        onChange={change('measure')}
        options={[
          { value: 'channels', label: 'By channel' },
          { value: 'space', label: 'In space' },
        ]}
      />
      {inSpace && (
        <Tolerance
          title="Joints"
          unit="mm"
          min={0.1}
          max={100}
          value={options['space'] as number}
          onChange={change('space')}
        />
      )}
      {!inSpace &&
        ROWS.filter(({ kind }) => kinds.has(kind)).map(({ kind, ...row }) => (
          <Tolerance key={kind} {...row} value={options[kind] as number} onChange={change(kind)} />
        ))}
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={['measure', 'space', 'rotation', 'position', 'scale', 'other', 'measureSpace']}
      />
    </TriedPanel>
  );
}
