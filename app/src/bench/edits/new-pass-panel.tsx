import { Checkbox } from 'antd';
import type { Edit } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { OptionForm } from './option-form.tsx';
import { TriedPanel, useOptions } from './edit-panel.tsx';

/** A new pass; bookends take the range that is chosen on the ruler. */
export function NewPassPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const range = useBench((state) => state.session.selection.range);
  const confined = options['bookends'] !== null && options['bookends'] !== undefined;
  const frame = useBench((state) => (state.playing ? state.held : state.frame));
  const here = 'frame' in edit.options.shape;
  return (
    <TriedPanel edit={edit} options={options} {...(here && { known: { frame } })}>
      {here && options['from'] === 'frame' && <p className="soft">At the play-head, frame {frame}.</p>}
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={['frame', ...(confined ? [] : ['ramps'])]}
      />
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
