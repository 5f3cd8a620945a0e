import { useEffect, useRef } from 'react';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { frameToX, labelStep, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Frames. Dragging scrubs; dragging with Shift chooses a range for edits. */
export function Ruler() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const holder = useRef<HTMLDivElement>(null);
  const drag = useRef<{ readonly rangeFrom: number | null } | null>(null);
  const { width, height } = useSize(holder);
  const palette = PALETTES[useTheme((state) => state.name)];
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const frame = useBench((state) => state.frame);
  const range = useBench((state) => state.session.shot.range);
  const chosen = useBench((state) => state.session.selection.range);
  const axis: TimeAxis = { from, to, width: Math.max(width, 1) };

  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context) return;
    const shownAxis: TimeAxis = { from, to, width };
    context.fillStyle = palette.sheet;
    context.fillRect(
      frameToX(shownAxis, range.start),
      0,
      frameToX(shownAxis, range.end) - frameToX(shownAxis, range.start),
      height,
    );
    if (chosen) {
      context.fillStyle = palette.accent;
      context.globalAlpha = 0.3;
      context.fillRect(
        frameToX(shownAxis, chosen.start),
        0,
        frameToX(shownAxis, chosen.end) - frameToX(shownAxis, chosen.start),
        height,
      );
      context.globalAlpha = 1;
    }
    const step = labelStep(shownAxis, 48);
    context.font = "11px 'Recursive Variable'";
    context.fillStyle = palette.soft;
    context.textAlign = 'center';
    for (let label = Math.ceil(from / step) * step; label <= to; label += step) {
      const x = frameToX(shownAxis, label);
      context.fillRect(Math.round(x), height - 6, 1, 6);
      if (Math.abs(frameToX(shownAxis, frame) - x) > 24) context.fillText(String(label), x, height - 9);
    }
    // The frame that is shown stands on its own ground.
    const x = frameToX(shownAxis, frame);
    const text = String(frame);
    const wide = Math.max(24, context.measureText(text).width + 10);
    context.fillStyle = palette.accent;
    context.beginPath();
    context.roundRect(x - wide / 2, 2, wide, height - 6, 4);
    context.fill();
    context.fillStyle = palette.accentInk;
    context.fillText(text, x, height - 9);
  }, [width, height, from, to, frame, range, chosen, palette]);

  const frameAt = (event: React.PointerEvent) =>
    xToFrame(axis, event.clientX - event.currentTarget.getBoundingClientRect().left);
  const follow = (event: React.PointerEvent) => {
    const held = drag.current;
    if (!held) return;
    const at = Math.round(frameAt(event));
    if (held.rangeFrom === null) {
      bench.setPlaying(false);
      bench.setFrame(at);
      return;
    }
    const { selection, shot } = useBench.getState().session;
    const clamp = (value: number) => Math.min(Math.max(value, shot.range.start), shot.range.end);
    const [a, b] = [clamp(Math.min(held.rangeFrom, at)), clamp(Math.max(held.rangeFrom, at))];
    bench.select({ ...selection, range: b > a ? { start: a, end: b } : null });
  };
  return (
    <div
      ref={holder}
      className="ruler"
      role="slider"
      tabIndex={0}
      aria-label="Play-head"
      aria-valuemin={range.start}
      aria-valuemax={range.end}
      aria-valuenow={frame}
      onKeyDown={(event) => {
        // Shift chooses a range with the keyboard too, from the play-head outward.
        if (!event.shiftKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) {
          if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
            bench.step(event.key === 'ArrowLeft' ? -1 : 1);
            event.preventDefault();
            event.stopPropagation();
          }
          return;
        }
        const { selection } = useBench.getState().session;
        const next = frame + (event.key === 'ArrowLeft' ? -1 : 1);
        const old = selection.range ?? { start: frame, end: frame };
        const grown = old.end === frame ? { start: old.start, end: next } : { start: next, end: old.end };
        bench.setFrame(next);
        if (grown.end > grown.start) bench.select({ ...selection, range: grown });
        event.preventDefault();
        event.stopPropagation();
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { rangeFrom: event.shiftKey ? Math.round(frameAt(event)) : null };
        follow(event);
      }}
      onPointerMove={follow}
      onPointerUp={() => (drag.current = null)}
    >
      <canvas ref={canvas} style={{ width, height }} />
    </div>
  );
}
