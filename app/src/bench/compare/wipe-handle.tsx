import { useRef } from 'react';
import { setCompare, useCompare } from './compare-store.ts';

const STEP = 0.02;
const clamped = (part: number) => Math.min(Math.max(part, 0), 1);

/** The line between the two, to be dragged across the picture. */
export function WipeHandle() {
  const wipe = useCompare((state) => state.wipe);
  const line = useRef<HTMLDivElement>(null);
  const drag = ({ clientX }: { readonly clientX: number }) => {
    const box = line.current?.parentElement?.getBoundingClientRect();
    if (box && box.width > 0) setCompare({ wipe: clamped((clientX - box.left) / box.width) });
  };
  return (
    <div
      ref={line}
      className="wipe-line"
      role="slider"
      tabIndex={0}
      aria-label="Wipe"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(wipe * 100)}
      style={{ left: `${wipe * 100}%` }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        event.preventDefault();
        event.stopPropagation();
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && drag(event)}
      onKeyDown={({ key }) => {
        const by = key === 'ArrowLeft' ? -STEP : key === 'ArrowRight' ? STEP : 0;
        if (by !== 0) setCompare({ wipe: clamped(wipe + by) });
        if (key === 'Home' || key === 'End') setCompare({ wipe: key === 'Home' ? 0 : 1 });
      }}
    >
      <span />
    </div>
  );
}
