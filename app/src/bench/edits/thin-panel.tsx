import { InputNumber } from 'antd';
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

/** Thin: a tolerance for each kind of channel that is selected, dragged while curves and figure follow. */
export function ThinPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const kinds = new Set(selectedChannels(shot, selection).map((id) => channelKind(splitChannel(id).name)));
  return (
    <TriedPanel edit={edit} options={options}>
      {ROWS.filter(({ kind }) => kinds.has(kind)).map(({ kind, title, unit, min, max }) => {
        const value = options[kind] as number;
        const set = (next: number | null) =>
          next !== null && next > 0 && setOptions({ ...options, [kind]: next });
        return (
          <div key={kind} className="tolerance">
            <span>{title}</span>
            <FineSlider
              label={`Tolerance, ${title.toLowerCase()}`}
              value={value}
              min={min}
              max={max}
              onChange={set}
            />
            <InputNumber
              size="small"
              aria-label={`${title} in ${unit || 'units'}`}
              value={value}
              min={0.00001}
              step={min * 10}
              suffix={unit}
              onChange={set}
            />
          </div>
        );
      })}
      <OptionForm
        edit={edit}
        options={options}
        onChange={setOptions}
        without={['rotation', 'position', 'scale', 'other', 'measureSpace']}
      />
    </TriedPanel>
  );
}
