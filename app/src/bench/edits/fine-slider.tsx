import { useRef } from 'react';

interface FineSliderProps {
  readonly label: string;
  readonly value: number;
  /** The value runs from min to max on a logarithmic way; both > 0. */
  readonly min: number;
  readonly max: number;
  readonly onChange: (value: number) => void;
}

/** A slider over several powers of ten. With Shift held a drag goes ten times finer, from where the value is. */
export function FineSlider({ label, value, min, max, onChange }: FineSliderProps) {
  const track = useRef<HTMLDivElement>(null);
  const held = useRef<{ x: number; share: number } | null>(null);
  const span = Math.log(max / min);
  const shareOf = (at: number) => Math.min(1, Math.max(0, Math.log(Math.max(at, min) / min) / span));
  const valueOf = (share: number) =>
    Number((min * Math.exp(Math.min(1, Math.max(0, share)) * span)).toPrecision(3));
  const share = shareOf(value);
  const step = (by: number) => onChange(valueOf(share + by));
  return (
    <div
      ref={track}
      className="fine-slider"
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={value}
      title="With Shift: ten times finer"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const place = event.currentTarget.getBoundingClientRect();
        const at = event.shiftKey ? share : (event.clientX - place.left) / place.width;
        held.current = { x: event.clientX, share: at };
        onChange(valueOf(at));
      }}
      onPointerMove={(event) => {
        const from = held.current;
        if (!from) return;
        const moved =
          ((event.clientX - from.x) / event.currentTarget.clientWidth) * (event.shiftKey ? 0.1 : 1);
        held.current = { x: event.clientX, share: Math.min(1, Math.max(0, from.share + moved)) };
        onChange(valueOf(held.current.share));
      }}
      onPointerUp={() => (held.current = null)}
      onKeyDown={(event) => {
        const by = event.shiftKey ? 0.004 : 0.02;
        if (event.key === 'ArrowRight' || event.key === 'ArrowUp') step(by);
        else if (event.key === 'ArrowLeft' || event.key === 'ArrowDown') step(-by);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <span className="fine-fill" style={{ width: `${share * 100}%` }} />
      <span className="fine-knob" style={{ left: `${share * 100}%` }} />
    </div>
  );
}
