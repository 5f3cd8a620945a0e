import { Button, Input, InputNumber, Segmented, Select } from 'antd';
import { contactsOf } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { Field } from './field.tsx';
import { OptionForm } from './option-form.tsx';

type Contact = ReturnType<typeof contactsOf>[number];

const nameOf = ({ node, point, start, end, hold }: Contact) =>
  `${node} ${point}, ${start}–${end}${hold ? ', held' : ''}`;

/** No contact is known yet: what to do first. */
function NoContacts() {
  return (
    <p className="soft hint">
      Nothing stands yet.{' '}
      <Button size="small" onClick={() => bench.openEdit('contacts.find')}>
        Find contacts
      </Button>
    </p>
  );
}

/** Edits that go by contacts that are there: which of them is chosen by name, all else is as options are. */
export function ContactsPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const shot = useBench((state) => state.session.shot);
  const contacts = contactsOf(shot);
  if (contacts.length === 0) return <NoContacts />;
  // Those of another shot, or of before, are forgotten.
  const asked = (options['contacts'] as string[] | undefined) ?? [];
  const chosen = asked.filter((id) => contacts.some((one) => one.id === id));
  const given = 'contacts' in edit.options.shape ? { ...options, contacts: chosen } : options;
  return (
    <TriedPanel edit={edit} options={given}>
      {'contacts' in edit.options.shape && (
        <Field label="Contacts" wide>
          <Select
            mode="multiple"
            size="small"
            aria-label="Contacts"
            placeholder={`all ${contacts.length} in the range`}
            maxTagCount="responsive"
            popupMatchSelectWidth={false}
            value={chosen}
            options={contacts.map((one) => ({ value: one.id, label: nameOf(one) }))}
            onChange={(next: string[]) => setOptions({ ...options, contacts: next })}
          />
        </Field>
      )}
      <OptionForm schema={edit.options} options={options} onChange={setOptions} without={['contacts']} />
    </TriedPanel>
  );
}

const POINTS = ['heel', 'ball'];

/** One contact: which, from when to when, cut at the play-head; or a new one of the joint that is selected. */
export function SetContactPanel({ edit }: { readonly edit: Edit }) {
  const shot = useBench((state) => state.session.shot);
  const frame = useBench((state) => (state.playing ? state.held : state.frame));
  const [selected] = useBench((state) => state.session.selection.nodes);
  const [options, setOptions] = useOptions(edit);
  const contacts = contactsOf(shot);
  const known = contacts.find(({ id }) => id === options['contact']) ?? null;
  const node = (options['node'] as string | undefined) ?? selected ?? null;
  const given = known ? { ...options, node: null } : { ...options, contact: null, node };
  const set = (more: object) => setOptions({ ...options, ...more });
  const within = known && options['split'] === undefined && frame > known.start && frame <= known.end;
  return (
    <TriedPanel edit={edit} options={given}>
      <Field label="Contact" wide>
        <Select
          size="small"
          aria-label="Contact"
          popupMatchSelectWidth={false}
          value={known?.id ?? ''}
          options={[
            { value: '', label: 'a new one' },
            ...contacts.map((one) => ({ value: one.id, label: nameOf(one) })),
          ]}
          onChange={(contact: string) => setOptions(contact === '' ? {} : { contact })}
        />
      </Field>
      {!known && (
        <>
          <Field label="Joint">
            <Select
              size="small"
              showSearch
              aria-label="Joint"
              placeholder="what stands"
              value={node ?? undefined}
              options={shot.nodes.map(({ id }) => ({ value: id, label: id }))}
              onChange={(next: string) => set({ node: next })}
            />
          </Field>
          <Field label="Point" title="Heel and ball lie on the sole of a foot, any other name at the joint.">
            <Input
              size="small"
              aria-label="Point"
              list="points of contact"
              value={(options['point'] as string | undefined) ?? 'heel'}
              maxLength={60}
              onChange={({ target }) => set({ point: target.value })}
            />
          </Field>
          <datalist id="points of contact">
            {POINTS.map((point) => (
              <option key={point} value={point} />
            ))}
          </datalist>
        </>
      )}
      {(['start', 'end'] as const).map((end) => (
        <Field key={end} label={end === 'start' ? 'First frame' : 'Last frame'}>
          <InputNumber
            size="small"
            aria-label={end === 'start' ? 'First frame' : 'Last frame'}
            value={(options[end] as number | undefined) ?? known?.[end] ?? null}
            placeholder={String(shot.range[end])}
            onChange={(value) => set({ [end]: value ?? undefined })}
          />
        </Field>
      ))}
      {known && (
        <Field label="Cut at" title="It ends a frame ahead of this one, and another one begins here.">
          <InputNumber
            size="small"
            aria-label="Cut at"
            placeholder="uncut"
            value={(options['split'] as number | undefined) ?? null}
            onChange={(value) => set({ split: value ?? undefined })}
          />
        </Field>
      )}
      {within && (
        <Button size="small" onClick={() => set({ split: frame })}>
          Cut at the play-head, {frame}
        </Button>
      )}
    </TriedPanel>
  );
}

/** Hips that give way: over how long, and how near; what is held is said first. */
export function GivePanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const shot = useBench((state) => state.session.shot);
  const contacts = contactsOf(shot);
  const held = contacts.filter(({ hold }) => hold).length;
  if (contacts.length === 0) return <NoContacts />;
  if (held === 0)
    return (
      <p className="soft hint">
        {contacts.length} contacts are known, and none is held.{' '}
        <Button size="small" onClick={() => bench.openEdit('contacts.hold')}>
          Hold contacts
        </Button>
      </p>
    );
  return (
    <TriedPanel edit={edit} options={options}>
      <p className="soft">
        {held} of {contacts.length} contacts are held; where a leg does not reach one, the hips come nearer.
      </p>
      <OptionForm schema={edit.options} options={options} onChange={setOptions} />
    </TriedPanel>
  );
}

/** Whose feet, or the joints that are selected; the thresholds as numbers beside their lines in the lane. */
export function FindContactsPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const selected = useBench((state) => state.session.selection.nodes);
  const of = (options['of'] as string | undefined) ?? 'feet';
  return (
    <TriedPanel edit={edit} options={options}>
      <Segmented
        size="small"
        block
        value={of}
        options={[
          { value: 'feet', label: 'The feet' },
          {
            value: 'selected',
            label: selected.length === 0 ? 'What is selected' : `Selected: ${selected.length}`,
            disabled: selected.length === 0,
          },
        ]}
        onChange={(next: string) => setOptions({ ...options, of: next })}
      />
      <OptionForm schema={edit.options} options={options} onChange={setOptions} without={['of']} />
    </TriedPanel>
  );
}
