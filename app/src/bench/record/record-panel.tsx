import { Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useState } from 'react';
import type { Edit, Layer } from '@kneader/core';
import { splitChannel } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { ReportView } from '../edits/report-view.tsx';
import { dialSource, placeSource } from './pointer-sources.ts';
import { feedSource } from './feed-source.ts';
import { record, stopRecording, useRecorder } from './recorder.ts';
import type { Source } from './source.ts';
import { Field } from '../edits/field.tsx';

type From = 'dial' | 'place' | 'feed';

const FROM: readonly { readonly value: From; readonly label: string }[] = [
  { value: 'dial', label: 'pointer, up and down' },
  { value: 'place', label: 'pointer, over the stage' },
  { value: 'feed', label: 'capture feed' },
];

interface Wishes {
  readonly from: From;
  readonly countIn: number;
  readonly perPixel: number;
  readonly seed: number;
  readonly onlySelected: boolean;
  readonly over: boolean;
  readonly name: string;
}

let remembered: Wishes = {
  from: 'dial',
  countIn: 2,
  perPixel: 0.3,
  seed: 7,
  onlySelected: false,
  over: false,
  name: '',
};

/** Motion driven by hand, or by a feed, while the shot plays. */
export function RecordPanel({ edit }: { readonly edit: Edit }) {
  const [wishes, setWishes] = useState(remembered);
  const set = (change: Partial<Wishes>) => setWishes((remembered = { ...wishes, ...change }));
  const { phase, latency, remarks } = useRecorder();
  const selection = useBench((state) => state.session.selection);
  const shot = useBench((state) => state.session.shot);
  const frame = useBench((state) => state.frame);
  const report = useBench((state) => (state.report?.edit === edit.id ? state.report.report : null));
  const pass = shot.layers.find(({ id }) => id === selection.layer);
  const over = wishes.over && pass?.kind === 'replace' ? pass : null;
  const range = selection.range ?? { start: frame, end: shot.range.end };
  const missing =
    range.end > range.start
      ? missingFor(wishes, selection, shot)
      : 'There is nothing after the play-head: move it back, or mark a range on the ruler.';
  const idle = phase === 'idle';
  return (
    <div className="edit-body">
      <p className="soft summary">{edit.summary}</p>
      <Field label="From">
        <Select
          size="small"
          aria-label="From"
          popupMatchSelectWidth={false}
          disabled={!idle}
          value={wishes.from}
          options={[...FROM]}
          onChange={(from: From) => set({ from })}
        />
      </Field>
      {wishes.from === 'dial' && (
        <Field label="For each pixel">
          <InputNumber
            size="small"
            aria-label="For each pixel"
            min={0.001}
            max={10}
            step={0.1}
            value={wishes.perPixel}
            onChange={(perPixel) => set({ perPixel: perPixel ?? 0.3 })}
          />
        </Field>
      )}
      {wishes.from === 'feed' && (
        <>
          <Field
            label="Stand-in take"
            title="No feed comes yet, so one is made up: each number is another take."
          >
            <InputNumber
              size="small"
              aria-label="Stand-in take"
              min={0}
              max={1e9}
              precision={0}
              value={wishes.seed}
              onChange={(seed) => set({ seed: seed ?? 7 })}
            />
          </Field>
          <Checkbox
            checked={wishes.onlySelected}
            onChange={({ target }) => set({ onlySelected: target.checked })}
          >
            Only what is selected
          </Checkbox>
        </>
      )}
      <Field label="Count-in">
        <InputNumber
          size="small"
          aria-label="Count-in"
          min={0}
          max={10}
          step={1}
          suffix="s"
          value={wishes.countIn}
          onChange={(countIn) => set({ countIn: countIn ?? 0 })}
        />
      </Field>
      <OntoChoice pass={pass} wishes={wishes} set={set} />
      <p className="acts-on">
        Frames {range.start} to {range.end}
        {selection.range ? ', as marked' : ', from the play-head on'}.
      </p>
      {missing && idle && <p className="soft hint">{missing}</p>}
      <div className="edit-foot">
        {idle ? (
          <Button
            size="small"
            type="primary"
            disabled={missing !== null}
            onClick={(event) => {
              // The keys that end it are the bench's, and not the button's.
              event.currentTarget.blur();
              record({
                ...{ source: sourceFor(wishes, selection), countIn: wishes.countIn, name: wishes.name },
                ...{ start: Math.ceil(range.start), end: Math.floor(range.end), onto: over?.id ?? null },
              });
            }}
          >
            Start
          </Button>
        ) : (
          <Button size="small" type="primary" onClick={stopRecording}>
            Stop
          </Button>
        )}
        {latency !== null && <span className="soft">latency {Math.round(latency)} ms</span>}
      </div>
      {idle &&
        remarks.map((sentence) => (
          <p key={sentence} className="finding" role="status">
            {sentence}
          </p>
        ))}
      {idle && report && <ReportView report={report} tried={false} />}
    </div>
  );
}

interface OntoChoiceProps {
  readonly pass: Layer | undefined;
  readonly wishes: Wishes;
  readonly set: (change: Partial<Wishes>) => void;
}

/** A new pass with a name, or the replace pass that is worked on. */
function OntoChoice({ pass, wishes, set }: OntoChoiceProps) {
  const over = pass?.kind === 'replace';
  return (
    <>
      {over && (
        <Checkbox checked={wishes.over} onChange={({ target }) => set({ over: target.checked })}>
          Over “{pass.name}”: only what is driven changes
        </Checkbox>
      )}
      {!(over && wishes.over) && (
        <Field label="Name">
          <Input
            size="small"
            aria-label="Name of the take"
            placeholder="Take and a number"
            maxLength={60}
            value={wishes.name}
            onChange={({ target }) => set({ name: target.value })}
          />
        </Field>
      )}
    </>
  );
}

type Chosen = ReturnType<typeof useBench.getState>['session']['selection'];
type ShotHere = ReturnType<typeof useBench.getState>['session']['shot'];

/** What must be chosen first; null where nothing is missing. */
function missingFor(
  { from, onlySelected }: Wishes,
  { nodes, channels }: Chosen,
  shot: ShotHere,
): string | null {
  if (from === 'dial' && channels.length === 0)
    return 'Choose the channels to be driven, in the list under the figure.';
  if (from === 'place') {
    const [node] = nodes;
    const moves = shot.nodes.find(({ id }) => id === node)?.channels.includes('tx');
    return nodes.length === 1 && moves ? null : 'Choose one control that can be moved: a goal, the hips.';
  }
  return from === 'feed' && onlySelected && nodes.length + channels.length === 0
    ? 'Select the controls that the feed shall drive.'
    : null;
}

function sourceFor({ from, perPixel, seed, onlySelected }: Wishes, { nodes, channels }: Chosen): Source {
  if (from === 'dial') return dialSource(channels, perPixel);
  if (from === 'place') return placeSource(nodes[0]!);
  if (!onlySelected) return feedSource({ channels: null, seed });
  const { shot } = useBench.getState().session;
  const meant = new Set(nodes);
  const all = shot.nodes.flatMap(({ id, channels: names }) => names.map((name) => `${id}.${name}`));
  const wanted = all.filter((id) =>
    channels.length > 0 ? channels.includes(id) : meant.has(splitChannel(id).node),
  );
  return feedSource({ channels: new Set(wanted), seed });
}
