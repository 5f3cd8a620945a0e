/** Draws the curves lane: grid, ghosts, curves, keys and handles. */
import {
  bisectRight,
  channelKind,
  chosenRows,
  evaluate,
  FLAG,
  hasLead,
  rowOfId,
  sampleInto,
  SEGMENT,
  splitChannel,
  TANGENT,
} from '@kneader/core';
import type { ChannelId, Curve, Signal } from '@kneader/core';
import type { Palette, ThemeName } from '../../theme/palette.ts';
import { channelHue } from './channel-hue.ts';
import { visibleHandles } from './curve-hits.ts';
import { handlePlace, keyPlace, ownView, valueToY } from './curve-view.ts';
import type { CurveView, ShownCurve } from './curve-view.ts';
import { frameOf, gripsOf } from './transform-box.ts';
import type { Box } from './transform-box.ts';
import { frameToX, labelStep, niceStep, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

export interface CurveScene {
  readonly view: CurveView;
  readonly curves: readonly ShownCurve[];
  /** The curves as they were, by channel; only those that differ are drawn. */
  readonly ghosts: ReadonlyMap<ChannelId, Curve>;
  /** What shows of a channel on top of all layers, where that is not the curve itself. */
  readonly shows: ReadonlyMap<ChannelId, Signal>;
  readonly chosen: Readonly<Record<ChannelId, readonly number[]>>;
  /** The transform box, while there is one. */
  readonly box?: Box | null;
  readonly palette: Palette;
  readonly theme: ThemeName;
}

/** Position, rotation and scale are told apart by the line. */
const DASHES: Record<ReturnType<typeof channelKind>, readonly number[]> = {
  rotation: [],
  position: [7, 3],
  scale: [2, 3],
  other: [8, 3, 2, 3],
};

export function drawCurves(context: CanvasRenderingContext2D, scene: CurveScene): void {
  drawGrid(context, scene);
  context.lineJoin = 'round';
  context.globalAlpha = 0.45;
  for (const shown of scene.curves) {
    const ghost = scene.ghosts.get(shown.channel);
    if (ghost && ghost !== shown.curve)
      strokeCurve(context, scene, { ...shown, curve: ghost }, scene.palette.soft, []);
  }
  context.globalAlpha = 1;
  for (const shown of scene.curves) {
    const { name } = splitChannel(shown.channel);
    const signal = scene.shows.get(shown.channel);
    const hue = channelHue(name, scene.theme);
    // Where layers make something else of it, the keyed curve steps back.
    context.globalAlpha = signal ? 0.5 : 1;
    strokeCurve(context, scene, shown, hue, DASHES[channelKind(name)]);
    context.globalAlpha = 1;
    if (signal) strokeSignal(context, scene, shown, signal, hue);
  }
  context.setLineDash([]);
  drawAllKeys(context, scene);
  if (scene.curves.length <= 16) drawLetters(context, scene);
  if (scene.box) drawBox(context, scene.box, scene.palette);
}

/** Pixels between two looks at what shows. */
const LOOK = 2;

/** What shows of a channel, in its own measure. */
function strokeSignal(
  context: CanvasRenderingContext2D,
  { view: shared }: CurveScene,
  shown: ShownCurve,
  signal: Signal,
  colour: string,
): void {
  const view = ownView(shared, shown);
  context.strokeStyle = colour;
  context.setLineDash([]);
  context.lineWidth = 2;
  context.beginPath();
  for (let x = 0; x <= view.axis.width; x += LOOK) {
    const y = valueToY(view, signal.at(xToFrame(view.axis, x)));
    if (x === 0) context.moveTo(x, y);
    else context.lineTo(x, y);
  }
  context.stroke();
}

function drawBox(context: CanvasRenderingContext2D, box: Box, palette: Palette): void {
  const { left, right, top, bottom } = frameOf(box);
  context.strokeStyle = palette.accent;
  context.lineWidth = 1;
  context.strokeRect(Math.round(left) + 0.5, Math.round(top) + 0.5, right - left, bottom - top);
  context.fillStyle = palette.sheet;
  for (const { x, y } of gripsOf(box)) {
    context.beginPath();
    context.arc(x, y, 4, 0, 2 * Math.PI);
    context.fill();
    context.stroke();
  }
}

function drawGrid(context: CanvasRenderingContext2D, { view, palette, curves }: CurveScene): void {
  const normalised = curves.some(({ span }) => span !== undefined);
  const { axis, height } = view;
  context.strokeStyle = palette.rule;
  context.fillStyle = palette.soft;
  context.lineWidth = 1;
  context.font = "12px 'Recursive Variable'";
  context.beginPath();
  const frames = labelStep(axis, 60);
  for (let frame = Math.ceil(axis.from / frames) * frames; frame <= axis.to; frame += frames) {
    const x = Math.round(frameToX(axis, frame)) + 0.5;
    context.moveTo(x, 0);
    context.lineTo(x, height);
  }
  const step = niceStep(((view.high - view.low) / height) * 34);
  const decimals = Math.max(0, -Math.floor(Math.log10(step)));
  for (let value = Math.ceil(view.low / step) * step; value <= view.high; value += step) {
    const y = Math.round(valueToY(view, value)) + 0.5;
    context.moveTo(0, y);
    context.lineTo(axis.width, y);
  }
  context.globalAlpha = 0.6;
  context.stroke();
  context.globalAlpha = 1;
  for (let value = Math.ceil(view.low / step) * step; value <= view.high; value += step) {
    const y = valueToY(view, value);
    if (y > 10 && y < height - 2)
      context.fillText(
        normalised
          ? `${Math.round(value * 100)} %`
          : (Math.abs(value) < step / 2 ? 0 : value).toFixed(decimals),
        3,
        y - 3,
      );
  }
}

/** Pixels beyond the edges to which a curve counts as seen. */
const MARGIN = 4;

function strokeCurve(
  context: CanvasRenderingContext2D,
  { view: shared, curves }: CurveScene,
  shown: ShownCurve,
  colour: string,
  dash: readonly number[],
): void {
  const { curve } = shown;
  if (curve.times.length === 0) return;
  const view = ownView(shared, shown);
  const { axis } = view;
  const { xs, ys } = denserThanPixels(curve, axis)
    ? extremesPerPixel(curve, view)
    : samplesPerPixel(curve, view);
  if (!ys.some((y) => y > -MARGIN && y < view.height + MARGIN)) return;
  context.strokeStyle = colour;
  context.setLineDash([...dash]);
  context.lineWidth = curves.length <= 8 ? 1.5 : 1;
  const stretch = (from: number, to: number) => {
    if (to <= from) return;
    context.beginPath();
    for (let i = from; i <= to; i += 1) context.lineTo(xs[i]!, ys[i]!);
    context.stroke();
  };
  const last = xs.length - 1;
  if (!hasLead(curve)) {
    stretch(0, last);
    return;
  }
  // Repeats are the same curve in a lighter hand.
  const end = curve.times[curve.times.length - 1]!;
  const first = Math.max(0, bisectRight(xs, frameToX(axis, curve.times[0]!)) - 1);
  const beyond = Math.min(last, bisectRight(xs, frameToX(axis, end)));
  const alpha = context.globalAlpha;
  stretch(first, beyond);
  context.globalAlpha = alpha * 0.45;
  stretch(0, first);
  stretch(beyond, last);
  context.globalAlpha = alpha;
}

interface Line {
  readonly xs: Float64Array;
  readonly ys: Float64Array;
}

/** Whether more keys are in sight than pixels, all with straight lines to be drawn between them. */
function denserThanPixels(curve: Curve, axis: TimeAxis): boolean {
  const inSight = bisectRight(curve.times, axis.to) - bisectRight(curve.times, axis.from);
  return inSight > axis.width && !hasLead(curve);
}

function samplesPerPixel(curve: Curve, view: CurveView): Line {
  const count = Math.ceil(view.axis.width) + 1;
  const xs = new Float64Array(count);
  const times = new Float64Array(count);
  for (let i = 0; i < count; i += 1) {
    xs[i] = i;
    times[i] = xToFrame(view.axis, i);
  }
  const ys = new Float64Array(count);
  sampleInto(ys, 0, 1, curve, times);
  for (let i = 0; i < count; i += 1) ys[i] = valueToY(view, ys[i]!);
  return { xs, ys };
}

/** Of the keys in each column of pixels the lowest and the highest, in the order in which they come: no spike is missed. */
function extremesPerPixel({ times, values }: Curve, view: CurveView): Line {
  const from = Math.max(0, bisectRight(times, view.axis.from) - 1);
  const to = Math.min(times.length, bisectRight(times, view.axis.to) + 1);
  const xs = new Float64Array(2 * (Math.ceil(view.axis.width) + 4));
  const ys = new Float64Array(xs.length);
  let count = 0;
  let row = from;
  while (row < to && count + 2 <= xs.length) {
    const pixel = Math.floor(frameToX(view.axis, times[row]!));
    let low = row;
    let high = row;
    for (row += 1; row < to && Math.floor(frameToX(view.axis, times[row]!)) === pixel; row += 1) {
      if (values[row]! < values[low]!) low = row;
      if (values[row]! > values[high]!) high = row;
    }
    for (const extreme of low === high ? [low] : [Math.min(low, high), Math.max(low, high)]) {
      xs[count] = frameToX(view.axis, times[extreme]!);
      ys[count] = valueToY(view, values[extreme]!);
      count += 1;
    }
  }
  return { xs: xs.subarray(0, count), ys: ys.subarray(0, count) };
}

/** Pixels between keys from which on each is drawn as a bead; closer ones are dots, and still closer ones nothing. */
const BEADS_FROM = 7;
const DOTS_FROM = 5;
const NONE_CHOSEN: readonly number[] = [];
/** More chosen keys than this wear no handles: they could not be told apart. */
const MOST_HANDLES = 60;

/** All keys that are not chosen, then those that are, so that these lie on top. One path for each curve: beads are many. */
function drawAllKeys(context: CanvasRenderingContext2D, scene: CurveScene): void {
  const chosenCount = Object.values(scene.chosen).reduce((sum, ids) => sum + ids.length, 0);
  for (const shown of scene.curves) drawKeys(context, scene, shown, false);
  if (chosenCount === 0) return;
  if (chosenCount <= MOST_HANDLES) for (const shown of scene.curves) drawHandles(context, scene, shown);
  for (const shown of scene.curves) drawKeys(context, scene, shown, true);
}

/** Pixels between two keys of a curve, on average. */
function spreadOf({ times }: Curve, { axis }: CurveView): number {
  if (times.length < 2) return Infinity;
  const frames = (times[times.length - 1]! - times[0]!) / (times.length - 1);
  return (frames / (axis.to - axis.from)) * axis.width;
}

function drawKeys(
  context: CanvasRenderingContext2D,
  scene: CurveScene,
  shown: ShownCurve,
  chosenOnes: boolean,
): void {
  const { channel, curve } = shown;
  const { palette } = scene;
  const view = ownView(scene.view, shown);
  const ids = scene.chosen[channel] ?? NONE_CHOSEN;
  const apart = spreadOf(curve, view);
  if (chosenOnes ? ids.length === 0 : apart < DOTS_FROM) return;
  const chosen = chosenRows(curve, ids);
  const colour = chosenOnes ? palette.ink : channelHue(splitChannel(channel).name, scene.theme);
  const dots = apart < BEADS_FROM;
  const half = chosenOnes ? 2 : 1;
  const from = Math.max(0, bisectRight(curve.times, xToFrame(view.axis, -20)) - 1);
  const to = bisectRight(curve.times, xToFrame(view.axis, view.axis.width + 20));
  // Of dots within one column of pixels there is one from the lowest to the highest: a path of millions holds the page.
  let [column, top, bottom] = [NaN, 0, 0];
  const endColumn = () => {
    if (!Number.isNaN(column)) context.rect(column - half, top - half, 2 * half, bottom - top + 2 * half);
  };
  context.beginPath();
  for (let row = from; row < to; row += 1) {
    if ((chosen[row] === 1) !== chosenOnes) continue;
    const [x, y] = keyPlace(view, curve, row);
    if (dots) {
      if (Math.round(x) !== column) {
        endColumn();
        [column, top, bottom] = [Math.round(x), y, y];
      } else [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
    } else {
      beadOutline(context, curve, row, x, y, chosenOnes ? 5 : 4);
      if ((curve.flags[row]! & FLAG.locked) !== 0) context.rect(x - 7, y - 7, 14, 14);
    }
  }
  endColumn();
  context.fillStyle = chosenOnes || dots ? colour : palette.sheet;
  context.fill();
  if (dots) return;
  context.strokeStyle = colour;
  context.lineWidth = 1.5;
  context.stroke();
}

/** A bead whose outline says what tangents the key has; a broken one is split. */
function beadOutline(
  context: CanvasRenderingContext2D,
  curve: Curve,
  row: number,
  x: number,
  y: number,
  r: number,
): void {
  context.moveTo(x + r, y);
  if (curve.segments[row] === SEGMENT.stepped) {
    context.arc(x, y, r, 0, Math.PI, true);
    context.closePath();
    return;
  }
  const rule = curve.segments[row] === SEGMENT.linear ? TANGENT.linear : curve.tangentsOut[row];
  if (rule === TANGENT.flat) {
    context.moveTo(x + r * 1.35, y);
    context.ellipse(x, y, r * 1.35, r * 0.72, 0, 0, 2 * Math.PI);
  } else if (rule === TANGENT.linear) {
    context.moveTo(x - r, y);
    context.lineTo(x, y - r);
    context.lineTo(x + r, y);
    context.lineTo(x, y + r);
    context.closePath();
  } else if (rule === TANGENT.steady) context.roundRect(x - r * 0.9, y - r * 0.9, r * 1.8, r * 1.8, r * 0.5);
  else context.arc(x, y, r, 0, 2 * Math.PI);
  if ((curve.flags[row]! & FLAG.broken) !== 0) {
    context.moveTo(x, y - r - 2);
    context.lineTo(x, y + r + 2);
  }
}

function drawHandles(context: CanvasRenderingContext2D, scene: CurveScene, shown: ShownCurve): void {
  const { channel, curve } = shown;
  const ids = scene.chosen[channel];
  if (!ids || ids.length === 0) return;
  const view = ownView(scene.view, shown);
  const lines = new Path2D();
  const knobs = new Path2D();
  for (const id of ids) {
    const row = rowOfId(curve, id);
    if (row < 0) continue;
    const [x, y] = keyPlace(view, curve, row);
    for (const side of visibleHandles(curve, row)) {
      const [hx, hy] = handlePlace(view, curve, row, side);
      const weighted = (curve.flags[row]! & (side === 'in' ? FLAG.weightedIn : FLAG.weightedOut)) !== 0;
      lines.moveTo(x, y);
      lines.lineTo(hx, hy);
      knobs.moveTo(hx + 2.8, hy);
      if (weighted) knobs.rect(hx - 3, hy - 3, 6, 6);
      else knobs.arc(hx, hy, 2.8, 0, 2 * Math.PI);
    }
  }
  context.strokeStyle = context.fillStyle = scene.palette.ink;
  context.lineWidth = 1;
  context.stroke(lines);
  context.fill(knobs);
}

/** The channel's name at the right end of each curve, kept apart so that none covers another. */
function drawLetters(context: CanvasRenderingContext2D, { view, curves, theme, palette }: CurveScene): void {
  context.font = "600 12px 'Recursive Variable'";
  const nodes = new Set(curves.map(({ channel }) => splitChannel(channel).node));
  const labels = curves
    .filter(({ curve }) => curve.times.length > 0)
    .map((shown) => {
      const { channel, curve } = shown;
      const value = evaluate(curve, view.axis.to);
      const { node, name } = splitChannel(channel);
      return {
        text: nodes.size > 1 ? `${node} ${name}` : name,
        y: valueToY(ownView(view, shown), value) + 3,
        hue: channelHue(name, theme),
      };
    })
    .sort((a, b) => a.y - b.y);
  let last = 4;
  for (const label of labels) {
    const y = Math.min(Math.max(label.y, last + 14), view.height - 3);
    last = y;
    const width = context.measureText(label.text).width;
    context.globalAlpha = 0.8;
    context.fillStyle = palette.sheet;
    context.fillRect(view.axis.width - width - 7, y - 11, width + 6, 14);
    context.globalAlpha = 1;
    context.fillStyle = label.hue;
    context.fillText(label.text, view.axis.width - width - 4, y);
  }
}
