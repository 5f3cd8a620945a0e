import { Select } from 'antd';
import { isFilter } from '@kneader/core';
import type { Layer } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { Field } from './field.tsx';

/** The filter that is meant: the one that was chosen, or else the uppermost; null where there is none. */
export function useChosenFilter(): Layer | null {
  const layers = useBench((state) => state.session.shot.layers);
  const chosen = useBench((state) => state.filter);
  const filters = layers.filter(isFilter);
  return filters.find(({ id }) => id === chosen) ?? filters.at(-1) ?? null;
}

/** The same as it is turned just now. */
export function useDialledFilter(): Layer | null {
  const settled = useChosenFilter();
  const turned = useBench(({ gesture }) =>
    gesture?.last?.outcome.shot.layers.find(({ id }) => id === settled?.id),
  );
  return turned ?? settled;
}

/** Which filter the panel is about. */
export function FilterChoice({ filter }: { readonly filter: Layer | null }) {
  const layers = useBench((state) => state.session.shot.layers);
  const filters = layers.filter(isFilter);
  if (filters.length === 0)
    return <p className="soft hint">There is no filter yet: “Add filter” lays one over what is selected.</p>;
  return (
    <Field label="Filter">
      <Select
        size="small"
        aria-label="Filter"
        value={filter?.id}
        options={[...filters].reverse().map(({ id, name }) => ({ value: id, label: name }))}
        onChange={bench.chooseFilter}
      />
    </Field>
  );
}
