import { EyeInvisibleOutlined, EyeOutlined, LockOutlined, UnlockOutlined } from '../../theme/icons.tsx';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Input } from 'antd';
import { useMemo, useRef } from 'react';
import { channelKind, curveOf, morphChannels, rigOf, rowAtTime, splitChannel, valuesAt } from '@kneader/core';
import type { ChannelId } from '@kneader/core';
import { lockChannels } from '../bench-actions.ts';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { channelHue } from '../lanes/channel-hue.ts';
import { channelWords, listedChannels } from '../lanes/lane-view.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { ValueField } from './value-field.tsx';
import { WeightSlider } from './weight-slider.tsx';

const ROW_PIXELS = 24;

/** The channels of what is selected, or of everything: value at the play-head, and whether it is keyed here. */
export function ChannelList() {
  const scroller = useRef<HTMLDivElement>(null);
  const shot = useBench(shownShot);
  const frame = useBench((state) => (state.playing ? null : state.frame));
  const selection = useBench((state) => state.session.selection);
  const lane = useBench((state) => state.lane);
  const rows = useMemo(() => listedChannels(shot, selection, lane), [shot, selection, lane]);
  // While playing the numbers rest: nobody reads them, and they would cost frames.
  const values = useMemo(() => (frame === null ? null : valuesAt(shot, frame)), [shot, frame]);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PIXELS,
    overscan: 6,
  });
  const rig = rigOf(shot);
  return (
    <div className="channels">
      <Input
        size="small"
        allowClear
        placeholder="Filter: ry, hand, left rot"
        aria-label="Filter channels"
        value={lane.filter}
        onChange={(event) => bench.setLane({ filter: event.target.value })}
      />
      {rows.length === 0 && (
        <p className="soft hint">
          {lane.filter.trim() === ''
            ? 'Touch a control on the figure or on the stage, or choose a body part.'
            : 'No channel here matches the filter.'}
        </p>
      )}
      <div ref={scroller} className="channel-scroller">
        <ul aria-label="Channels" style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map(({ index, start }) => {
            const id = rows[index]!;
            return (
              <ChannelRow
                key={id}
                id={id}
                top={start}
                place={index + 1}
                of={rows.length}
                value={values?.[rig.channelIndex(id)] ?? null}
                keyed={frame !== null && rowAtTime(curveOf(shot, selection.layer, id), frame) >= 0}
              />
            );
          })}
        </ul>
      </div>
    </div>
  );
}

interface ChannelRowProps {
  readonly id: ChannelId;
  readonly top: number;
  /** Only rows in sight are in the page: each says which of how many it is. */
  readonly place: number;
  readonly of: number;
  readonly value: number | null;
  readonly keyed: boolean;
}

function ChannelRow({ id, top, place, of, value, keyed }: ChannelRowProps) {
  const theme = useTheme((state) => state.name);
  const chosen = useBench((state) => state.session.selection.channels.includes(id));
  const locked = useBench((state) => state.session.shot.locked.includes(id));
  const hidden = useBench((state) => state.lane.hidden.includes(id));
  const weighs = useBench((state) => morphChannels(state.session.shot).has(id));
  const { node, name } = splitChannel(id);
  const kind = channelKind(name);
  const words = channelWords(id);
  return (
    <li
      className={`${chosen ? 'on' : ''}${weighs ? ' weighs' : ''}`}
      aria-posinset={place}
      aria-setsize={of}
      style={{ transform: `translateY(${top}px)` }}
    >
      <button
        type="button"
        className={`channel-name${hidden ? ' unseen' : ''}`}
        aria-pressed={chosen}
        title={id}
        onClick={(event) => choose(id, event.shiftKey)}
      >
        {!weighs && <span className={`swatch ${kind}`} style={{ color: channelHue(name, theme) }} />}
        <span className="channel-node">{node}</span>
        <b>{name}</b>
      </button>
      <button
        type="button"
        className={`icon at-row${hidden ? ' kept' : ''}`}
        aria-label={`${hidden ? 'Show' : 'Hide'} the curve ${words}`}
        aria-pressed={hidden}
        onClick={() => toggleHidden(id)}
      >
        {hidden ? <EyeInvisibleOutlined /> : <EyeOutlined />}
      </button>
      <button
        type="button"
        className={`icon at-row${locked ? ' kept' : ''}`}
        aria-label={`${locked ? 'Unlock' : 'Lock'} ${words}`}
        aria-pressed={locked}
        onClick={() => lockChannels([id], !locked)}
      >
        {locked ? <LockOutlined /> : <UnlockOutlined />}
      </button>
      {weighs && <WeightSlider channel={id} value={value} label={words} />}
      <span
        className={`bead${keyed ? ' keyed' : ''}`}
        title={keyed ? 'Keyed on this frame' : 'Not keyed on this frame'}
      />
      <ValueField channel={id} kind={kind} value={value} label={words} />
    </li>
  );
}

/** One channel, or with Shift one more; the only chosen one is let go. */
function choose(id: ChannelId, more: boolean): void {
  const { selection } = useBench.getState().session;
  const chosen = new Set(selection.channels);
  const channels = more
    ? chosen.has(id)
      ? selection.channels.filter((other) => other !== id)
      : [...selection.channels, id]
    : chosen.has(id) && chosen.size === 1
      ? []
      : [id];
  bench.select({ ...selection, channels, keys: {} });
}

function toggleHidden(id: ChannelId): void {
  const { hidden } = useBench.getState().lane;
  bench.setLane({ hidden: hidden.includes(id) ? hidden.filter((other) => other !== id) : [...hidden, id] });
}
