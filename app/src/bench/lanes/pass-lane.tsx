import {
  DeleteOutlined,
  EyeInvisibleOutlined,
  EyeOutlined,
  HolderOutlined,
  LockOutlined,
  UnlockOutlined,
} from '@ant-design/icons';
import { useEffect, useRef } from 'react';
import { curvesIn, evaluate, rowAtTime, sampleInto } from '@kneader/core';
import type { Layer } from '@kneader/core';
import { prepareCanvas } from '../../drawing/figure-drawing.ts';
import { PALETTES, PASS_HUES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { frameToX, xToFrame } from './time-axis.ts';
import { WeightField } from './weight-field.tsx';
import { weightAt, weightToY } from './weight-view.ts';

/** Pixels within which a key of a weight is hit. */
const REACH = 8;

interface PassHeadProps {
  readonly pass: Layer;
  /** What makes the grip one, where the pass can be carried. */
  readonly grip: React.ComponentProps<'button'> | null;
}

/** The head of a pass's lane: choose it as the layer that is worked on, dial its weight, mute, lock, remove. */
export function PassHead({ pass, grip }: PassHeadProps) {
  const chosen = useBench((state) => state.session.selection.pass === pass.id);
  const frame = useBench((state) => state.frame);
  const weight = evaluate(pass.weight, frame, 1);
  const keyed = pass.weight.times.length > 1;
  const here = keyed && rowAtTime(pass.weight, frame) >= 0;
  const choose = () => {
    const { selection } = useBench.getState().session;
    bench.select({ ...selection, pass: chosen ? null : pass.id, keys: {} });
  };
  return (
    <div
      className={`lane-head pass-head${chosen ? ' on' : ''}`}
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
        aria-pressed={chosen}
        title={`${pass.name}: ${chosen ? 'this layer is worked on' : 'work on this layer'}`}
        onClick={choose}
      >
        {pass.name}
      </button>
      <WeightField pass={pass} weight={weight} frame={keyed ? frame : null} />
      <button
        type="button"
        className="bead-button"
        title={here ? 'The weight is keyed on this frame' : 'Key the weight on this frame'}
        aria-label={`Key the weight of ${pass.name}`}
        disabled={pass.locked}
        onClick={() => bench.perform('passes.setWeight', { pass: pass.id, weight, frame })}
      >
        <span className={`bead${here ? ' keyed' : ''}`} />
      </button>
      <button
        type="button"
        className="icon"
        aria-label={`${pass.muted ? 'Unmute' : 'Mute'} ${pass.name}`}
        aria-pressed={pass.muted}
        onClick={() => bench.perform('passes.set', { pass: pass.id, muted: !pass.muted })}
      >
        {pass.muted ? <EyeInvisibleOutlined /> : <EyeOutlined />}
      </button>
      <button
        type="button"
        className="icon"
        aria-label={`${pass.locked ? 'Unlock' : 'Lock'} ${pass.name}`}
        aria-pressed={pass.locked}
        onClick={() => bench.perform('passes.set', { pass: pass.id, locked: !pass.locked })}
      >
        {pass.locked ? <LockOutlined /> : <UnlockOutlined />}
      </button>
      <button
        type="button"
        className="icon"
        aria-label={`Remove ${pass.name}`}
        disabled={pass.locked}
        onClick={() => bench.perform('passes.remove', { pass: pass.id })}
      >
        <DeleteOutlined />
      </button>
    </div>
  );
}

/**
 * The weight of a pass over time, edited in place: a key of it is dragged, up for more and along the frames; a double-click makes one.
 */
export function PassTrack({ pass }: { readonly pass: Layer }) {
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(holder);
  const palette = PALETTES[useTheme((state) => state.name)];
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const nodes = useBench((state) => state.session.shot.nodes);
  const held = useRef<{ readonly from: number; moved: boolean } | null>(null);
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
    weights.forEach((weight, i) => context.lineTo(i * 2, yOf(weight)));
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
    if (pass.weight.times.length > 1) {
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
      aria-label={`Weight and keys of ${pass.name}`}
      onPointerDown={(event) => {
        const place = event.currentTarget.getBoundingClientRect();
        const row = hitKey(event.clientX - place.left, event.clientY - place.top);
        if (row < 0 || pass.locked) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = { from: pass.weight.times[row]!, moved: false };
      }}
      onPointerMove={(event) => {
        const drag = held.current;
        if (!drag) return;
        const place = event.currentTarget.getBoundingClientRect();
        if (!drag.moved) bench.beginGesture('passes.setWeight');
        drag.moved = true;
        bench.updateGesture({
          pass: pass.id,
          from: drag.from,
          frame: Math.round(xToFrame({ from, to, width }, event.clientX - place.left)),
          weight: weightAt(event.clientY - place.top, height),
        });
      }}
      onPointerUp={() => {
        if (held.current?.moved) bench.commitGesture(`Weight of ${pass.name}`);
        held.current = null;
      }}
      onPointerCancel={() => {
        bench.cancelGesture();
        held.current = null;
      }}
      onDoubleClick={(event) => {
        if (pass.locked) return;
        const place = event.currentTarget.getBoundingClientRect();
        const [x, y] = [event.clientX - place.left, event.clientY - place.top];
        if (hitKey(x, y) >= 0) return;
        const frame = Math.round(xToFrame({ from, to, width }, x));
        bench.perform('passes.setWeight', { pass: pass.id, frame, weight: weightAt(y, height) });
      }}
    >
      <canvas ref={canvas} style={{ width, height }} />
    </div>
  );
}
