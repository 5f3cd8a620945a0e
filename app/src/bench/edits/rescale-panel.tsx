import { Select } from 'antd';
import type { Edit } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { OptionForm } from './option-form.tsx';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { Field } from './field.tsx';

/** Rescale: the character by its name. */
export function RescalePanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const characters = useBench((state) => state.session.shot.characters);
  const only = characters.length === 1 ? characters[0]!.id : undefined;
  const chosen = (options['character'] as string | undefined) ?? only;
  // The only character there is was found, not chosen: nothing is tried anew when a second one comes.
  const known = only === undefined || options['character'] !== undefined ? undefined : { character: only };
  return (
    <TriedPanel edit={edit} options={options} known={known}>
      <Field label="Character">
        <Select
          size="small"
          aria-label="Character"
          placeholder="choose one"
          value={chosen}
          options={characters.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(character) => setOptions({ ...options, character })}
        />
      </Field>
      <OptionForm schema={edit.options} options={options} onChange={setOptions} without={['character']} />
    </TriedPanel>
  );
}
