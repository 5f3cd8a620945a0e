import { App, Checkbox, Input, Modal, Select } from 'antd';
import { useState } from 'react';
import { asksOf, repeatableSteps, routineFromHistory } from '@kneader/core';
import type { RoutineStep } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { ON_CHOICES } from '../../routines/on-words.ts';
import { useSaveRoutine } from '../../routines/use-save-routine.ts';
import { Field } from './field.tsx';

/** Steps of the history, chosen and named, to be done again elsewhere. */
export function SaveRoutine({ onClose }: { readonly onClose: () => void }) {
  const session = useBench((state) => state.session);
  const places = repeatableSteps(session).filter((at) => at <= session.at);
  const [chosen, setChosen] = useState<readonly number[]>(places);
  const [ons, setOns] = useState<Readonly<Record<number, RoutineStep['on']>>>({});
  const [name, setName] = useState('');
  const saving = useSaveRoutine();
  const { message } = App.useApp();
  const bare = routineFromHistory(session, chosen, name.trim() || 'Routine');
  const routine = {
    ...bare,
    steps: bare.steps.map((step, i) => ({ ...step, on: ons[chosen[i]!] ?? step.on })),
  };
  const isWhole = chosen.length > 0 && name.trim() !== '';
  const save = async () => {
    if (!(await saving.save(routine))) return;
    message.success(`“${routine.name}” is under actions, and on the page of routines.`, 5);
    onClose();
  };
  return (
    <Modal
      open
      title="Save as routine"
      okText="Save"
      okButtonProps={{ disabled: !isWhole }}
      onOk={() => void save()}
      onCancel={onClose}
    >
      <Field label="Name" wide>
        <Input
          autoFocus
          size="small"
          aria-label="Name of the routine"
          maxLength={80}
          value={name}
          onChange={({ target }) => setName(target.value)}
          onPressEnter={() => isWhole && void save()}
        />
      </Field>
      <ol className="routine-steps">
        {places.map((at) => (
          <li key={at}>
            <Checkbox
              checked={chosen.includes(at)}
              onChange={({ target }) =>
                setChosen(
                  target.checked ? [...chosen, at].sort((a, b) => a - b) : chosen.filter((one) => one !== at),
                )
              }
            >
              {session.steps[at]!.label}
            </Checkbox>
            <Select
              size="small"
              aria-label={`${session.steps[at]!.label}, on what`}
              popupMatchSelectWidth={false}
              disabled={!chosen.includes(at)}
              value={ons[at] ?? 'selection'}
              options={[...ON_CHOICES]}
              onChange={(on: RoutineStep['on']) => setOns({ ...ons, [at]: on })}
            />
          </li>
        ))}
      </ol>
      {chosen.length > 0 &&
        asksOf(routine).map(({ code, sentence }) => (
          <p key={code} className="soft">
            {sentence}
          </p>
        ))}
    </Modal>
  );
}
