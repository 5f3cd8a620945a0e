import { useEffect, useEffectEvent, useRef } from 'react';
import { beginDrag } from '../gestures/drag.ts';

interface FineSliderProps {
  readonly label: string;
  readonly value: number;
  /** The value runs from min to max on a logarithmic way; both > 0. */
  readonly min: number;
  readonly max: number;
  readonly onChange: (value: number) => void;
}

/** So long after its panel was scrolled a wheel over a slider still means the panel. */
const SCROLLED_MS = 400;
/** Of its whole way. */
const [STEP, FINE_STEP] = [0.02, 0.004];

/** A slider over several powers of ten. A drag goes on from where the value is, wherever it begins: a press alone changes nothing. With Shift ten times finer; wheel and arrows step. */
export function FineSlider({ label, value, min, max, onChange }: FineSliderProps) {
  const track = useRef<HTMLDivElement>(null);
  const span = Math.log(max / min);
  const shareOf = (at: number) => Math.min(1, Math.max(0, Math.log(Math.max(at, min) / min) / span));
  const valueOf = (share: number) =>
    Number((min * Math.exp(Math.min(1, Math.max(0, share)) * span)).toPrecision(3));
  const share = shareOf(value);
  const step = (by: number) => onChange(valueOf(share + by));
  const turn = useEffectEvent((event: WheelEvent) => {
    event.preventDefault();
    step((event.deltaY < 0 ? 1 : -1) * (event.shiftKey ? FINE_STEP : STEP));
  });
  useEffect(() => {
    const own = track.current!;
    const list = own.closest('.edits-list');
    let scrolled = -Infinity;
    const scrolls = () => (scrolled = performance.now());
    const turns = (event: WheelEvent) => {
      if (performance.now() - scrolled > SCROLLED_MS) turn(event);
    };
    list?.addEventListener('scroll', scrolls);
    // React's own would be too late to keep the panel from scrolling.
    own.addEventListener('wheel', turns, { passive: false });
    return () => {
      list?.removeEventListener('scroll', scrolls);
      own.removeEventListener('wheel', turns);
    };
  }, []);
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
        const wide = event.currentTarget.clientWidth;
        let from = { x: event.clientX, share };
        beginDrag(event, {
          move: ({ x, shift }) => {
            const moved = ((x - from.x) / wide) * (shift ? 0.1 : 1);
            from = { x, share: Math.min(1, Math.max(0, from.share + moved)) };
            onChange(valueOf(from.share));
          },
          cancel: () => onChange(value),
        });
      }}
      onKeyDown={(event) => {
        const by = event.shiftKey ? FINE_STEP : STEP;
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
