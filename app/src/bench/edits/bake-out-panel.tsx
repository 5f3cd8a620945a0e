import { Button, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { shotFromJson, variantsOf } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { useAddShot } from '../../store/shot-queries.ts';
import { storageProblem } from '../../store/storage.ts';
import { bridge } from '../../bridge/bridge.ts';
import { useBench } from '../bench-store.ts';
import { useOptions } from './edit-panel.tsx';
import { OptionForm } from './option-form.tsx';
import { ReportView } from './report-view.tsx';
import { Field } from './field.tsx';

/** What shows, or one variant, stored as a shot of its own; this one stays as it is. */
export function BakeOutPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const variants = useBench((state) => variantsOf(state.session.shot));
  const [made, setMade] = useState<{ readonly id: string; readonly name: string } | null>(null);
  const [report, setReport] = useState<Parameters<typeof ReportView>[0]['report'] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const add = useAddShot();
  const ofVariant = 'variant' in edit.options.shape;
  const given = ofVariant ? { ...options, variant: options['variant'] ?? variants[0]?.id } : options;
  const bakeOut = async () => {
    const { shot, selection } = useBench.getState().session;
    setBusy(true);
    setProblem(null);
    setMade(null);
    try {
      const run = { signal: new AbortController().signal, onCourse: () => undefined };
      const outcome = await bridge.run(shot, edit.id, selection, given, run);
      if (!outcome) return;
      setReport(outcome.report);
      if (outcome.made === undefined) return;
      const baked = shotFromJson(outcome.made);
      setMade({ id: await add.mutateAsync({ shot: baked }), name: baked.name });
    } catch (error) {
      setProblem(storageProblem(error));
    } finally {
      setBusy(false);
    }
  };
  if (ofVariant && variants.length === 0)
    return (
      <p className="soft hint">There is no variant yet: name the stack as it stands with “Save variant”.</p>
    );
  return (
    <div className="edit-body">
      <p className="soft summary">{edit.summary}</p>
      {ofVariant && (
        <Field label="Variant">
          <Select
            size="small"
            aria-label="Variant"
            value={given['variant'] as string}
            options={variants.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(variant) => setOptions({ ...options, variant })}
          />
        </Field>
      )}
      <OptionForm schema={edit.options} options={options} onChange={setOptions} without={['variant']} />
      {report && <ReportView report={report} tried={false} />}
      {problem && <p className="refusal">{problem}</p>}
      {made && (
        <p className="finding">
          Stored as <Link to={`/shots/${made.id}`}>{made.name}</Link>.
        </p>
      )}
      <div className="edit-foot">
        <Button size="small" type="primary" loading={busy} onClick={() => void bakeOut()}>
          Bake out
        </Button>
      </div>
    </div>
  );
}
