import { CaretDownOutlined, CaretRightOutlined, HolderOutlined } from '../../theme/icons.tsx';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { ReactNode } from 'react';
import { beginDrag } from '../gestures/drag.ts';
import { laneLayout, useLaneLayout } from './lane-layout.ts';
import type { LaneId } from './lane-layout.ts';

interface LaneProps {
  readonly id: LaneId;
  readonly name: string;
  /** Beside the name, also while it is folded. */
  readonly aside?: ReactNode;
  /** Under the name. */
  readonly head?: ReactNode;
  readonly track: ReactNode;
  /** Pixels, until a hand sets another; left out, the lane takes what the others leave. */
  readonly height?: number;
}

/** One lane of the stack: folded with its arrow, moved by its grip, made higher or lower at its lower edge. */
export function Lane({ id, name, aside, head, track, height }: LaneProps) {
  const folded = useLaneLayout((layout) => layout.folded.includes(id));
  const set = useLaneLayout((layout) => layout.heights[id]);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id });
  const grows = height === undefined && !folded;
  const pixels = folded ? FOLDED : (set ?? height);
  return (
    <div
      ref={setNodeRef}
      className={`lane${grows ? ' lane-grows' : ''}${isDragging ? ' dragged' : ''}`}
      style={{
        ...(grows ? {} : { height: pixels }),
        transform: CSS.Translate.toString(transform),
        transition,
      }}
    >
      <div className="lane-head lane-head-column">
        <span className="lane-title">
          <button
            type="button"
            className="icon"
            aria-expanded={!folded}
            aria-label={`${folded ? 'Open' : 'Fold'} the lane ${name}`}
            onClick={() => laneLayout.fold(id, !folded)}
          >
            {folded ? <CaretRightOutlined /> : <CaretDownOutlined />}
          </button>
          {name} {aside}
          <button
            type="button"
            ref={setActivatorNodeRef}
            className="icon lane-grip"
            {...attributes}
            {...listeners}
            aria-label={`Move the lane ${name}`}
          >
            <HolderOutlined />
          </button>
        </span>
        {!folded && head}
      </div>
      <div className="lane-track">{!folded && track}</div>
      {!folded && height !== undefined && <Edge id={id} name={name} height={set ?? height} />}
    </div>
  );
}

const FOLDED = 28;
/** Pixels for one press of an arrow. */
const PRESS = 12;

function Edge({ id, name, height }: { readonly id: LaneId; readonly name: string; readonly height: number }) {
  return (
    <div
      className="lane-edge"
      role="separator"
      tabIndex={0}
      aria-orientation="horizontal"
      aria-label={`Height of the lane ${name}`}
      aria-valuenow={height}
      onKeyDown={(event) => {
        const way = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
        if (way === 0) return;
        event.preventDefault();
        laneLayout.resize(id, height + way * PRESS);
      }}
      onPointerDown={(event) => {
        const from = event.clientY;
        event.currentTarget.setPointerCapture(event.pointerId);
        beginDrag(event, {
          move: ({ y }) => laneLayout.resize(id, height + y - from),
          cancel: () => laneLayout.resize(id, height),
        });
      }}
    />
  );
}
