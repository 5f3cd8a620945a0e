import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { actionSchema, runEdit } from '@kneader/core';
import type { Edit, Shot } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { useKeepActions } from '../../store/action-queries.ts';
import type { Keeping } from '../../store/pantry-record.ts';
import { storageProblem } from '../../store/storage.ts';
import { bench, useBench } from '../bench-store.ts';
import { ReportView } from './report-view.tsx';
import { Field } from './field.tsx';

/** Saves what is selected, over the chosen range, to the pantry. */
export function SaveActionPanel({ edit }: { readonly edit: Edit }) {
  const [name, setName] = useState('');
  const [tags, setTags] = useState<string[]>([]);
  const [takeAway, setTakeAway] = useState(false);
  const [alone, setAlone] = useState(false);
  const frame = useBench((state) => Math.round(state.frame));
  const isPose = edit.id === 'actions.savePose';
  const options = isPose ? { name, tags, frame } : { name, tags, takeAway, what: alone ? 'layer' : 'shows' };
  const [problem, setProblem] = useState<string | null>(null);
  const save = useKeepActions();
  const [kept, setKept] = useState<Keeping | null>(null);
  const selection = useBench((state) => state.session.selection);
  const shot = useBench((state) => state.session.shot);
  const report = useBench((state) => (state.report?.edit === edit.id ? state.report.report : null));
  const tried = name.trim() === '' ? null : runEdit(edit.id, shot, selection, options).report;

  const keep = async () => {
    setProblem(null);
    const outcome = runEdit(edit.id, shot, selection, options);
    if (outcome.made === undefined) return;
    const action = actionSchema.parse(outcome.made);
    try {
      const film = await bridge.film(filmed(shot, isPose ? { start: frame, end: frame } : selection.range));
      const [how] = await save.mutateAsync([{ action, film, sameName: 'version' }]);
      setKept(how ?? null);
      // Only when the action is safe may its keys leave the shot.
      bench.perform(edit.id, options);
      setName('');
    } catch (error) {
      setProblem(storageProblem(error));
    }
  };
  return (
    <div className="edit-body">
      <p className="soft summary">
        {isPose
          ? `The pose at frame ${frame}.`
          : selection.range
            ? `Frames ${selection.range.start} to ${selection.range.end}, as chosen on the ruler.`
            : 'The range is found from the keys; choose one with Shift-drag on the ruler.'}
      </p>
      <Field label="Name" wide>
        <Input
          size="small"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onPressEnter={() => void keep()}
        />
      </Field>
      <Field label="Tags" wide>
        <Select mode="tags" size="small" value={tags} onChange={setTags} open={false} suffixIcon={null} />
      </Field>
      {!isPose && (
        <>
          <Checkbox checked={alone} onChange={(event) => setAlone(event.target.checked)}>
            The chosen layer alone, not what shows
          </Checkbox>
          <Checkbox checked={takeAway} onChange={(event) => setTakeAway(event.target.checked)}>
            Take the keys away from the shot
          </Checkbox>
        </>
      )}
      {(tried ?? report) && <ReportView report={(tried ?? report)!} tried={tried !== null} />}
      {problem && <p className="refusal">{problem}</p>}
      {report && !tried && report.status !== 'refused' && kept && (
        <p className="finding">{keptWords(kept)}</p>
      )}
      <div className="edit-foot">
        <Button
          size="small"
          type="primary"
          loading={save.isPending}
          disabled={!tried || tried.status === 'refused'}
          onClick={() => void keep()}
        >
          Save to the pantry
        </Button>
      </div>
    </div>
  );
}

/** What became of it. */
const keptWords = ({ how, name }: Keeping): string =>
  how === 'known'
    ? `The very same motion is in the pantry already, as “${name}”: it was not kept twice.`
    : how === 'version'
      ? `Saved to the pantry. “${name}” has a newer version now; the older one is kept.`
      : 'Saved to the pantry.';

/** The shot cut to the range that the action's picture shows. */
function filmed(shot: Shot, range: Shot['range'] | null): Shot {
  return range ? { ...shot, range } : shot;
}
