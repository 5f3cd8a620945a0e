/**
 * What a hand does in the curves lane, as a small state for each thing: resting, a marquee, dragging keys, dragging a
 * handle, panning. Each takes the pointer's way and says what to do; the lane only passes events on.
 */
import { select } from '@kneader/core';
import type { ChannelId } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { hitAt, keysInBox } from './curve-hits.ts';
import type { Hit, ShownCurve } from './curve-hits.ts';
import { yToValue } from './curve-view.ts';
import type { CurveView } from './curve-view.ts';
import { xToFrame } from './time-axis.ts';

/** The pointer in the lane, and what lies there. */
export interface Touch {
  readonly x: number;
  readonly y: number;
  readonly shift: boolean;
  readonly alt: boolean;
  /** Whether the hand wants to move the view: the middle button, or Alt. */
  readonly pan: boolean;
}

export interface LaneScene {
  readonly view: CurveView;
  readonly curves: readonly ShownCurve[];
  /** Moves the values that the lane shows. */
  readonly setValues: (low: number, high: number) => void;
}

export interface Tool {
  move(touch: Touch, scene: LaneScene): void;
  end(touch: Touch, scene: LaneScene): void;
  /** A box to draw, while there is one. */
  readonly box?: readonly [readonly [number, number], readonly [number, number]];
}

const DRAG_FROM = 3;

/** The state that a press begins. */
export function toolFor(touch: Touch, scene: LaneScene): Tool {
  if (touch.pan) return panning(touch, scene);
  const { selection } = useBench.getState().session;
  const hit = hitAt(scene.view, scene.curves, selection.keys, touch.x, touch.y);
  if (hit === null) return marquee(touch);
  if (hit.kind === 'handle') return draggingHandle(hit, scene);
  return draggingKeys(touch, hit);
}

function panning(start: Touch, scene: LaneScene): Tool {
  const { axis, low, high, height } = scene.view;
  return {
    move(touch) {
      const frames = ((touch.x - start.x) / axis.width) * (axis.to - axis.from);
      const values = ((touch.y - start.y) / height) * (high - low);
      bench.setAxis(axis.from - frames, axis.to - frames);
      scene.setValues(low + values, high + values);
    },
    end: () => undefined,
  };
}

function marquee(start: Touch): Tool & { box?: [[number, number], [number, number]] } {
  const tool: Tool & { box?: [[number, number], [number, number]] } = {
    move(touch) {
      tool.box = [
        [start.x, start.y],
        [touch.x, touch.y],
      ];
    },
    end(touch, scene) {
      const { selection } = useBench.getState().session;
      const small = Math.hypot(touch.x - start.x, touch.y - start.y) < DRAG_FROM;
      const found = small ? {} : keysInBox(scene.view, scene.curves, [start.x, start.y], [touch.x, touch.y]);
      bench.select({ ...selection, keys: start.shift ? united(selection.keys, found) : found });
    },
  };
  return tool;
}

type Keys = Readonly<Record<ChannelId, readonly number[]>>;

function united(a: Keys, b: Keys): Keys {
  const result: Record<ChannelId, readonly number[]> = { ...a };
  for (const [channel, ids] of Object.entries(b))
    result[channel] = [...new Set([...(a[channel] ?? []), ...ids])];
  return result;
}

/** Pressing a key chooses it; a drag moves all chosen keys, Shift along one direction only. */
function draggingKeys(start: Touch, hit: Hit): Tool {
  const { selection } = useBench.getState().session;
  const was = selection.keys[hit.channel]?.includes(hit.id) ?? false;
  let moved = false;
  if (!was)
    bench.select({
      ...selection,
      keys: start.shift ? united(selection.keys, { [hit.channel]: [hit.id] }) : { [hit.channel]: [hit.id] },
    });
  return {
    move(touch, { view }) {
      if (!moved && Math.hypot(touch.x - start.x, touch.y - start.y) < DRAG_FROM) return;
      if (!moved) bench.beginGesture('keys.move');
      moved = true;
      let dx = touch.x - start.x;
      let dy = touch.y - start.y;
      if (touch.shift) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      const frames = Math.round(xToFrame(view.axis, dx) - view.axis.from);
      bench.updateGesture({ frames, value: yToValue(view, dy) - yToValue(view, 0) });
    },
    end() {
      if (moved) bench.commitGesture();
      else if (was && start.shift) {
        const rest = selection.keys[hit.channel]!.filter((id) => id !== hit.id);
        bench.select({ ...selection, keys: { ...selection.keys, [hit.channel]: rest } });
      }
    },
  };
}

/** Turns a handle; on weighted tangents, or with Alt, its length follows too. Shift keeps it level. */
function draggingHandle(hit: Extract<Hit, { kind: 'handle' }>, scene: LaneScene): Tool {
  const shown = scene.curves.find(({ channel }) => channel === hit.channel)!;
  const time = shown.curve.times[hit.row]!;
  const value = shown.curve.values[hit.row]!;
  const before = useBench.getState().session.selection;
  let moved = false;
  return {
    move(touch, { view }) {
      if (!moved) {
        // Only this key turns, though others may be chosen.
        useBench.setState((state) => ({
          session: select(state.session, { ...before, keys: { [hit.channel]: [hit.id] } }),
        }));
        bench.beginGesture('tangents.set');
      }
      moved = true;
      const way = hit.side === 'in' ? -1 : 1;
      const frames = Math.max((xToFrame(view.axis, touch.x) - time) * way, 0.02);
      const slope = touch.shift ? 0 : ((yToValue(view, touch.y) - value) / frames) * way;
      const weighted = touch.alt || (shown.curve.flags[hit.row]! & (hit.side === 'in' ? 4 : 8)) !== 0;
      bench.updateGesture({ side: hit.side, slope, ...(weighted ? { length: frames } : {}) });
    },
    end() {
      if (moved) bench.commitGesture();
    },
  };
}
