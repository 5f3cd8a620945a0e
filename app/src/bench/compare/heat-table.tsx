import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import type { Differences } from '@kneader/core';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { setCompare, useCompare } from './compare-store.ts';

const ROW = 18;
const NAMES = 150;
const AMOUNTS = 76;
/** Pixels beyond which a pointer is no longer on the strip's end. */
const RIGHT = 8;

interface HeatRow {
  readonly joint: number;
  readonly name: string;
  readonly most: number;
  /** A place in the frames. */
  readonly at: number;
}

/** Joints with what is most of each, the greatest first. */
function heatRows({ names, frames }: Differences, table: Float32Array): HeatRow[] {
  const rows = names.map((name, joint): HeatRow => {
    let at = 0;
    const from = joint * frames.length;
    for (let f = 1; f < frames.length; f += 1) if (table[from + f]! > table[from + at]!) at = f;
    return { joint, name, most: table[from + at] ?? 0, at };
  });
  return rows.sort((a, b) => b.most - a.most || a.joint - b.joint);
}

/** What is the darkest at least, mm or degrees. */
const DARK = 0.5;

interface HeatTableProps {
  readonly differences: Differences;
  readonly table: Float32Array;
  readonly unit: string;
}

/** Joints × frames, the darker the farther apart: a touch goes there. */
export function HeatTable({ differences, table, unit }: HeatTableProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const { width } = useSize(scroller);
  const joint = useCompare((state) => state.joint);
  const rows = useMemo(() => heatRows(differences, table), [differences, table]);
  // Where nothing differs, rounding is not what is dark.
  const most = Math.max(rows[0]?.most ?? 0, DARK);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const strip = Math.max(1, width - NAMES - AMOUNTS - RIGHT);
  const { frames } = differences;
  const choose = (row: HeatRow | undefined, frame?: number) => {
    if (!row) return;
    setCompare({ joint: row.name });
    if (frame !== undefined) bench.goToFrame(frame);
  };
  const chosen = rows.findIndex(({ name }) => name === joint);
  return (
    <div
      ref={scroller}
      className="heat"
      role="listbox"
      tabIndex={0}
      data-arrows
      aria-label="Differences by joint and frame"
      aria-activedescendant={chosen < 0 ? undefined : `heat-${rows[chosen]!.joint}`}
      onKeyDown={(event) => {
        const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
        if (by !== 0) {
          const next = Math.min(Math.max(chosen + by, 0), rows.length - 1);
          choose(rows[next]);
          virtual.scrollToIndex(next);
        } else if (event.key === 'Enter') choose(rows[chosen], frames[rows[chosen]?.at ?? 0]);
        else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight')
          bench.step(event.key === 'ArrowLeft' ? -1 : 1);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const row = rows[index]!;
          const isChosen = row.name === joint;
          return (
            <div
              key={row.joint}
              id={`heat-${row.joint}`}
              role="option"
              aria-selected={isChosen}
              className={`heat-row${isChosen ? ' is-chosen' : ''}`}
              style={{ top: start, height: ROW }}
            >
              <span
                className="heat-name"
                style={{ width: NAMES }}
                title={`${row.name}: most at ${frames[row.at]}, ${row.most.toFixed(1)} ${unit}`}
                onClick={() => choose(row, frames[row.at])}
              >
                {row.name}
              </span>
              <HeatStrip
                width={strip}
                values={table.subarray(row.joint * frames.length, (row.joint + 1) * frames.length)}
                most={most}
                onTouch={(part) =>
                  choose(row, frames[Math.min(frames.length - 1, Math.floor(part * frames.length))])
                }
              />
              <span className="heat-amount" style={{ width: AMOUNTS }}>
                {row.most.toFixed(1)} {unit}
              </span>
            </div>
          );
        })}
        <HeatHead frames={frames} left={NAMES} width={strip} />
      </div>
    </div>
  );
}

/** Where the play-head is, over all rows. */
function HeatHead({
  frames,
  left,
  width,
}: {
  readonly frames: Float64Array;
  readonly left: number;
  readonly width: number;
}) {
  const frame = useBench((state) => state.frame);
  const at = (frame - (frames[0] ?? 0) + 0.5) / Math.max(1, frames.length);
  return <div className="heat-head" style={{ left: left + Math.min(Math.max(at, 0), 1) * width }} />;
}

interface HeatStripProps {
  readonly width: number;
  readonly values: Float32Array;
  readonly most: number;
  /** @param part of the width, 0…1 */
  readonly onTouch: (part: number) => void;
}

function HeatStrip({ width, values, most, onTouch }: HeatStripProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const palette = PALETTES[useTheme((state) => state.name)];
  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, ROW - 2);
    if (!context || values.length === 0) return;
    context.fillStyle = palette.trough;
    context.fillRect(0, 0, width, ROW - 2);
    context.fillStyle = palette.accent;
    // In each column of pixels the most of the frames that lie there; the root makes small ones seen.
    const columns = Math.min(Math.floor(width), values.length);
    for (let c = 0; c < columns; c += 1) {
      const [from, to] = [
        Math.floor((c * values.length) / columns),
        Math.floor(((c + 1) * values.length) / columns),
      ];
      let peak = 0;
      for (let f = from; f < Math.max(to, from + 1); f += 1) peak = Math.max(peak, values[f]!);
      if (peak <= 0 || most <= 0) continue;
      context.globalAlpha = Math.sqrt(peak / most);
      const [left, right] = [Math.round((c * width) / columns), Math.round(((c + 1) * width) / columns)];
      context.fillRect(left, 0, right - left, ROW - 2);
    }
    context.globalAlpha = 1;
  }, [width, values, most, palette]);
  return (
    <canvas
      ref={canvas}
      style={{ width, height: ROW - 2 }}
      onClick={({ clientX, currentTarget }) => {
        const { left, width: wide } = currentTarget.getBoundingClientRect();
        onTouch(Math.min(Math.max((clientX - left) / Math.max(wide, 1), 0), 0.999999));
      }}
    />
  );
}
