import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import {
  bisectRight,
  curveOf,
  evaluate,
  selectedChannels,
  slopeAt,
  splitChannel,
  unitOf,
} from '@kneader/core';
import type { Selection, Shot } from '@kneader/core';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { onFrameCurves } from '../bench-actions.ts';
import { bench, ghostShot, shownShot, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import type { ShownCurve } from './curve-hits.ts';
import { toolFor } from './curve-tools.ts';
import type { LaneScene, Tool, Touch } from './curve-tools.ts';
import { fitValues, yToValue } from './curve-view.ts';
import { drawCurves } from './draw-curves.ts';
import { xToFrame, zoomed } from './time-axis.ts';

function curvesShown(shot: Shot, selection: Selection): ShownCurve[] {
  return selectedChannels(shot, { ...selection, keys: {} }).flatMap((channel) => {
    const curve = curveOf(shot, selection.pass, channel);
    return curve.times.length > 0 ? [{ channel, curve }] : [];
  });
}

/** The function curves of what is selected, edited by hand. */
export function CurvesLane() {
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const tool = useRef<Tool | null>(null);
  const { width, height } = useSize(holder);
  const theme = useTheme((state) => state.name);
  const palette = PALETTES[theme];
  const shot = useBench(shownShot);
  const ghost = useBench(ghostShot);
  const selection = useBench((state) => state.session.selection);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const [values, setValues] = useState({ low: -1, high: 1 });
  const [box, setBox] = useState<Tool['box']>(undefined);
  const [readout, setReadout] = useState<string | null>(null);

  const curves = useMemo(() => curvesShown(shot, selection), [shot, selection]);
  const view = useMemo(
    () => ({ axis: { from, to, width: Math.max(width, 1) }, ...values, height: Math.max(height, 1) }),
    [from, to, width, height, values],
  );

  const frameAll = useCallback(() => {
    const { session } = useBench.getState();
    const { start, end } = session.shot.range;
    const shown = curvesShown(session.shot, session.selection);
    setValues(
      fitValues(
        shown.map(({ curve }) => curve),
        start,
        end,
      ),
    );
    const pad = Math.max(0.5, (end - start) * 0.02);
    bench.setAxis(start - pad, end + 2 * pad);
  }, []);
  useEffect(() => onFrameCurves(frameAll), [frameAll]);

  // Other channels, or another layer: show them whole. Keys that move do not move the view.
  const subject = `${selection.pass} ${selection.nodes.join()} ${selection.channels.join()} ${curves.length}`;
  useEffect(() => {
    const state = useBench.getState();
    const shown = curvesShown(state.session.shot, state.session.selection);
    setValues(
      fitValues(
        shown.map(({ curve }) => curve),
        state.session.shot.range.start,
        state.session.shot.range.end,
      ),
    );
  }, [subject]);

  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context) return;
    const ghosts = new Map(
      ghost ? curves.map(({ channel }) => [channel, curveOf(ghost, selection.pass, channel)]) : [],
    );
    drawCurves(context, { view, curves, ghosts, chosen: selection.keys, palette, theme });
  }, [view, curves, ghost, selection, palette, theme, width, height]);

  const scene: LaneScene = { view, curves, setValues: (low, high) => setValues({ low, high }) };
  const touchOf = (event: React.PointerEvent): Touch => {
    const place = event.currentTarget.getBoundingClientRect();
    return {
      x: event.clientX - place.left,
      y: event.clientY - place.top,
      shift: event.shiftKey,
      alt: event.altKey,
      pan: event.buttons === 4 || (event.altKey && event.buttons === 1 && tool.current === null),
    };
  };

  // React's own wheel listener is passive, and the page must not scroll.
  useEffect(() => {
    const target = holder.current;
    if (!target) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const place = target.getBoundingClientRect();
      const factor = Math.exp((event.deltaY || event.deltaX) * 0.0015);
      if (event.shiftKey) {
        const at = yToValue(view, event.clientY - place.top);
        setValues(({ low, high }) => ({ low: at - (at - low) * factor, high: at + (high - at) * factor }));
      } else {
        const axis = zoomed(view.axis, event.clientX - place.left, factor);
        bench.setAxis(axis.from, axis.to);
      }
    };
    target.addEventListener('wheel', wheel, { passive: false });
    return () => target.removeEventListener('wheel', wheel);
  }, [view]);

  const nothing = selection.nodes.length === 0;
  return (
    <div
      ref={holder}
      className="curves-lane"
      tabIndex={0}
      role="application"
      aria-label="Curves"
      data-view={`${from} ${to} ${values.low} ${values.high}`}
      onPointerDown={(event) => {
        if (event.button > 1) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        event.currentTarget.focus();
        tool.current = toolFor(touchOf(event), scene);
      }}
      onPointerMove={(event) => {
        const touch = touchOf(event);
        if (tool.current) {
          tool.current.move(touch, scene);
          setBox(tool.current.box && [...tool.current.box]);
        }
        setReadout(readoutAt(scene, touch));
      }}
      onPointerUp={(event) => {
        tool.current?.end(touchOf(event), scene);
        tool.current = null;
        setBox(undefined);
      }}
      onPointerCancel={() => {
        bench.cancelGesture();
        tool.current = null;
        setBox(undefined);
      }}
      onPointerLeave={() => setReadout(null)}
    >
      <canvas ref={canvas} style={{ width, height }} />
      {box && (
        <span
          className="marquee"
          style={{
            left: Math.min(box[0][0], box[1][0]),
            top: Math.min(box[0][1], box[1][1]),
            width: Math.abs(box[1][0] - box[0][0]),
            height: Math.abs(box[1][1] - box[0][1]),
          }}
        />
      )}
      {readout && <span className="readout">{readout}</span>}
      {curves.length === 0 && (
        <p className="soft hint curves-empty">
          {nothing
            ? 'Select a control to see its curves.'
            : selection.pass === null
              ? 'What is selected has no keys yet. Change a value, or press N for a key at the play-head.'
              : 'This pass holds nothing for what is selected yet: pose a control to key it here.'}
        </p>
      )}
    </div>
  );
}

/** Frame and value under the pointer; with one curve, its own value and slope there and the gaps to its keys on both sides. */
function readoutAt({ view, curves }: LaneScene, { x, y }: Touch): string {
  const frame = Math.round(xToFrame(view.axis, x));
  if (curves.length !== 1) return `frame ${frame}, ${yToValue(view, y).toFixed(1)}`;
  const { channel, curve } = curves[0]!;
  const unit = unitOf(splitChannel(channel).name);
  const next = bisectRight(curve.times, frame);
  const before = curve.times[next - 1];
  const after = curve.times[next];
  const gaps = [
    before === undefined ? null : `${Math.round(frame - before)} after a key`,
    after === undefined ? null : `${Math.round(after - frame)} ahead of one`,
  ].filter((gap) => gap !== null);
  const slope = slopeAt(curve, frame);
  return [
    `frame ${frame}`,
    `${evaluate(curve, frame).toFixed(2)} ${unit}`,
    `slope ${(Math.abs(slope) < 0.005 ? 0 : slope).toFixed(2)}`,
    ...gaps,
  ].join(', ');
}
