import { useEffect, useRef } from 'react';
import { markersOf, poseColumns } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { beginDrag, isDragging } from '../gestures/drag.ts';
import type { DragActs } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { snapped } from './snapped.ts';
import { frameToX, labelStep, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Pixels on either side of an end of the shot where it is taken. */
const END_REACH = 5;
/** Only the lower part of the ruler holds the ends: above them the play-head can be set there. */
const END_FROM = 0.45;
const END_DRAWN_FROM = 0.66;

/** Marks the frames between two for edits; none where they are one. */
function marking(from: number, to: number): void {
  const { selection, shot } = useBench.getState().session;
  const clamp = (value: number) => Math.min(Math.max(value, shot.range.start), shot.range.end);
  const [start, end] = [clamp(Math.min(from, to)), clamp(Math.max(from, to))];
  bench.select({ ...selection, range: end > start ? { start, end } : null });
}

/** Where the play-head is: the frame, and what stands on it. */
function spokenFrame(shot: Shot, frame: number): string {
  const column = poseColumns(shot).frames.indexOf(frame);
  const marker = markersOf(shot).find((one) => Math.round(one.frame) === frame);
  return [
    `frame ${frame}`,
    ...(column >= 0 ? [`pose ${column + 1}`] : []),
    ...(marker ? [`marker ${marker.name}`] : []),
  ].join(', ');
}

/** Frames. Dragging scrubs; dragging with Shift chooses a range for edits; the ends of the shot are dragged at their foot. */
export function Ruler() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const holder = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(holder);
  const palette = PALETTES[useTheme((state) => state.name)];
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const frame = useBench((state) => state.frame);
  const range = useBench((state) => shownShot(state).range);
  const chosen = useBench((state) => state.session.selection.range);
  const axis: TimeAxis = { from, to, width: Math.max(width, 1) };
  const valueText = useBench((state) => spokenFrame(shownShot(state), frame));

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

  /** The end of the shot under the pointer. */
  const endUnder = (event: React.PointerEvent): 'start' | 'end' | null => {
    const place = event.currentTarget.getBoundingClientRect();
    if (event.clientY - place.top < place.height * END_FROM) return null;
    const near = (end: number) => Math.abs(frameToX(axis, end) - (event.clientX - place.left)) <= END_REACH;
    return near(range.end) ? 'end' : near(range.start) ? 'start' : null;
  };
  /** The end of the marked range under the pointer, above the ends of the shot. */
  const markedEndUnder = (event: React.PointerEvent): 'start' | 'end' | null => {
    if (!chosen) return null;
    const { left } = event.currentTarget.getBoundingClientRect();
    const near = (end: number) => Math.abs(frameToX(axis, end) - (event.clientX - left)) <= END_REACH;
    return near(chosen.end) ? 'end' : near(chosen.start) ? 'start' : null;
  };
  /** What a press begins: an end of the shot or of the marked range, a range with Shift, else the play-head. */
  const actsFor = (event: React.PointerEvent, frameOf: (x: number) => number): DragActs => {
    const end = endUnder(event);
    if (!event.shiftKey && end !== null)
      return {
        start: () => bench.beginGesture('timing.setShot'),
        move: ({ x }) => bench.updateGesture({ [end]: frameOf(x) }),
        end: () => bench.commitGesture(),
        cancel: bench.cancelGesture,
      };
    const before = useBench.getState();
    // With Shift a range is begun anew, on an end of the old one too.
    const mark = event.shiftKey ? null : markedEndUnder(event);
    if (event.shiftKey || mark !== null) {
      const from = mark === null ? frameOf(event.clientX) : chosen![mark === 'start' ? 'end' : 'start'];
      return {
        move: ({ x }) => marking(from, frameOf(x)),
        // Shift and a touch let the range go.
        click: () => mark === null && marking(from, from),
        cancel: () => bench.select({ ...useBench.getState().session.selection, range: chosen }),
      };
    }
    const scrub = (x: number) => {
      bench.setPlaying(false);
      bench.setFrame(frameOf(x));
    };
    scrub(event.clientX);
    return { move: ({ x }) => scrub(x), cancel: () => bench.setFrame(before.frame) };
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
      aria-valuetext={valueText}
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
        const { left } = event.currentTarget.getBoundingClientRect();
        const frameOf = (x: number) => snapped(axis, xToFrame(axis, x - left));
        beginDrag(event, actsFor(event, frameOf));
      }}
      onPointerMove={(event) => {
        if (isDragging()) return;
        const isEnd = endUnder(event) !== null || (!event.shiftKey && markedEndUnder(event) !== null);
        event.currentTarget.style.cursor = isEnd ? 'ew-resize' : '';
      }}
    >
      <canvas ref={canvas} style={{ width, height }} />
    </div>
  );
}
