import { useRef } from 'react';
import { envelopeAt, evaluate, SHORTEST_BLOCK } from '@kneader/core';
import type { Layer, LayerRange, PlacementSettings } from '@kneader/core';
import { PASS_HUES } from '../../theme/palette.ts';
import { bench, useBench } from '../bench-store.ts';
import { beginDrag } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { snappedBy } from './snapped.ts';
import { frameToX } from './time-axis.ts';

type Handle = 'body' | 'start' | 'end' | 'rampIn' | 'rampOut';

interface Drag {
  readonly handle: Handle;
  readonly range: LayerRange;
  readonly settings: PlacementSettings;
}

const HANDLES: readonly { readonly handle: Exclude<Handle, 'body'>; readonly words: string }[] = [
  { handle: 'start', words: 'Cuts its beginning off; with Shift it is stretched, and its end stays' },
  { handle: 'end', words: 'Cuts its end off; with Shift it is stretched, and its beginning stays' },
  { handle: 'rampIn', words: 'How long it comes in' },
  { handle: 'rampOut', words: 'How long it goes out' },
];

/**
 * A placed action in its row: dragged as a whole, cut at its ends, stretched with Shift at either; the ends of its ramps lie in the upper half.
 * By keyboard the arrows move it, with Shift cut or lengthen its end, with Control and Shift stretch it.
 */
export function BlockTrack({ block }: { readonly block: Layer }) {
  const holder = useRef<HTMLDivElement>(null);
  const { width } = useSize(holder);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const turned = useBench((state) => state.openEdit === 'actions.setPlacement' && state.filter === block.id);
  const { range } = block;
  const settings = block.settings as PlacementSettings;
  if (!range) return <div ref={holder} className="block-track" />;
  const axis = { from, to, width: Math.max(width, 1) };
  const xOf = (frame: number) => frameToX(axis, frame);
  const left = xOf(range.start);
  const wide = Math.max(xOf(range.end) - left, 4);

  const begin = (handle: Handle) => (event: React.PointerEvent) => {
    event.stopPropagation();
    if (block.locked) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const left = event.clientX;
    const held: Drag = { handle, range, settings };
    beginDrag(event, {
      start: () => bench.beginGesture(handle === 'body' ? 'actions.movePlacement' : 'actions.setPlacement'),
      move: (at) => {
        const stood = handle === 'body' ? range.start : frameOf(handle, range);
        const frames = snappedBy(axis, stood, ((at.x - left) * (to - from)) / axis.width);
        bench.updateGesture({ placement: block.id, ...dragged(held, frames, at.shift) });
      },
      end: () => bench.commitGesture(`${handle === 'body' ? 'Move' : 'Set up'} ${block.name}`),
      click: () => {
        bench.chooseFilter(block.id);
        bench.openEdit('actions.setPlacement');
      },
      cancel: bench.cancelGesture,
    });
  };
  const press = (event: React.KeyboardEvent) => {
    const by = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (event.key === 'Enter' || event.key === ' ') {
      bench.chooseFilter(block.id);
      bench.openEdit('actions.setPlacement');
    } else if (by === 0 || block.locked) return;
    else if (event.shiftKey && event.ctrlKey)
      bench.perform('actions.setPlacement', {
        placement: block.id,
        stretch: settings.factor * (1 + by / (range.end - range.start)),
      });
    else if (event.shiftKey)
      bench.perform('actions.setPlacement', { placement: block.id, end: range.end + by });
    else bench.perform('actions.movePlacement', { placement: block.id, frame: range.start + by });
    event.preventDefault();
    event.stopPropagation();
  };
  const length = (settings.to - settings.from) * settings.factor;
  const seams = Array.from(
    { length: Math.max(Math.ceil(settings.repeats) - 1, 0) },
    (_, i) => settings.first + length * (i + 1),
  );
  return (
    <div ref={holder} className="block-track">
      <div
        role="button"
        tabIndex={0}
        // The arrows are its own: see keys/key-owner.ts.
        data-arrows
        aria-label={`${block.name}, frames ${tidy(range.start)} to ${tidy(range.end)}`}
        aria-pressed={turned}
        className={`block${turned ? ' on' : ''}${block.muted ? ' muted' : ''}${block.locked ? ' locked' : ''}`}
        style={{ left, width: wide, ['--hue' as string]: PASS_HUES[block.colour] }}
        onPointerDown={begin('body')}
        onKeyDown={press}
      >
        <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden>
          <polygon points={shareOf(block, range)} />
        </svg>
        {seams
          .filter((seam) => seam > range.start && seam < range.end)
          .map((seam) => (
            <i key={seam} className="block-seam" style={{ left: xOf(seam) - left }} />
          ))}
        <span className="block-words">{wordsOf(block.name, settings)}</span>
        {!block.locked &&
          HANDLES.map(({ handle, words }) => (
            <i
              key={handle}
              className={`block-handle ${handle}`}
              title={words}
              style={{ left: xOf(frameOf(handle, range)) - left }}
              onPointerDown={begin(handle)}
            />
          ))}
      </div>
    </div>
  );
}

const tidy = (frame: number) => Math.round(frame * 100) / 100;

const frameOf = (handle: Exclude<Handle, 'body'>, { start, end, rampIn, rampOut }: LayerRange): number =>
  ({ start, end, rampIn: start + rampIn, rampOut: end - rampOut })[handle];

/** What of the block a drag changes. */
function dragged({ handle, range, settings }: Drag, frames: number, stretches: boolean): object {
  const { start, end, rampIn, rampOut } = range;
  const room = end - start;
  switch (handle) {
    case 'body':
      return { frame: start + frames };
    case 'start': {
      const begins = Math.min(start + frames, end - SHORTEST_BLOCK);
      return stretches
        ? { stretch: (settings.factor * (end - begins)) / room, stays: 'end' }
        : { start: begins };
    }
    case 'end': {
      const last = Math.max(end + frames, start + SHORTEST_BLOCK);
      return stretches ? { stretch: (settings.factor * (last - start)) / room } : { end: last };
    }
    case 'rampIn':
      return { rampIn: Math.min(Math.max(rampIn + frames, 0), room - rampOut) };
    case 'rampOut':
      return { rampOut: Math.min(Math.max(rampOut - frames, 0), room - rampIn) };
  }
}

function wordsOf(name: string, { factor, repeats, backward, adds }: PlacementSettings): string {
  const percent = Math.round(factor * 100);
  return [
    name,
    percent === 100 ? '' : `${percent} %`,
    repeats === 1 ? '' : `× ${tidy(repeats)}`,
    backward ? 'backward' : '',
    adds ? 'added' : '',
  ]
    .filter(Boolean)
    .join('  ');
}

/** How much of it counts, as a shape over the block. */
function shareOf({ weight }: Layer, range: LayerRange): string {
  const room = Math.max(range.end - range.start, 1e-9);
  const points = Array.from({ length: 49 }, (_, i) => {
    const frame = range.start + (room * i) / 48;
    const share = Math.min(Math.max(envelopeAt(range, frame) * evaluate(weight, frame, 1), 0), 1);
    return `${((100 * i) / 48).toFixed(2)},${(100 - 88 * share).toFixed(2)}`;
  });
  return `0,100 ${points.join(' ')} 100,100`;
}
