import { Input } from 'antd';
import { useMemo, useState } from 'react';
import { curveOf, rigOf, rowAtTime, splitChannel, valuesAt } from '@kneader/core';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { ValueField } from './value-field.tsx';
import { channelHue } from '../lanes/channel-hue.ts';
import { useTheme } from '../../theme/theme-provider.tsx';

/** The channels of what is selected: value at the play-head, and whether it is keyed here. */
export function ChannelList() {
  const [sought, setSought] = useState('');
  const shot = useBench(shownShot);
  const frame = useBench((state) => (state.playing ? null : state.frame));
  const selection = useBench((state) => state.session.selection);
  const theme = useTheme((state) => state.name);
  const rig = rigOf(shot);
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = selection.nodes
    .flatMap((node) => {
      const i = rig.indexOf(node);
      return i < 0 ? [] : rig.channels.slice(rig.firstChannel[i], rig.firstChannel[i + 1]);
    })
    .filter(({ id }) => words.every((word) => id.toLowerCase().includes(word)));
  // While playing the numbers rest: nobody reads them, and they would cost frames.
  const values = useMemo(() => (frame === null ? null : valuesAt(shot, frame)), [shot, frame]);
  const chosen = new Set(selection.channels);
  const choose = (id: string, more: boolean) => {
    const channels = more
      ? chosen.has(id)
        ? selection.channels.filter((other) => other !== id)
        : [...selection.channels, id]
      : chosen.has(id) && chosen.size === 1
        ? []
        : [id];
    bench.select({ ...selection, channels, keys: {} });
  };
  return (
    <div className="channels">
      <Input
        size="small"
        allowClear
        placeholder="Filter channels"
        aria-label="Filter channels"
        value={sought}
        onChange={(event) => setSought(event.target.value)}
      />
      {selection.nodes.length === 0 && (
        <p className="soft hint">Touch a control on the figure or on the stage, or choose a body part.</p>
      )}
      <ul aria-label="Channels">
        {rows.map(({ id, node, name, kind }) => {
          const keyed = frame !== null && rowAtTime(curveOf(shot, selection.pass, id), frame) >= 0;
          return (
            <li key={id} className={chosen.has(id) ? 'on' : undefined}>
              <button
                type="button"
                className="channel-name"
                aria-pressed={chosen.has(id)}
                title={id}
                onClick={(event) => choose(id, event.shiftKey)}
              >
                <span className={`swatch ${kind}`} style={{ color: channelHue(name, theme) }} />
                <span className="channel-node">{rig.nodes[node]!.id}</span>
                <b>{name}</b>
              </button>
              <span
                className={`bead${keyed ? ' keyed' : ''}`}
                title={keyed ? 'Keyed on this frame' : 'Not keyed on this frame'}
              />
              <ValueField
                channel={id}
                kind={kind}
                value={values?.[rig.channelIndex(id)] ?? null}
                label={`${splitChannel(id).node} ${name}`}
              />
            </li>
          );
        })}
      </ul>
    </div>
  );
}
