import { Button, InputNumber, Segmented, Select, Slider } from 'antd';
import { bodyOf } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { useUnitByLeaps } from '../../characters/height-by-leaps.ts';
import { useBench } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { Field } from './field.tsx';

/** How tall a character stands: as its numbers, as its own leaps say, or typed. */
export function HeightPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const shot = useBench((state) => state.session.shot);
  const [first] = shot.characters;
  const chosen = shot.characters.find(({ id }) => id === options['character']) ?? first;
  const stands = chosen ? bodyOf(shot, chosen.id).stands : 0;
  const unit = useUnitByLeaps(shot, chosen?.id ?? null, stands);
  if (!chosen) return <p className="soft hint">The shot has no character.</p>;
  const height = (options['height'] as number | undefined) ?? chosen.height ?? null;
  const set = (more: object) => setOptions({ ...options, character: chosen.id, ...more });
  return (
    <TriedPanel edit={edit} options={{ ...options, character: chosen.id, height }}>
      {shot.characters.length > 1 && (
        <Field label="Character">
          <Select
            size="small"
            aria-label="Character"
            value={chosen.id}
            options={shot.characters.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(character: string) => setOptions({ how: options['how'], character })}
          />
        </Field>
      )}
      <p className="soft">
        {chosen.name} stands {Number(stands.toPrecision(4))} high in its own numbers.
      </p>
      <Field label="Height">
        <InputNumber
          size="small"
          aria-label="Height"
          suffix="cm"
          min={0.1}
          max={100_000}
          value={height}
          placeholder={stands.toPrecision(4)}
          onChange={(value) => set({ height: value ?? undefined })}
        />
      </Field>
      {unit !== null && (
        <Button size="small" onClick={() => set({ height: Number((unit * stands).toPrecision(4)) })}>
          {(unit * stands).toFixed(0)} cm, by its own leaps
        </Button>
      )}
      <Segmented
        size="small"
        block
        value={(options['how'] as string | undefined) ?? 'say'}
        options={[
          { value: 'say', label: 'Only say it', title: 'Its numbers stay, and count as that tall.' },
          { value: 'rescale', label: 'Rescale', title: 'The whole character is made that tall.' },
        ]}
        onChange={(how: string) => set({ how })}
      />
    </TriedPanel>
  );
}

/** What the selected joint weighs of its character. */
export function MassPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const shot = useBench((state) => state.session.shot);
  const [selected] = useBench((state) => state.session.selection.nodes);
  const node = selected ?? (options['node'] as string | undefined);
  const owner = shot.nodes.find(({ id }) => id === node);
  if (!owner) return <p className="soft hint">Touch the control that is heavier or lighter than it looks.</p>;
  const segments = bodyOf(shot, owner.character).segments.filter(
    ({ row }) => shot.nodes[row]!.id === owner.id,
  );
  const now = 100 * segments.reduce((sum, { share }) => sum + share, 0);
  const said = shot.masses?.find((mass) => mass.node === owner.id);
  const share =
    options['node'] === owner.id ? ((options['share'] as number | null | undefined) ?? null) : null;
  const set = (next: number | null) => setOptions({ node: owner.id, share: next });
  return (
    <TriedPanel edit={edit} options={{ node: owner.id, share: share ?? (said ? 100 * said.share : null) }}>
      <p className="soft">
        {owner.id} weighs {now.toFixed(1)} % of its character
        {said ? ', set by hand' : ', by the table of body parts'}.
      </p>
      <Field label="Mass">
        <InputNumber
          size="small"
          aria-label="Mass"
          suffix="%"
          min={0}
          max={100}
          step={0.5}
          value={share ?? Number(now.toFixed(1))}
          onChange={set}
        />
      </Field>
      <Slider
        ariaLabelForHandle="Mass, slider"
        min={0}
        max={100}
        step={0.5}
        value={share ?? now}
        onChange={set}
      />
    </TriedPanel>
  );
}
