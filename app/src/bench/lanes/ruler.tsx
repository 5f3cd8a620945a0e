import { useEffect, useRef } from 'react';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { frameToX, labelStep, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

type Drag =
  | { readonly kind: 'scrub' }
  | { readonly kind: 'range'; readonly from: number }
  /** An end of the shot, as one step of the history. */
  | { readonly kind: 'start' | 'end'; moved: boolean };

/** Pixels on either side of an end of the shot where it is taken. */
const END_REACH = 5;
/** Only the lower part of the ruler holds the ends: above them the play-head can be set there. */
const END_FROM = 0.45;
const END_DRAWN_FROM = 0.66;

/** Frames. Dragging scrubs; dragging with Shift chooses a range for edits; the ends of the shot are dragged at their foot. */
export function Ruler() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const holder = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const { width, height } = useSize(holder);
  const palette = PALETTES[useTheme((state) => state.name)];
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const frame = useBench((state) => state.frame);
  const range = useBench((state) => shownShot(state).range);
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
    context.fillStyle = palette.soft;
    for (const [end, way] of [
      [range.start, 1],
      [range.end, -1],
    ] as const) {
      const x = frameToX(shownAxis, end);
      context.beginPath();
      context.moveTo(x, height * END_DRAWN_FROM);
      context.lineTo(x, height);
      context.lineTo(x + way * 8, height);
      context.fill();
    }
    const step = labelStep(shownAxis, 48);
    context.font = "12px 'Recursive Variable'";
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
  /** The end of the shot under the pointer. */
  const endUnder = (event: React.PointerEvent): 'start' | 'end' | null => {
    const place = event.currentTarget.getBoundingClientRect();
    if (event.clientY - place.top < place.height * END_FROM) return null;
    const near = (end: number) => Math.abs(frameToX(axis, end) - (event.clientX - place.left)) <= END_REACH;
    return near(range.end) ? 'end' : near(range.start) ? 'start' : null;
  };
  const follow = (event: React.PointerEvent) => {
    const held = drag.current;
    if (!held) {
      holder.current!.style.cursor = endUnder(event) === null ? '' : 'ew-resize';
      return;
    }
    const at = Math.round(frameAt(event));
    if (held.kind === 'scrub') {
      bench.setPlaying(false);
      bench.setFrame(at);
      return;
    }
    if (held.kind !== 'range') {
      if (!held.moved && at === useBench.getState().session.shot.range[held.kind]) return;
      if (!held.moved) bench.beginGesture('timing.setShot');
      held.moved = true;
      bench.updateGesture({ [held.kind]: at });
      return;
    }
    const { selection, shot } = useBench.getState().session;
    const clamp = (value: number) => Math.min(Math.max(value, shot.range.start), shot.range.end);
    const [a, b] = [clamp(Math.min(held.from, at)), clamp(Math.max(held.from, at))];
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
        const end = endUnder(event);
        drag.current = event.shiftKey
          ? { kind: 'range', from: Math.round(frameAt(event)) }
          : end === null
            ? { kind: 'scrub' }
            : { kind: end, moved: false };
        follow(event);
      }}
      onPointerMove={follow}
      onPointerUp={() => {
        const held = drag.current;
        drag.current = null;
        if (held && 'moved' in held && held.moved) bench.commitGesture();
      }}
      onPointerCancel={() => {
        drag.current = null;
        bench.cancelGesture();
      }}
    >
      <canvas ref={canvas} style={{ width, height }} />
    </div>
  );
}
