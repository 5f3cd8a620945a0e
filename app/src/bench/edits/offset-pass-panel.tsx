import { Checkbox } from 'antd';
import type { Edit } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { OptionForm } from './option-form.tsx';
import { TriedPanel, useOptions } from './edit-panel.tsx';

/** A new offset pass; bookends take the range that is chosen on the ruler. */
export function OffsetPassPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const range = useBench((state) => state.session.selection.range);
  const confined = options['bookends'] !== null && options['bookends'] !== undefined;
  return (
    <TriedPanel edit={edit} options={options}>
      <OptionForm edit={edit} options={options} onChange={setOptions} />
      <Checkbox
        checked={confined}
        disabled={!range && !confined}
        onChange={(event) => setOptions({ ...options, bookends: event.target.checked ? range : null })}
      >
        Bookends at the chosen range{range ? `, ${range.start}–${range.end}` : ' (Shift-drag on the ruler)'}
      </Checkbox>
    </TriedPanel>
  );
}
