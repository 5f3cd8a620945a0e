import { Button } from 'antd';
import { useEffect, useEffectEvent, useState } from 'react';
import type { ReactNode } from 'react';
import type { Edit } from '@kneader/core';
import { onApplyTried, onTryAgain } from '../bench-actions.ts';
import { bench, previewOf, useBench } from '../bench-store.ts';
import { ActsOnLine } from './acts-on-line.tsx';
import { FilterChoice, useChosenFilter } from './filter-choice.tsx';
import { OptionForm } from './option-form.tsx';
import { useChosenBlock } from './chosen-block.ts';
import { BlockChoice } from './placement-panel.tsx';
import { initialOptions } from './option-fields.ts';
import { ReportView } from './report-view.tsx';
import { usePreview } from './use-preview.ts';
import { whyIdle } from './why-idle.ts';

/** Options stay as they were set while the bench is open. */
const remembered = new Map<string, Record<string, unknown>>();

/** Opens an edit with some of its options chosen. */
export function openWith(id: Edit['id'], options: Record<string, unknown>): void {
  remembered.set(id, { ...remembered.get(id), ...options });
  bench.openAnew(id);
}

export function useOptions(edit: Edit, more: Readonly<Record<string, unknown>> = {}) {
  const [options, setOptions] = useState<Record<string, unknown>>(() => ({
    ...initialOptions(edit.options),
    ...more,
    ...remembered.get(edit.id),
  }));
  const change = (next: Record<string, unknown>) => {
    remembered.set(edit.id, next);
    setOptions(next);
  };
  return [options, change] as const;
}

interface TriedPanelProps {
  readonly edit: Edit;
  readonly options: Readonly<Record<string, unknown>>;
  /** What the bench adds to them: the play-head, the pass. It changes under the hand, and alone it tries nothing anew. */
  readonly known?: Readonly<Record<string, unknown>>;
  /** Whether what runs is left as soon as something else is asked. */
  readonly interrupts?: boolean;
  readonly children: ReactNode;
}

/** A panel whose edit is tried live: options, the report in numbers, apply or leave. */
export function TriedPanel({ edit, options, known, interrupts, children }: TriedPanelProps) {
  // Once applied nothing is tried on top of it until an option changes or it is asked for: the result can be played and looked at.
  const key = JSON.stringify(options);
  const [applied, setApplied] = useState<string | null>(null);
  const trying = applied !== key;
  const given = known ? { ...options, ...known } : options;
  const { waiting, done: share, problem } = usePreview(edit.id, given, trying, interrupts);
  const nothingSelected = useBench(
    ({ session: { selection } }) =>
      edit.needs !== undefined &&
      selection.nodes.length + selection.channels.length + Object.keys(selection.keys).length === 0,
  );
  const preview = useBench((state) => previewOf(edit.id, state));
  const done = useBench((state) => (state.report?.edit === edit.id ? state.report.report : null));
  // What is still being worked out has no report yet.
  const tried = preview?.whole ? preview.outcome.report : null;
  const report = tried ?? (preview ? null : done);
  const changes = tried?.status === 'changed';
  // What is shown may still be that of options that have been changed since: it is not what is asked for.
  const fits = preview === null || JSON.stringify(preview.options) === JSON.stringify(given);
  const apply = () => {
    bench.applyPreview();
    setApplied(key);
  };
  // Asked for while it is still being tried: it is applied as soon as there is something to apply.
  const [asked, setAsked] = useState<string | null>(null);
  const ask = () => {
    if (!trying) return;
    if (waiting || !fits) {
      setAsked(key);
      bench.setAsked({ edit: edit.id, options: given });
    } else if (changes) apply();
  };
  const isIdle = !trying || (!changes && !waiting);
  // A press that has nothing to apply is answered: never by a button that only looks dead.
  const [pressed, setPressed] = useState(false);
  useEffect(() => setPressed(false), [key, isIdle]);
  const again = () => setApplied(null);
  useEffect(() => onApplyTried(ask));
  useEffect(() => onTryAgain(again));
  const part = preview !== null && !preview.whole;
  const settle = useEffectEvent(() => {
    if (asked === null || waiting || !fits) return;
    setAsked(null);
    bench.setAsked(null);
    if (asked === key && changes) apply();
  });
  useEffect(() => settle(), [asked, waiting, fits]);
  return (
    <div className="edit-body">
      <p className="soft summary">{edit.summary}</p>
      {edit.needs && <ActsOnLine edit={edit} />}
      {children}
      {problem !== null && (
        <p className="refusal" role="alert">
          A defect in Kneader: this could not be tried, and your shot is as it was. ({problem})
        </p>
      )}
      {isIdle && pressed && (
        // A refusal stands in the report already.
        <p className={tried?.status === 'refused' ? 'only-spoken' : 'refusal'} role="alert">
          {whyIdle({ trying, nothingSelected, report: tried })}
        </p>
      )}
      {report && <ReportView report={report} tried={tried !== null} />}
      <div className="edit-foot">
        {/* It never becomes another button: a press that was meant for it must not begin something else. */}
        <Button
          size="small"
          type="primary"
          aria-disabled={isIdle}
          onClick={isIdle ? () => setPressed(true) : ask}
        >
          Apply
        </Button>
        <Button size="small" onClick={() => bench.openEdit(null)}>
          Leave
        </Button>
        {!trying && (
          <Button size="small" title="Shift and Enter" onClick={again}>
            Once more
          </Button>
        )}
        {waiting && (
          <span className="soft">
            {asked === null ? 'trying' : 'applied when tried'} …{share > 0 && ` ${Math.round(share * 100)} %`}
            {part && ', partial preview'}
          </span>
        )}
      </div>
    </div>
  );
}

/** Options that the bench knows already, and asks for no more: the play-head, the pass, the copied pose, what is chosen. */
function useKnown(edit: Edit): Readonly<Record<string, unknown>> {
  // While it plays nothing is tried frame after frame: the pose is meant on which the hand last stood.
  const frame = useBench((state) => (state.playing ? state.held : state.frame));
  const pass = useBench((state) => state.session.selection.layer);
  const channels = useBench((state) => state.session.selection.channels);
  const pose = useBench((state) => state.pose);
  const warp = useBench((state) => state.warp);
  const filter = useChosenFilter();
  const block = useChosenBlock();
  const all: Record<string, unknown> = {
    frame,
    pass,
    filter: filter?.id ?? null,
    placement: block?.id ?? null,
    channels,
    pose: pose ?? undefined,
    points: warp ?? undefined,
  };
  return Object.fromEntries(Object.entries(all).filter(([name]) => name in edit.options.shape));
}

/** The panel of an edit that needs none of its own. */
export function GenericPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const known = useKnown(edit);
  const filter = useChosenFilter();
  const block = useChosenBlock();
  if ('pass' in known && known['pass'] === null)
    return <p className="soft hint">Choose a pass in the lanes first.</p>;
  if ('filter' in known && known['filter'] === null)
    return <p className="soft hint">There is no filter yet: “Add filter” lays one over what is selected.</p>;
  if ('placement' in known && known['placement'] === null) return <BlockChoice block={null} />;
  if ('channels' in known && (known['channels'] as unknown[]).length === 0)
    return <p className="soft hint">Choose channels in the list under the figure first.</p>;
  return (
    <TriedPanel edit={edit} options={options} known={known}>
      {'filter' in known && <FilterChoice filter={filter} />}
      {'placement' in known && <BlockChoice block={block} />}
      {'frame' in known && <p className="soft">At the play-head, frame {String(known['frame'])}.</p>}
      {'points' in known && (
        <p className="soft">
          {known['points'] === undefined
            ? 'Touch the lane called Warp to bend time.'
            : `${(known['points'] as unknown[]).length} points.`}
        </p>
      )}
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={Object.keys(known)}
      />
    </TriedPanel>
  );
}
