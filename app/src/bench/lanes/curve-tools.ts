/**
 * What a hand does in the curves lane, as a small state for each thing: resting, a marquee, dragging keys, dragging a
 * handle, panning. Each takes the pointer's way and says what to do; the lane only passes events on.
 */
import { select } from '@kneader/core';
import type { Selection } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { unitedKeys } from '../keys/key-steps.ts';
import { hitAt, keysInBox } from './curve-hits.ts';
import type { Hit } from './curve-hits.ts';
import { ownView, yToValue } from './curve-view.ts';
import type { CurveView, ShownCurve } from './curve-view.ts';
import { boxAround, cursorOf, gripAt, transformOf } from './transform-box.ts';
import type { Box, Grip } from './transform-box.ts';
import { snappedBy } from './snapped.ts';
import { xToFrame } from './time-axis.ts';

/** The pointer in the lane, and what lies there. */
export interface Touch {
  readonly x: number;
  readonly y: number;
  readonly shift: boolean;
  readonly alt: boolean;
  readonly control: boolean;
  /** Whether the hand wants to move the view, whatever lies there: the middle button. */
  readonly pan: boolean;
}

export interface LaneScene {
  readonly view: CurveView;
  readonly curves: readonly ShownCurve[];
  /** Whether chosen keys wear the transform box. */
  readonly boxed: boolean;
  /** Moves the values that the lane shows. */
  readonly setValues: (low: number, high: number) => void;
}

/** What a drag does, by the pointer's way in the lane; see `gestures/drag.ts`. */
export interface Tool {
  readonly start?: () => void;
  move(touch: Touch, scene: LaneScene): void;
  end?(touch: Touch, scene: LaneScene): void;
  readonly click?: () => void;
  readonly cancel: () => void;
  /** A box to draw, while there is one. */
  readonly box?: readonly [readonly [number, number], readonly [number, number]];
}

type KeyChoice = Selection['keys'];

/** The pointer over the lane: it tells what a press would begin. */
export function pointerOver(touch: Touch, scene: LaneScene): string {
  if (touch.pan) return 'grab';
  const { keys } = useBench.getState().session.selection;
  const { hit, grip } = underPointer(touch, scene, keys);
  if (grip && (hit === null || grip.x !== 0 || grip.y !== 0)) return cursorOf(grip);
  if (hit === null) return touch.alt ? 'grab' : 'crosshair';
  return hit.kind === 'handle' ? 'grab' : 'move';
}

/** The transform box's grip and the key or handle that lie under the pointer. */
function underPointer(touch: Touch, { view, curves, boxed }: LaneScene, keys: KeyChoice) {
  const box = boxed ? boxAround(view, curves, keys) : null;
  return {
    box,
    grip: box && gripAt(box, touch.x, touch.y),
    hit: hitAt(view, curves, keys, touch.x, touch.y),
  };
}

/** How a gesture on the shot ends. */
const KEEPS = { end: () => bench.commitGesture(), cancel: bench.cancelGesture };

/** The state that a press begins. */
export function toolFor(touch: Touch, scene: LaneScene): Tool {
  if (touch.pan) return panning(touch, scene);
  const { selection } = useBench.getState().session;
  const chosen = Object.values(selection.keys).some((ids) => ids.length > 0);
  // Control moves what is chosen from anywhere: no key has to be hit.
  if (touch.control && chosen) return movingChosen(touch);
  const { box, grip, hit } = underPointer(touch, scene, selection.keys);
  if (box && grip && (grip.x !== 0 || grip.y !== 0)) return pullingBox(touch, scene, box, grip);
  if (hit === null && box && grip) return pullingBox(touch, scene, box, grip);
  if (hit === null) return touch.alt ? panning(touch, scene) : marquee(touch);
  if (hit.kind === 'handle') return draggingHandle(hit, scene);
  return draggingKeys(touch, hit, scene);
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
    cancel: () => {
      bench.setAxis(axis.from, axis.to);
      scene.setValues(low, high);
    },
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
      const found = keysInBox(scene.view, scene.curves, [start.x, start.y], [touch.x, touch.y]);
      bench.select({ ...selection, keys: touch.shift ? unitedKeys(selection.keys, found) : found });
    },
    click() {
      const { selection } = useBench.getState().session;
      if (!start.shift) bench.select({ ...selection, keys: {} });
    },
    cancel: () => undefined,
  };
  return tool;
}

/** Alt: about the middle. Shift: a corner tapers its end, the inside moves along one direction only. */
function pullingBox(start: Touch, scene: LaneScene, box: Box, grip: Grip): Tool {
  const { view, curves } = scene;
  return {
    start: () => bench.beginGesture('keys.transform'),
    move(touch) {
      let dx = touch.x - start.x;
      let dy = touch.y - start.y;
      if (touch.shift && grip.x === 0 && grip.y === 0) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      bench.updateGesture(
        transformOf(view, curves, box, grip, { dx, dy, centred: touch.alt, taper: touch.shift }),
      );
    },
    ...KEEPS,
  };
}

/**
 * Moves all chosen keys by the way of the pointer, each curve in its own measure; Shift along one direction only.
 * @param held the frame of the key in hand, which a marker draws to it
 */
function movingChosen(start: Touch, held: number | null = null): Tool {
  return {
    start: () => bench.beginGesture('keys.move'),
    move(touch, { view, curves }) {
      let dx = touch.x - start.x;
      let dy = touch.y - start.y;
      if (touch.shift) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      const valueBy = (own: CurveView) => yToValue(own, dy) - yToValue(own, 0);
      const frames = xToFrame(view.axis, dx) - view.axis.from;
      const measured = curves.filter(({ span }) => span !== undefined);
      bench.updateGesture({
        frames: held === null ? Math.round(frames) : snappedBy(view.axis, held, frames),
        value: valueBy(view),
        valueByChannel: Object.fromEntries(
          measured.map((shown) => [shown.channel, valueBy(ownView(view, shown))]),
        ),
      });
    },
    ...KEEPS,
  };
}

/** Pressing a key chooses it; a drag moves all chosen keys. */
function draggingKeys(start: Touch, hit: Hit, { curves }: LaneScene): Tool {
  const held = curves.find(({ channel }) => channel === hit.channel)?.curve.times[hit.row] ?? null;
  const { selection } = useBench.getState().session;
  const was = selection.keys[hit.channel]?.includes(hit.id) ?? false;
  if (!was)
    bench.select({
      ...selection,
      keys: start.shift
        ? unitedKeys(selection.keys, { [hit.channel]: [hit.id] })
        : { [hit.channel]: [hit.id] },
    });
  return {
    ...movingChosen(start, held),
    click() {
      if (!was || !start.shift) return;
      const rest = selection.keys[hit.channel]!.filter((id) => id !== hit.id);
      bench.select({ ...selection, keys: { ...selection.keys, [hit.channel]: rest } });
    },
    cancel() {
      bench.cancelGesture();
      bench.select(selection);
    },
  };
}

/** Turns a handle; on weighted tangents, or with Alt, its length follows too. Shift keeps it level. */
function draggingHandle(hit: Extract<Hit, { kind: 'handle' }>, scene: LaneScene): Tool {
  const shown = scene.curves.find(({ channel }) => channel === hit.channel)!;
  const time = shown.curve.times[hit.row]!;
  const value = shown.curve.values[hit.row]!;
  const before = useBench.getState().session.selection;
  const choose = (selection: Selection) =>
    useBench.setState((state) => ({ session: select(state.session, selection) }));
  return {
    start() {
      // Only this key turns, though others may be chosen.
      choose({ ...before, keys: { [hit.channel]: [hit.id] } });
      bench.beginGesture('tangents.set');
    },
    move(touch, scene) {
      const view = ownView(scene.view, shown);
      const way = hit.side === 'in' ? -1 : 1;
      const frames = Math.max((xToFrame(view.axis, touch.x) - time) * way, 0.02);
      const slope = touch.shift ? 0 : ((yToValue(view, touch.y) - value) / frames) * way;
      const weighted = touch.alt || (shown.curve.flags[hit.row]! & (hit.side === 'in' ? 4 : 8)) !== 0;
      bench.updateGesture({ side: hit.side, slope, ...(weighted ? { length: frames } : {}) });
    },
    end() {
      bench.commitGesture();
      choose(before);
    },
    cancel() {
      bench.cancelGesture();
      choose(before);
    },
  };
}
