import { Checkbox } from 'antd';
import type { Edit, Measure } from '@kneader/core';
import { previewOf, useBench } from '../bench-store.ts';
import { channelWords } from '../lanes/lane-view.ts';
import { OptionForm } from './option-form.tsx';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { withUnit } from './numbers.ts';

/** Paste keys: where and how, and for each channel that carries on by how much; any of them can be told to stay. */
export function PasteKeysPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const frame = useBench((state) => (state.playing ? state.held : state.frame));
  const clip = useBench((state) => state.clip);
  const tried = useBench((state) => previewOf(edit.id, state)?.outcome.report ?? null);
  if (clip === null)
    return (
      <p className="soft hint">Copy first: choose keys, or mark a range on the ruler, and press Ctrl C.</p>
    );
  const stay = (options['stay'] as readonly string[] | undefined) ?? [];
  const travelling = [
    ...new Set([...stay, ...(tried?.measures.filter(isCarried).map(({ where }) => where!.channel!) ?? [])]),
  ].sort();
  const carriedBy = (channel: string) =>
    tried?.measures.find((measure) => isCarried(measure) && measure.where?.channel === channel);
  const toggle = (channel: string, carries: boolean) =>
    setOptions({
      ...options,
      stay: carries ? stay.filter((other) => other !== channel) : [...stay, channel],
    });
  const known = { clip, frame: clip.whole ? null : frame };
  const count = Object.keys(clip.curves).length;
  return (
    <TriedPanel edit={edit} options={options} known={known}>
      <p className="soft">
        {clip.whole ? 'Whole curves' : 'Keys'} of {count} {count === 1 ? 'channel' : 'channels'},{' '}
        {Math.round(clip.length)} frames
        {clip.whole ? '; they land where they were.' : `; they land at ${frame}.`}
      </p>
      <OptionForm
        schema={edit.options}
        options={options}
        onChange={setOptions}
        without={['clip', 'frame', 'stay']}
      />
      {options['value'] === 'carryOn' && (
        <div className="by-channel" role="group" aria-label="Channels that carry on">
          {travelling.length === 0 && (
            <p className="soft">No copied channel travels: all come as they are.</p>
          )}
          {travelling.map((channel) => {
            const by = carriedBy(channel);
            return (
              <Checkbox
                key={channel}
                checked={!stay.includes(channel)}
                onChange={(event) => toggle(channel, event.target.checked)}
              >
                {channelWords(channel)}{' '}
                <span className="soft">{by ? withUnit(by.value, by.unit) : 'as it is'}</span>
              </Checkbox>
            );
          })}
        </div>
      )}
    </TriedPanel>
  );
}

const isCarried = ({ name, where }: Measure): boolean =>
  name === 'carried on' && where?.channel !== undefined;
