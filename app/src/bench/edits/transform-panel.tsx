import { Button } from 'antd';
import type { Edit } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { OptionForm } from './option-form.tsx';
import { TriedPanel, useOptions } from './edit-panel.tsx';

/** The transform box by typed numbers; by hand it is pulled in the curves lane. */
export function TransformPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const frame = useBench((state) => state.frame);
  const box = useBench((state) => state.lane.box);
  const set = (more: Record<string, unknown>) => setOptions({ ...options, ...more });
  const typedTime = options['timePivot'] === 'typed';
  const typedValue = options['valuePivot'] === 'typed';
  return (
    <TriedPanel edit={edit} options={options}>
      <div className="kind-grid">
        <Button size="small" type={box ? 'primary' : 'default'} onClick={() => bench.setLane({ box: !box })}>
          Box in the lane <kbd>X</kbd>
        </Button>
        <Button size="small" onClick={() => set({ timePivot: 'typed', pivotFrame: frame })}>
          Pivot at {frame}
        </Button>
        <Button size="small" onClick={() => set({ scaleValue: -1 })}>
          Flip in value
        </Button>
        <Button size="small" onClick={() => set({ scaleTime: -1, timePivot: 'centre' })}>
          Flip in time
        </Button>
      </div>
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={[...(typedTime ? [] : ['pivotFrame']), ...(typedValue ? [] : ['pivotValue'])]}
      />
    </TriedPanel>
  );
}
