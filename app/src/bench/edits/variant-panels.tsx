import { Button, Input, Select } from 'antd';
import { shownVariant, variantsOf } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { ReportView } from './report-view.tsx';
import { useState } from 'react';
import { Field } from './field.tsx';

/** The variants of the stack: shown, renamed, given the stack as it stands, forgotten. */
export function VariantPanel({ edit }: { readonly edit: Edit }) {
  const shot = useBench((state) => state.session.shot);
  const report = useBench((state) =>
    state.report?.edit.startsWith('variants.') ? state.report.report : null,
  );
  const variants = variantsOf(shot);
  const shown = shownVariant(shot);
  const [chosen, setChosen] = useState<string | null>(null);
  const variant = variants.find(({ id }) => id === chosen) ?? shown ?? variants[0];
  if (!variant)
    return (
      <p className="soft hint">There is no variant yet: name the stack as it stands with “Save variant”.</p>
    );
  return (
    <div className="edit-body">
      <p className="soft summary">{edit.summary}</p>
      <Field label="Variant">
        <Select
          size="small"
          aria-label="Variant"
          value={variant.id}
          options={variants.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setChosen}
        />
      </Field>
      <p className="acts-on">
        {variant === shown ? 'The stack stands as in it.' : 'The stack stands otherwise now.'}
      </p>
      <Field label="Name">
        <Input
          key={variant.id + variant.name}
          size="small"
          aria-label="Name"
          defaultValue={variant.name}
          maxLength={60}
          onBlur={({ target }) => {
            const name = target.value.trim();
            if (name !== '' && name !== variant.name)
              bench.perform('variants.set', { variant: variant.id, name });
          }}
        />
      </Field>
      <div className="edit-foot">
        <Button size="small" onClick={() => bench.perform('variants.show', { variant: variant.id })}>
          Show
        </Button>
        <Button
          size="small"
          disabled={variant === shown}
          onClick={() => bench.perform('variants.set', { variant: variant.id, update: true })}
        >
          As the stack stands
        </Button>
        <Button size="small" onClick={() => bench.perform('variants.remove', { variant: variant.id })}>
          Remove
        </Button>
      </div>
      {report && <ReportView report={report} tried={false} />}
    </div>
  );
}
