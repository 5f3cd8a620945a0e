import { useRef } from 'react';
import type { Layer } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { useDial } from '../figure/use-dial.ts';
import { layerEdits } from './layer-edits.ts';
import { useTyped } from '../figure/use-typed.ts';

interface WeightFieldProps {
  readonly pass: Layer;
  readonly weight: number;
  /** The frame at which it is keyed; null where it is one weight for the whole shot. */
  readonly frame: number | null;
}

/** Presses that come faster than this are one step of the history. */
const PRESSES_MS = 700;
/** Percent for a pixel of a drag, and for a press of an arrow. */
const PER_PIXEL = 1;
const STEP = 1;
const FINE = 0.01;
const [LEAST, MOST] = [-200, 300];

/** To the hundredth of a percent, without noughts at the end. */
const written = (percent: number) => String(Math.round(percent * 100) / 100);

/** The weight of a pass, or the strength of a filter, in percent: typed, dialled by dragging sideways, or with the arrows; Alt by the hundredth, Shift by ten. */
export function WeightField({ pass, weight, frame }: WeightFieldProps) {
  const resting = useRef(0);
  const percent = weight * 100;
  const { word, weigh, weighing } = layerEdits(pass);

  const isDialled = () => useBench.getState().gesture?.edit === weigh;
  const dial = (to: number) => {
    if (!isDialled()) bench.beginGesture(weigh);
    const within = Math.min(MOST, Math.max(LEAST, Math.round(to * 100) / 100));
    bench.updateGesture(weighing(within / 100, { frame }));
  };
  const commit = () => {
    window.clearTimeout(resting.current);
    if (isDialled()) bench.commitGesture(`${word} of ${pass.name}`);
  };
  const typed = useTyped(written(percent), dial);
  const hold = useDial({
    value: pass.locked ? null : percent,
    drag: (from, pixels, { alt, shift }) => dial(from + pixels * PER_PIXEL * (alt ? FINE : shift ? 10 : 1)),
    end: commit,
    cancel: bench.cancelGesture,
  });
  return (
    <input
      className="value pass-percent"
      role="spinbutton"
      inputMode="decimal"
      aria-label={`${word} of ${pass.name}`}
      aria-valuenow={percent}
      aria-valuetext={`${written(percent)} %`}
      title={`${word} in percent: type it, drag sideways, or use the arrows; Alt by the hundredth, Shift by ten`}
      disabled={pass.locked}
      value={typed.text}
      onChange={(event) => typed.change(event.target.value)}
      onBlur={() => {
        typed.leave();
        commit();
      }}
      onKeyDown={(event) => {
        const way = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
        // What was dialled is taken back before the field is left.
        if (event.key === 'Escape' && isDialled()) bench.cancelGesture();
        if (way === 0) return typed.press(event);
        event.preventDefault();
        typed.forget();
        dial(percent + way * (event.altKey ? FINE : event.shiftKey ? 10 * STEP : STEP));
        window.clearTimeout(resting.current);
        resting.current = window.setTimeout(commit, PRESSES_MS);
      }}
      {...hold}
    />
  );
}
