import { useVirtualizer } from '@tanstack/react-virtual';
import { Popover, Select } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { curveOf, splitChannel, unitOf } from '@kneader/core';
import type { ChannelId } from '@kneader/core';
import { onListKeys } from '../bench-actions.ts';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { useStrokes } from '../keys/key-map.ts';
import { keyWords } from './key-words.ts';
import { channelWords, shownCurves } from './lane-view.ts';

const [ROW, IN_SIGHT] = [24, 9];

/** The keys of a curve as a list that is walked: each step goes to its frame and chooses it. For whoever reads numbers, or cannot see the curves. */
export function KeyListSwitch() {
  const [open, setOpen] = useState(false);
  const strokeFor = useStrokes();
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => onListKeys(() => setOpen(true)), []);
  const close = () => {
    setOpen(false);
    button.current?.focus();
  };
  return (
    <Popover
      trigger="click"
      placement="right"
      destroyOnHidden
      open={open}
      onOpenChange={setOpen}
      content={<KeyList onClose={close} />}
    >
      <button
        ref={button}
        type="button"
        className={`chip${open ? ' on' : ''}`}
        aria-expanded={open}
        title={`The keys of a curve as a list (${strokeFor('listKeys')})`}
      >
        List
      </button>
    </Popover>
  );
}

function KeyList({ onClose }: { readonly onClose: () => void }) {
  const shot = useBench(shownShot);
  const selection = useBench((state) => state.session.selection);
  const lane = useBench((state) => state.lane);
  const frame = useBench((state) => state.frame);
  const curves = useMemo(
    () => shownCurves(shot, selection, lane).map(({ channel }) => channel),
    [shot, selection, lane],
  );
  const [wished, setWished] = useState<ChannelId | null>(null);
  const channel = wished !== null && curves.includes(wished) ? wished : curves[0];
  const curve = channel === undefined ? null : curveOf(shot, selection.layer, channel);
  const holder = useRef<HTMLDivElement>(null);
  const count = curve?.times.length ?? 0;
  const list = useVirtualizer({
    count,
    getScrollElement: () => holder.current,
    estimateSize: () => ROW,
    overscan: 4,
    useFlushSync: false,
  });
  const at = curve ? curve.times.findIndex((time) => Math.abs(time - frame) < 1e-6) : -1;
  useEffect(() => {
    holder.current?.focus();
  }, [channel]);
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at);
  }, [at, list]);
  if (channel === undefined || curve === null)
    return <p className="soft">No curve is shown: select a control that has keys.</p>;
  const go = (row: number) => {
    const near = Math.min(Math.max(row, 0), count - 1);
    bench.setFrame(curve.times[near]!);
    bench.select({ ...selection, keys: { [channel]: [curve.ids[near]!] } });
  };
  // Between two keys the walk begins with the nearer one in its direction.
  const after = curve.times.findIndex((time) => time > frame + 1e-6);
  const next = after < 0 ? count : after;
  const before = next - (at >= 0 ? 2 : 1);
  const steps: Readonly<Record<string, number>> = {
    ArrowDown: next,
    ArrowUp: before,
    PageDown: next + IN_SIGHT - 1,
    PageUp: before - IN_SIGHT + 1,
    Home: 0,
    End: count - 1,
  };
  const unit = unitOf(splitChannel(channel).name);
  return (
    <div
      className="key-list"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onClose();
      }}
    >
      <Select
        size="small"
        aria-label="Keys of which curve"
        value={channel}
        options={curves.map((id) => ({ value: id, label: channelWords(id) }))}
        onChange={setWished}
        popupMatchSelectWidth={false}
      />
      <div
        ref={holder}
        role="listbox"
        tabIndex={0}
        aria-label={`Keys of ${channelWords(channel)}`}
        aria-activedescendant={at >= 0 ? `key-row-${at}` : undefined}
        style={{ height: ROW * Math.min(count, IN_SIGHT) }}
        onKeyDown={(event) => {
          const row = steps[event.key];
          if (row === undefined) return;
          event.preventDefault();
          event.stopPropagation();
          go(row);
        }}
      >
        <div style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map(({ index, start }) => (
            <div
              key={index}
              id={`key-row-${index}`}
              role="option"
              aria-selected={index === at}
              aria-posinset={index + 1}
              aria-setsize={count}
              style={{ transform: `translateY(${start}px)`, height: ROW }}
              onClick={() => go(index)}
            >
              {keyWords(curve, index, unit)}
            </div>
          ))}
        </div>
      </div>
    </div>
  );
}
