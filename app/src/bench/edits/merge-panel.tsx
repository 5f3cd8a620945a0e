import { Select } from 'antd';
import { isKeyed } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { OptionForm } from './option-form.tsx';

/** Passes made one; what would be lost stands in the report before it is applied. */
export function MergePanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const layers = useBench((state) => state.session.shot.layers);
  const pass = useBench((state) => state.session.selection.layer);
  const passes = layers.filter(isKeyed);
  const down = options['which'] === 'down';
  if (passes.length === 0) return <p className="soft hint">There is no pass yet to merge.</p>;
  if (down && pass === null)
    return (
      <div className="edit-body">
        <OptionForm
          schema={edit.options}
          options={options}
          onChange={setOptions}
          without={['pass', 'passes']}
        />
        <p className="soft hint">Choose the pass in the lanes that goes into the one below it.</p>
      </div>
    );
  return (
    <TriedPanel edit={edit} options={options} {...(down && { known: { pass } })}>
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={['pass', 'passes']}
      />
      {options['which'] === 'chosen' && (
        <Select
          mode="multiple"
          size="small"
          aria-label="Passes"
          placeholder="two passes or more"
          value={options['passes'] as string[]}
          options={[...passes].reverse().map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(chosen) => setOptions({ ...options, passes: chosen })}
        />
      )}
    </TriedPanel>
  );
}
