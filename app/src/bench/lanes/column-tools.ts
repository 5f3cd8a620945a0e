/** What a hand does in the poses lane: a press on a column drags it, elsewhere it scrubs; Shift selects columns. */
import { poseColumns } from '@kneader/core';
import type { Shot } from '@kneader/core';
import type { DragActs } from '../gestures/drag.ts';
import { bench, useBench } from '../bench-store.ts';
import { snappedBy } from './snapped.ts';
import { frameToX, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** A place in the lane, pixels from its left. */
export interface ColumnTouch {
  readonly x: number;
  readonly shift: boolean;
  readonly ctrl: boolean;
}

export type ColumnTool = Pick<DragActs, 'start' | 'end' | 'click' | 'cancel'> & {
  readonly move: (touch: ColumnTouch) => void;
};

const REACH = 6;

export function columnToolFor(start: ColumnTouch, axis: TimeAxis): ColumnTool {
  const { shot } = useBench.getState().session;
  const { frames } = poseColumns(shot);
  if (start.shift) return selecting(shot, start, axis);
  const k = frames.findIndex((frame, i) => i > 0 && Math.abs(frameToX(axis, frame) - start.x) < REACH);
  return k > 0 ? dragging(frames, k, start, axis) : scrubbing(shot, start, axis);
}

/** The column nearest to a place; on captured motion just the frame. */
function nearest(shot: Shot, x: number, axis: TimeAxis): number {
  const at = xToFrame(axis, x);
  const { frames } = poseColumns(shot);
  if (frames.length === 0) return Math.round(at);
  return frames.reduce((best, frame) => (Math.abs(frame - at) < Math.abs(best - at) ? frame : best));
}

function scrubbing(shot: Shot, start: ColumnTouch, axis: TimeAxis): ColumnTool {
  const before = useBench.getState().frame;
  bench.setFrame(nearest(shot, start.x, axis));
  return {
    move: (touch) => bench.setFrame(nearest(shot, touch.x, axis)),
    cancel: () => bench.setFrame(before),
  };
}

/** From the column at the play-head to the one that is pressed, and on while it is dragged. */
function selecting(shot: Shot, start: ColumnTouch, axis: TimeAxis): ColumnTool {
  const { session, frame } = useBench.getState();
  const { range } = session.selection;
  const pressed = nearest(shot, start.x, axis);
  const anchor = range
    ? Math.abs(pressed - range.start) > Math.abs(pressed - range.end)
      ? range.start
      : range.end
    : frame;
  const reach = (to: number) => {
    const [low, high] = [Math.min(anchor, to), Math.max(anchor, to)];
    const { selection } = useBench.getState().session;
    bench.select({ ...selection, range: high > low ? { start: low, end: high } : null });
  };
  reach(pressed);
  return {
    move: (touch) => reach(nearest(shot, touch.x, axis)),
    cancel: () => bench.select({ ...useBench.getState().session.selection, range }),
  };
}

/** The gap before the column follows the hand, and with it everything later; with the switch off, or Ctrl, the column alone, between its neighbours. Never below a frame. */
function dragging(frames: readonly number[], k: number, start: ColumnTouch, axis: TimeAxis): ColumnTool {
  const before = frames[k - 1]!;
  const { timeScope: scope, ripples: isOn } = useBench.getState().lane;
  const next = frames[k + 1] ?? useBench.getState().session.shot.range.end;
  return {
    start: () => bench.beginGesture('timing.setGap'),
    move(touch) {
      const moved = snappedBy(axis, frames[k]!, xToFrame(axis, touch.x) - xToFrame(axis, start.x));
      const frame = Math.round(frames[k]! + moved);
      // Ctrl comes and goes on the way.
      const ripples = isOn !== touch.ctrl;
      // A pose at the end of the shot has no room: the edit says so.
      const most = ripples || next <= frames[k]! ? Infinity : next - before - 1;
      bench.updateGesture({
        frame: before,
        gap: Math.min(Math.max(1, frame - before), most),
        scope,
        ripples,
      });
    },
    end: () => bench.commitGesture(),
    click: () => bench.setFrame(frames[k]!),
    cancel: bench.cancelGesture,
  };
}
