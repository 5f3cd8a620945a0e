import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import {
  bisectRight,
  curveOf,
  evaluate,
  rigOf,
  rowOfId,
  slopeAt,
  splitChannel,
  stackOf,
  unitOf,
} from '@kneader/core';
import type { ChannelId, Shot, Signal } from '@kneader/core';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { onFrameCurves } from '../bench-actions.ts';
import type { Framing } from '../bench-actions.ts';
import { bench, ghostShot, shownShot, useBench } from '../bench-store.ts';
import { counted } from '../edits/numbers.ts';
import { beginDrag, isDragging, pointOf } from '../gestures/drag.ts';
import type { DragPoint } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { curveAt } from './curve-hits.ts';
import { pointerOver, toolFor } from './curve-tools.ts';
import type { LaneScene, Tool, Touch } from './curve-tools.ts';
import { fitValues, isMisfit, yToValue } from './curve-view.ts';
import { drawCurves } from './draw-curves.ts';
import { channelWords, shownCurves } from './lane-view.ts';
import { xToFrame, zoomed } from './time-axis.ts';
import { boxAround } from './transform-box.ts';

/** The function curves of what is selected, edited by hand. */
export function CurvesLane() {
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(holder);
  const theme = useTheme((state) => state.name);
  const palette = PALETTES[theme];
  const shot = useBench(shownShot);
  const ghost = useBench(ghostShot);
  const settled = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const lane = useBench((state) => state.lane);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const [values, setValues] = useState({ low: -1, high: 1 });
  const [marquee, setMarquee] = useState<Tool['box']>(undefined);
  const [readout, setReadout] = useState<string | null>(null);

  const curves = useMemo(() => shownCurves(shot, selection, lane, settled), [shot, selection, lane, settled]);
  const view = useMemo(
    () => ({ axis: { from, to, width: Math.max(width, 1) }, ...values, height: Math.max(height, 1) }),
    [from, to, width, height, values],
  );

  const showFrames = useCallback((what: Framing) => {
    const { session, lane: shown } = useBench.getState();
    const found = framesFor(what);
    if (!found) return;
    if (what !== 'range') setValues(fitValues(shownCurves(session.shot, session.selection, shown), ...found));
    if (what === 'values') return;
    const pad = Math.max(0.5, (found[1] - found[0]) * 0.02);
    bench.setAxis(found[0] - pad, found[1] + 2 * pad);
  }, []);
  useEffect(() => onFrameCurves(showFrames), [showFrames]);

  // Other channels, another layer or another measure: show them whole. Keys that move do not move the view.
  const subject = `${selection.layer} ${curves.map(({ channel }) => channel).join()} ${lane.normalised}`;
  useEffect(() => {
    const { session, lane: shown } = useBench.getState();
    const { start, end } = session.shot.range;
    setValues(fitValues(shownCurves(session.shot, session.selection, shown), start, end));
  }, [subject]);

  // An edit that takes curves out of sight, or leaves them a small part of the lane, shows them whole; a hand's own drag does not.
  const byHand = useBench((state) => state.gesture !== null);
  const wasByHand = useRef(false);
  useEffect(() => {
    if (byHand) {
      wasByHand.current = true;
      return;
    }
    if (wasByHand.current) {
      wasByHand.current = false;
      return;
    }
    const { session, lane: shown } = useBench.getState();
    const { start, end } = session.shot.range;
    const fit = fitValues(shownCurves(session.shot, session.selection, shown), start, end);
    setValues((now) => (isMisfit(now, fit) ? fit : now));
  }, [settled, byHand]);

  const shows = useMemo(() => shownOver(shot, selection.layer, curves), [shot, selection.layer, curves]);
  const box = useMemo(
    () => (lane.box ? boxAround(view, curves, selection.keys) : null),
    [lane.box, view, curves, selection.keys],
  );
  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context) return;
    const ghosts = new Map(
      ghost ? curves.map(({ channel }) => [channel, curveOf(ghost, selection.layer, channel)]) : [],
    );
    drawCurves(context, { view, curves, ghosts, shows, chosen: selection.keys, box, palette, theme });
  }, [view, curves, ghost, shows, selection, box, palette, theme, width, height]);

  const scene: LaneScene = {
    view,
    curves,
    boxed: lane.box,
    setValues: (low, high) => setValues({ low, high }),
  };
  // A drag goes by the view as it is by then.
  const latest = useRef(scene);
  useEffect(() => {
    latest.current = scene;
  });
  const touchAt = (at: DragPoint, pan: boolean): Touch => {
    const { left, top } = holder.current!.getBoundingClientRect();
    return { x: at.x - left, y: at.y - top, shift: at.shift, alt: at.alt, control: at.ctrl, pan };
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

  return (
    <div
      ref={holder}
      className="curves-lane"
      tabIndex={0}
      role="application"
      aria-label="Curves"
      data-view={`${from} ${to} ${values.low} ${values.high}`}
      data-curves={curves.length}
      data-box={box ? `${box.left} ${box.right} ${box.top} ${box.bottom}` : undefined}
      onPointerDown={(event) => {
        if (event.button > 1) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        event.currentTarget.focus();
        const pan = event.button === 1;
        const tool = toolFor(touchAt(pointOf(event), pan), scene);
        beginDrag(event, {
          start: () => tool.start?.(),
          move: (at) => {
            tool.move(touchAt(at, pan), latest.current);
            setMarquee(tool.box && [...tool.box]);
          },
          end: (at) => tool.end?.(touchAt(at, pan), latest.current),
          click: () => tool.click?.(),
          cancel: tool.cancel,
          settle: () => setMarquee(undefined),
        });
      }}
      onPointerMove={(event) => {
        const touch = touchAt(pointOf(event), false);
        // While something is held the pointer stays what it was when the hand took hold.
        if (!isDragging()) event.currentTarget.style.cursor = pointerOver(touch, scene);
        setReadout(readoutAt(scene, touch));
      }}
      onPointerLeave={() => setReadout(null)}
    >
      <canvas ref={canvas} style={{ width, height }} />
      {marquee && (
        <span
          className="marquee"
          style={{
            left: Math.min(marquee[0][0], marquee[1][0]),
            top: Math.min(marquee[0][1], marquee[1][1]),
            width: Math.abs(marquee[1][0] - marquee[0][0]),
            height: Math.abs(marquee[1][1] - marquee[0][1]),
          }}
        />
      )}
      {readout && <span className="readout">{readout}</span>}
      {curves.length === 0 && <p className="soft hint curves-empty">{whyEmpty()}</p>}
    </div>
  );
}

/** More curves than this are too many for a second line each. */
const MOST_SHOWN = 40;

/** What shows of base curves that layers make something else of. On a pass its own keys have another measure. */
function shownOver(
  shot: Shot,
  pass: string | null,
  curves: readonly { readonly channel: ChannelId }[],
): ReadonlyMap<ChannelId, Signal> {
  if (pass !== null || shot.layers.length === 0 || curves.length > MOST_SHOWN) return new Map();
  const { base, top } = stackOf(shot);
  const rig = rigOf(shot);
  return new Map(
    curves.flatMap(({ channel }) => {
      const c = rig.channelIndex(channel);
      return c >= 0 && top[c] !== base[c] ? [[channel, top[c]!] as const] : [];
    }),
  );
}

/** The frames that are asked for; null where there is nothing of the kind. */
function framesFor(what: Framing): [number, number] | null {
  const { session } = useBench.getState();
  const { shot, selection } = session;
  if (what !== 'keys') return [shot.range.start, shot.range.end];
  let [start, end] = [Infinity, -Infinity];
  for (const [channel, ids] of Object.entries(selection.keys)) {
    const curve = curveOf(shot, selection.layer, channel);
    for (const id of ids) {
      const time = curve.times[rowOfId(curve, id)] ?? NaN;
      if (time < start) start = time;
      if (time > end) end = time;
    }
  }
  if (start > end) return null;
  return end - start < 2 ? [start - 1, end + 1] : [start, end];
}

function whyEmpty(): string {
  const { session, lane } = useBench.getState();
  const { selection } = session;
  if (lane.filter.trim() !== '') return 'No channel here matches the filter.';
  if (lane.isolated.length > 0) return 'Other curves are isolated. Press I to show all again.';
  if (lane.showing === 'selected' && selection.nodes.length === 0)
    return 'Select a control to see its curves, or press C for the curves of everything.';
  if (lane.hidden.length > 0) return 'All curves here are hidden. Press Shift U to show them.';
  return selection.layer === null
    ? 'What is selected has no keys yet. Change a value, or press N for a key at the play-head.'
    : 'This pass holds nothing for what is selected yet: pose a control to key it here.';
}

/** Pixels from the pointer within which a curve is read. */
const NEAR = 14;

/** Frame and value under the pointer; near a curve its own value and slope there, and the gaps to its keys on both sides. */
function readoutAt({ view, curves }: LaneScene, { x, y }: Touch): string {
  const frame = Math.round(xToFrame(view.axis, x));
  const near = curves.length === 1 ? curves[0]! : curveAt(view, curves, x, y, NEAR);
  if (!near) {
    const value = yToValue(view, y);
    return curves[0]?.span
      ? `frame ${frame}, ${Math.round(value * 100)} % of each curve`
      : `frame ${frame}, ${value.toFixed(1)}`;
  }
  const { channel, curve } = near;
  const unit = unitOf(splitChannel(channel).name);
  const next = bisectRight(curve.times, frame);
  const before = curve.times[next - 1];
  const after = curve.times[next];
  const onKey = before !== undefined && Math.abs(frame - before) < 1e-6;
  const gaps = [
    onKey
      ? 'on a key'
      : before === undefined
        ? null
        : `${counted(Math.round(frame - before), 'frame')} after a key`,
    after === undefined ? null : `the next key in ${counted(Math.round(after - frame), 'frame')}`,
  ].filter((gap) => gap !== null);
  const slope = slopeAt(curve, frame);
  return [
    `frame ${frame}`,
    `${curves.length > 1 ? `${channelWords(channel)} ` : ''}${evaluate(curve, frame).toFixed(2)} ${unit}`,
    `slope ${(Math.abs(slope) < 0.005 ? 0 : slope).toFixed(2)}`,
    ...gaps,
  ].join(', ');
}
