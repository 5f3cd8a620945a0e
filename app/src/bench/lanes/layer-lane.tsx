import {
  AppstoreOutlined,
  DeleteOutlined,
  ExclamationCircleOutlined,
  EyeInvisibleOutlined,
  EyeOutlined,
  FilterOutlined,
  HolderOutlined,
  LockOutlined,
  UnlockOutlined,
} from '../../theme/icons.tsx';
import { useEffect, useMemo, useRef } from 'react';
import {
  curvesIn,
  envelopeAt,
  evaluate,
  isBlock,
  isKeyed,
  layerMarks,
  meansWeight,
  onLayer,
  rowAtTime,
  sampleInto,
  isKeyedWeight,
} from '@kneader/core';
import type { Layer } from '@kneader/core';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES, PASS_HUES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { beginDrag, isDragging } from '../gestures/drag.ts';
import type { DragPoint } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { frameToX, xToFrame } from './time-axis.ts';
import { WeightField } from './weight-field.tsx';
import { layerEdits, openWeight, dialledEdit } from './layer-edits.ts';
import { draggedRange, handleAt, handleFrames } from './range-handles.ts';
import { weightAt, weightToY } from './weight-view.ts';

/** Pixels within which a key of a weight is hit. */
const REACH = 8;

interface LayerHeadProps {
  readonly pass: Layer;
  /** What makes the grip one, where the pass can be carried. */
  readonly grip: React.ComponentProps<'button'> | null;
}

/** Held longer than this the eye shows the shot without the layer until it is let go; shorter, it mutes. */
const HOLD_MS = 250;

/** The head of a layer's row: choose it to be worked on, dial how much of it counts, mute, lock, remove. */
export function LayerHead({ pass, grip }: LayerHeadProps) {
  const chosen = useBench((state) => state.session.selection.layer === pass.id);
  const frame = useBench((state) => state.frame);
  const weight = evaluate(pass.weight, frame, 1);
  const keyed = isKeyedWeight(pass.weight);
  const here = keyed && rowAtTime(pass.weight, frame) >= 0;
  const keyable = isKeyed(pass);
  const shot = useBench((state) => state.session.shot);
  const marks = useMemo(
    () =>
      shot.layers.includes(pass)
        ? layerMarks(shot, pass)
            .map(({ sentence }) => sentence)
            .join(' ')
        : '',
    [shot, pass],
  );
  const turned = useBench((state) => state.openEdit === dialledEdit(pass) && state.filter === pass.id);
  const { word, weigh, weighing, set, setting, remove } = layerEdits(pass);
  const pressed = useRef(0);
  const choose = () => {
    const { selection } = useBench.getState().session;
    if (keyable) bench.select(onLayer(selection, chosen && !meansWeight(selection) ? null : pass.id));
    else {
      bench.chooseFilter(pass.id);
      bench.openEdit(turned ? null : dialledEdit(pass));
    }
  };
  return (
    <div
      className={`lane-head pass-head${chosen || turned ? ' on' : ''}`}
      style={{ borderLeftColor: PASS_HUES[pass.colour] }}
    >
      {grip && (
        <button
          type="button"
          className="icon lane-grip"
          {...grip}
          aria-label={`Move ${pass.name} in the stack`}
        >
          <HolderOutlined />
        </button>
      )}
      <button
        type="button"
        className="pass-name"
        aria-pressed={chosen || turned}
        title={`${pass.name}: ${keyable ? (chosen ? 'this layer is worked on' : 'work on this layer') : 'turn what it does'}`}
        onClick={choose}
      >
        {!keyable && (isBlock(pass) ? <AppstoreOutlined /> : <FilterOutlined />)} {pass.name}
      </button>
      {marks !== '' && (
        <button
          type="button"
          className="icon layer-mark"
          aria-label={`Look at ${pass.name}: ${marks}`}
          title={marks}
          onClick={() => {
            bench.select(onLayer(useBench.getState().session.selection, pass.id));
            bench.openEdit('passes.set');
          }}
        >
          <ExclamationCircleOutlined />
        </button>
      )}
      {/* Right after the name, which gives way: what stands on its right never moves under the hand. */}
      <button
        type="button"
        className="icon seldom"
        aria-label={`${pass.locked ? 'Unlock' : 'Lock'} ${pass.name}`}
        aria-pressed={pass.locked}
        onClick={() =>
          bench.perform(
            set,
            setting({ locked: !pass.locked }),
            undefined,
            `${pass.name}: ${pass.locked ? 'unlocked' : 'locked'}`,
          )
        }
      >
        {pass.locked ? <LockOutlined /> : <UnlockOutlined />}
      </button>
      <button
        type="button"
        className="icon seldom"
        aria-label={`Remove ${pass.name}`}
        disabled={pass.locked}
        onClick={remove}
      >
        <DeleteOutlined />
      </button>
      <WeightField pass={pass} weight={weight} frame={keyed ? frame : null} />
      <button
        type="button"
        className="bead-button"
        title={`${here ? `The ${word.toLowerCase()} is keyed` : `Key the ${word.toLowerCase()}`} on this frame`}
        aria-label={`Key the ${word.toLowerCase()} of ${pass.name}`}
        disabled={pass.locked}
        onClick={() => bench.perform(weigh, weighing(weight, { frame }))}
      >
        <span className={`bead${here ? ' keyed' : ''}`} />
      </button>
      <button
        type="button"
        className="icon"
        aria-label={`${pass.muted ? 'Unmute' : 'Mute'} ${pass.name}`}
        aria-pressed={pass.muted}
        title="Mute; held, it shows the shot without it until let go"
        onPointerDown={() => {
          pressed.current = performance.now();
          bench.peek(pass.id);
        }}
        onPointerUp={() => bench.peek(null)}
        onPointerLeave={() => bench.peek(null)}
        onClick={(event) => {
          // By keyboard a click has no press before it.
          const held = event.detail > 0 && performance.now() - pressed.current > HOLD_MS;
          if (!held)
            bench.perform(
              set,
              setting({ muted: !pass.muted }),
              undefined,
              `${pass.name}: ${pass.muted ? 'unmuted' : 'muted'}`,
            );
        }}
      >
        {pass.muted ? <EyeInvisibleOutlined /> : <EyeOutlined />}
      </button>
    </div>
  );
}

/**
 * How much of a layer counts over time, edited in place: a key of its weight is dragged, up for more and along the frames; a double-click makes
 * one. A click shows it as a curve in the lane of the curves. The ends of its range are dragged in the lower half, the ends of its ramps in the upper.
 */
export function LayerTrack({ pass }: { readonly pass: Layer }) {
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(holder);
  const palette = PALETTES[useTheme((state) => state.name)];
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const nodes = useBench((state) => state.session.shot.nodes);
  const { word, weigh, weighing, set, setting } = layerEdits(pass);
  const handleNear = (x: number, y: number) =>
    pass.range &&
    handleAt(pass.range, (frame) => frameToX({ from, to, width }, frame), x, y < height / 2, REACH);
  const hitKey = (x: number, y: number) =>
    pass.weight.times.length < 2
      ? -1
      : pass.weight.times.findIndex(
          (time, row) =>
            Math.hypot(
              frameToX({ from, to, width }, time) - x,
              weightToY(pass.weight.values[row]!, height) - y,
            ) < REACH,
        );
  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context || width < 2) return;
    const axis = { from, to, width };
    const times = Float64Array.from({ length: Math.ceil(width / 2) + 1 }, (_, i) => xToFrame(axis, i * 2));
    const weights = new Float64Array(times.length);
    sampleInto(weights, 0, 1, pass.weight, times, 1);
    const yOf = (weight: number) => weightToY(weight, height);
    context.beginPath();
    context.moveTo(0, height);
    const { range } = pass;
    weights.forEach((weight, i) =>
      context.lineTo(i * 2, yOf(range ? weight * envelopeAt(range, times[i]!) : weight)),
    );
    context.lineTo(width, height);
    context.fillStyle = PASS_HUES[pass.colour]!;
    context.globalAlpha = pass.muted ? 0.1 : 0.32;
    context.fill();
    context.globalAlpha = 1;
    const frames = new Set<number>();
    for (const [, curve] of curvesIn(pass.curves, nodes)) for (const time of curve.times) frames.add(time);
    context.fillStyle = palette.ink;
    for (const frame of frames) {
      context.beginPath();
      context.arc(frameToX(axis, frame), height / 2, 3.2, 0, 2 * Math.PI);
      context.fill();
    }
    context.strokeStyle = palette.ink;
    if (range) {
      const at = handleFrames(range);
      context.lineWidth = 2;
      for (const frame of [at.start, at.end]) {
        const x = frameToX(axis, frame);
        context.beginPath();
        context.moveTo(x, 4);
        context.lineTo(x, height - 4);
        context.stroke();
      }
      context.lineWidth = 1;
      for (const frame of [at.rampIn, at.rampOut]) {
        const x = frameToX(axis, frame);
        context.beginPath();
        context.moveTo(x - 4, 2);
        context.lineTo(x + 4, 2);
        context.lineTo(x, 8);
        context.closePath();
        context.stroke();
      }
    }
    if (isKeyedWeight(pass.weight)) {
      pass.weight.times.forEach((time, row) =>
        context.strokeRect(frameToX(axis, time) - 2.5, yOf(pass.weight.values[row]!) - 2.5, 5, 5),
      );
    }
  }, [pass, width, height, from, to, nodes, palette]);
  return (
    <div
      ref={holder}
      className="pass-track"
      role="img"
      aria-label={`${word} and keys of ${pass.name}`}
      onPointerDown={(event) => {
        const place = event.currentTarget.getBoundingClientRect();
        const [x, y] = [event.clientX - place.left, event.clientY - place.top];
        if (pass.locked) return;
        const row = hitKey(x, y);
        const handle = row < 0 ? handleNear(x, y) : null;
        const { range } = pass;
        event.currentTarget.setPointerCapture(event.pointerId);
        const frameAt = (at: DragPoint) => Math.round(xToFrame({ from, to, width }, at.x - place.left));
        if (handle && range)
          beginDrag(event, {
            start: () => bench.beginGesture(set),
            move: (at) => bench.updateGesture(setting({ range: draggedRange(range, handle, frameAt(at)) })),
            end: () => bench.commitGesture(`Range of ${pass.name}`),
            cancel: bench.cancelGesture,
          });
        else
          beginDrag(event, {
            start: () => row >= 0 && bench.beginGesture(weigh),
            move: (at) =>
              row >= 0 &&
              bench.updateGesture(
                weighing(weightAt(at.y - place.top, height), {
                  frame: frameAt(at),
                  from: pass.weight.times[row]!,
                }),
              ),
            end: () => row >= 0 && bench.commitGesture(`${word} of ${pass.name}`),
            click: () => openWeight(pass, row < 0 ? null : pass.weight.ids[row]!),
            cancel: bench.cancelGesture,
          });
      }}
      onPointerMove={(event) => {
        if (isDragging()) return;
        const place = event.currentTarget.getBoundingClientRect();
        const [x, y] = [event.clientX - place.left, event.clientY - place.top];
        const cursor = pass.locked ? '' : hitKey(x, y) >= 0 ? 'move' : handleNear(x, y) ? 'ew-resize' : '';
        event.currentTarget.style.cursor = cursor;
      }}
      onDoubleClick={(event) => {
        if (pass.locked) return;
        const place = event.currentTarget.getBoundingClientRect();
        const [x, y] = [event.clientX - place.left, event.clientY - place.top];
        if (hitKey(x, y) >= 0) return;
        const frame = Math.round(xToFrame({ from, to, width }, x));
        // On the curve, wherever in the lane the hand was.
        bench.perform(weigh, weighing(evaluate(pass.weight, frame, 1), { frame }));
      }}
    >
      <canvas ref={canvas} style={{ width, height }} />
    </div>
  );
}
