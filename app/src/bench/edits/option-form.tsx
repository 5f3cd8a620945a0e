import { Checkbox, Input, InputNumber, Select, Tooltip } from 'antd';
import { isBlock, poseColumns } from '@kneader/core';
import type { Edit, Shot } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { FineSlider } from './fine-slider.tsx';
import { ControlsSelect } from './controls-select.tsx';
import { useChosenBlock } from './chosen-block.ts';
import { isMeant, optionFields } from './option-fields.ts';
import type { ShotTrait } from './option-fields.ts';
import { Field } from './field.tsx';

interface OptionFormProps {
  readonly schema: Edit['options'];
  readonly options: Readonly<Record<string, unknown>>;
  readonly onChange: (options: Record<string, unknown>) => void;
  /** Options that a panel sets in its own way. */
  readonly without?: readonly string[];
}

const traitsOf = (shot: Shot): ReadonlySet<ShotTrait> =>
  new Set(poseColumns(shot).frames.length > 0 ? ['columns'] : []);

/** A form made from a schema: the options of an edit, the settings of a filter. */
export function OptionForm({ schema, options, onChange, without = [] }: OptionFormProps) {
  const shot = useBench((state) => state.session.shot);
  const traits = traitsOf(shot);
  const block = useChosenBlock();
  const set = (name: string, value: unknown) => {
    const next = { ...options, [name]: value };
    if (value === undefined || value === null) delete next[name];
    onChange(next);
  };
  return (
    <div className="option-form">
      {optionFields(schema)
        .filter(
          (field) =>
            field.kind !== 'other' && !without.includes(field.name) && isMeant(field, options, traits),
        )
        .map((field) => {
          const value = options[field.name];
          if (field.kind === 'boolean') {
            return (
              <Tooltip key={field.name} title={field.description} placement="left" mouseEnterDelay={0.6}>
                <Checkbox
                  checked={value === true}
                  onChange={(event) => set(field.name, event.target.checked)}
                >
                  {field.title}
                </Checkbox>
              </Tooltip>
            );
          }
          const { min, max } = field;
          return (
            <Field key={field.name} label={field.title} title={field.description}>
              {field.kind === 'number' && (
                <InputNumber
                  size="small"
                  aria-label={field.title}
                  value={typeof value === 'number' ? value : null}
                  min={field.min ?? Number.MIN_SAFE_INTEGER}
                  max={field.max ?? Number.MAX_SAFE_INTEGER}
                  step={field.step ?? 1}
                  suffix={field.unit || undefined}
                  onChange={(next) => set(field.name, next)}
                />
              )}
              {field.slider && min !== undefined && max !== undefined && (
                <FineSlider
                  label={`${field.title}, slider`}
                  value={typeof value === 'number' ? value : min}
                  min={Math.max(min, max / 1000)}
                  max={max}
                  onChange={(next) => set(field.name, next)}
                />
              )}
              {field.kind === 'sequence' && (
                <Input
                  key={String(value)}
                  size="small"
                  aria-label={field.title}
                  defaultValue={Array.isArray(value) ? value.join(' ') : ''}
                  onBlur={({ target }) => {
                    const numbers = target.value
                      .split(/[\s,;]+/)
                      .filter(Boolean)
                      .map(Number);
                    if (numbers.length > 0 && String(numbers) !== String(value)) set(field.name, numbers);
                  }}
                  onPressEnter={({ currentTarget }) => currentTarget.blur()}
                />
              )}
              {field.kind === 'control' && (
                <Select
                  size="small"
                  allowClear
                  showSearch
                  aria-label={field.title}
                  placeholder={field.empty}
                  value={typeof value === 'string' ? value : undefined}
                  options={shot.nodes
                    .filter(({ kind, channels }) =>
                      field.nodeKind ? kind === field.nodeKind : channels.length > 0,
                    )
                    .map(({ id }) => ({ value: id, label: id }))}
                  onChange={(next: string | undefined) =>
                    onChange({ ...options, [field.name]: next ?? null })
                  }
                />
              )}
              {field.kind === 'placement' && (
                <Select
                  size="small"
                  allowClear
                  aria-label={field.title}
                  placeholder={field.empty}
                  value={typeof value === 'string' ? value : undefined}
                  options={shot.layers
                    .filter((layer) => isBlock(layer) && layer.id !== block?.id)
                    .map(({ id, name }) => ({ value: id, label: name, title: name }))}
                  onChange={(next: string | undefined) => set(field.name, next)}
                />
              )}
              {field.kind === 'choice' && (
                <Select
                  size="small"
                  aria-label={field.title}
                  allowClear={field.optional}
                  value={value as string | undefined}
                  options={field.choices.map(({ value: choice, words }) => ({
                    value: choice,
                    label: words,
                    title: words,
                  }))}
                  onChange={(next) => set(field.name, next)}
                />
              )}
              {field.kind === 'names' && (
                <ControlsSelect
                  label={field.title}
                  value={Array.isArray(value) ? (value as string[]) : []}
                  onChange={(next) => set(field.name, next)}
                />
              )}
              {field.kind === 'numbers' && (
                <Select
                  mode="tags"
                  size="small"
                  open={false}
                  suffixIcon={null}
                  placeholder="none"
                  aria-label={field.title}
                  tokenSeparators={[',', ' ', ';']}
                  maxTagCount="responsive"
                  value={Array.isArray(value) ? value.map(String) : []}
                  onChange={(next: string[]) => set(field.name, next.map(Number).filter(Number.isFinite))}
                />
              )}
              {field.kind === 'text' && (
                <Input
                  size="small"
                  aria-label={field.title}
                  value={typeof value === 'string' ? value : ''}
                  onChange={(event) => set(field.name, event.target.value)}
                />
              )}
            </Field>
          );
        })}
    </div>
  );
}
