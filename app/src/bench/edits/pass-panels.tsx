import { Button, Checkbox, Input, InputNumber, Select } from 'antd';
import type { Edit, Layer } from '@kneader/core';
import { evaluate, isKeyed, layerChecks, onLayer } from '@kneader/core';
import { PASS_HUES } from '../../theme/palette.ts';
import { bench, useBench } from '../bench-store.ts';
import { openWeight } from '../lanes/layer-edits.ts';
import { RangeFields } from './range-fields.tsx';
import { useDialling } from './use-dialling.ts';
import { ReportView } from './report-view.tsx';
import { Field } from './field.tsx';

const useChosenPass = (): Layer | undefined =>
  useBench((state) => state.session.shot.layers.find(({ id }) => id === state.session.selection.layer));
const useReport = (edit: string) =>
  useBench((state) => (state.report?.edit === edit ? state.report.report : null));

/** Which pass the panel is about, and another one by its name. */
function PassChoice() {
  const layers = useBench((state) => state.session.shot.layers);
  const passes = layers.filter(isKeyed);
  const chosen = useChosenPass();
  if (passes.length === 0)
    return <p className="soft hint">There is no pass yet: “Add an offset pass” makes one.</p>;
  return (
    <Field label="Pass">
      <Select
        size="small"
        aria-label="Pass"
        placeholder="choose one"
        value={chosen?.id}
        options={[...passes].reverse().map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(pass: string) => bench.select(onLayer(useBench.getState().session.selection, pass))}
      />
    </Field>
  );
}

/** Name, colour and switches of the chosen pass as they are; each change is done at once, as one step. */
export function SetPassPanel({ edit }: { readonly edit: Edit }) {
  const pass = useChosenPass();
  const report = useReport(edit.id);
  const shot = useBench((state) => state.session.shot);
  const turn = useDialling(edit.id, `Range of ${pass?.name ?? 'pass'}`);
  const set = (change: object) => pass && bench.perform(edit.id, { pass: pass.id, ...change });
  return (
    <div className="edit-body">
      <p className="soft summary">{edit.summary}</p>
      <PassChoice />
      {pass && (
        <>
          <Field label="Name">
            <Input
              key={pass.id + pass.name}
              size="small"
              aria-label="Name"
              defaultValue={pass.name}
              maxLength={60}
              onBlur={({ target }) => {
                const name = target.value.trim();
                if (name !== '' && name !== pass.name) set({ name });
              }}
            />
          </Field>
          <div className="swatches" role="radiogroup" aria-label="Colour">
            {PASS_HUES.map((hue, colour) => (
              <button
                key={hue}
                type="button"
                role="radio"
                aria-checked={pass.colour === colour}
                aria-label={`Colour ${colour + 1}`}
                className={pass.colour === colour ? 'on' : undefined}
                style={{ background: hue }}
                onClick={() => pass.colour !== colour && set({ colour })}
              />
            ))}
          </div>
          <RangeFields
            range={pass.range}
            disabled={pass.locked}
            onChange={(range) => turn({ pass: pass.id, range })}
          />
          <Checkbox checked={pass.muted} onChange={({ target }) => set({ muted: target.checked })}>
            Muted: it does not count
          </Checkbox>
          <Checkbox checked={pass.solo} onChange={({ target }) => set({ solo: target.checked })}>
            Solo: only what is solo counts
          </Checkbox>
          <Checkbox checked={pass.locked} onChange={({ target }) => set({ locked: target.checked })}>
            Locked: no edit changes it
          </Checkbox>
          {layerChecks(shot, pass).map(({ code, sentence }) => (
            <p key={code} className="finding">
              {sentence}
            </p>
          ))}
        </>
      )}
      {report && <ReportView report={report} tried={false} />}
    </div>
  );
}

/** The weight of the chosen pass: one for the whole shot, or a key of it at the play-head. */
export function SetWeightPanel({ edit }: { readonly edit: Edit }) {
  const pass = useChosenPass();
  const frame = useBench((state) => state.frame);
  const report = useReport(edit.id);
  if (!pass)
    return (
      <div className="edit-body">
        <p className="soft summary">{edit.summary}</p>
        <PassChoice />
      </div>
    );
  const keys = pass.weight.times.length;
  const here = evaluate(pass.weight, frame, 1);
  const set = (weight: number, at: number | null) =>
    bench.perform(edit.id, { pass: pass.id, weight, frame: at });
  return (
    <div className="edit-body">
      <p className="soft summary">{edit.summary}</p>
      <PassChoice />
      <p className="acts-on">
        {keys > 1
          ? `${keys} keys of its weight; ${percent(here)} at frame ${frame}.`
          : `${percent(here)} all through.`}
      </p>
      <Field label={keys > 1 ? `Weight at ${frame}` : 'Weight'}>
        <InputNumber
          key={`${pass.id} ${frame} ${here}`}
          size="small"
          aria-label="Weight"
          min={-200}
          max={300}
          step={1}
          suffix="%"
          defaultValue={Math.round(here * 10000) / 100}
          disabled={pass.locked}
          onBlur={({ target }) => {
            const typed = Number(target.value.replace(',', '.'));
            if (target.value.trim() !== '' && Number.isFinite(typed) && Math.abs(typed / 100 - here) > 1e-9)
              set(typed / 100, keys > 1 ? frame : null);
          }}
        />
      </Field>
      <div className="edit-foot">
        <Button size="small" disabled={pass.locked} onClick={() => set(here, frame)}>
          Key it at {frame}
        </Button>
        {keys > 1 && (
          <Button size="small" disabled={pass.locked} onClick={() => set(here, null)}>
            {percent(here)} all through
          </Button>
        )}
        <Button size="small" onClick={() => openWeight(pass, null)}>
          As a curve
        </Button>
      </div>
      {report && <ReportView report={report} tried={false} />}
    </div>
  );
}

const percent = (weight: number) => `${Math.round(weight * 10000) / 100} %`;
