/** Draws the curves lane: grid, ghosts, curves, keys and handles. */
import {
  channelKind,
  evaluate,
  FLAG,
  hasLead,
  sampleInto,
  SEGMENT,
  splitChannel,
  TANGENT,
} from '@kneader/core';
import type { ChannelId, Curve } from '@kneader/core';
import type { Palette, ThemeName } from '../../theme/palette.ts';
import { channelHue } from './channel-hue.ts';
import { visibleHandles } from './curve-hits.ts';
import type { ShownCurve } from './curve-hits.ts';
import { handlePlace, keyPlace, valueToY } from './curve-view.ts';
import type { CurveView } from './curve-view.ts';
import { frameToX, labelStep, niceStep, xToFrame } from './time-axis.ts';

export interface CurveScene {
  readonly view: CurveView;
  readonly curves: readonly ShownCurve[];
  /** The curves as they were, by channel; only those that differ are drawn. */
  readonly ghosts: ReadonlyMap<ChannelId, Curve>;
  readonly chosen: Readonly<Record<ChannelId, readonly number[]>>;
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
  for (const { channel, curve } of scene.curves) {
    const ghost = scene.ghosts.get(channel);
    if (ghost && ghost !== curve) strokeCurve(context, scene, ghost, scene.palette.soft, []);
  }
  context.globalAlpha = 1;
  for (const { channel, curve } of scene.curves) {
    const { name } = splitChannel(channel);
    strokeCurve(context, scene, curve, channelHue(name, scene.theme), DASHES[channelKind(name)]);
  }
  context.setLineDash([]);
  for (const shown of scene.curves) drawKeys(context, scene, shown);
  if (scene.curves.length <= 16) drawLetters(context, scene);
}

function drawGrid(context: CanvasRenderingContext2D, { view, palette }: CurveScene): void {
  const { axis, height } = view;
  context.strokeStyle = palette.rule;
  context.fillStyle = palette.soft;
  context.lineWidth = 1;
  context.font = "10px 'Recursive Variable'";
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
      context.fillText((Math.abs(value) < step / 2 ? 0 : value).toFixed(decimals), 3, y - 3);
  }
}

function strokeCurve(
  context: CanvasRenderingContext2D,
  { view, curves }: CurveScene,
  curve: Curve,
  colour: string,
  dash: readonly number[],
): void {
  if (curve.times.length === 0) return;
  const { axis } = view;
  // Two readings for each pixel where keys are denser than pixels, else one.
  const perPixel = curve.times.length / (axis.to - axis.from) > axis.width / (axis.to - axis.from) ? 2 : 1;
  const count = Math.ceil(axis.width * perPixel) + 1;
  const times = new Float64Array(count);
  for (let i = 0; i < count; i += 1) times[i] = xToFrame(axis, i / perPixel);
  const values = new Float64Array(count);
  sampleInto(values, 0, 1, curve, times);
  context.strokeStyle = colour;
  context.setLineDash([...dash]);
  context.lineWidth = curves.length <= 8 ? 1.5 : 1;
  const stretch = (from: number, to: number) => {
    if (to <= from) return;
    context.beginPath();
    for (let i = from; i <= to; i += 1) context.lineTo(i / perPixel, valueToY(view, values[i]!));
    context.stroke();
  };
  if (!hasLead(curve)) {
    stretch(0, count - 1);
    return;
  }
  // Repeats are the same curve in a lighter hand.
  const place = (frame: number) => Math.min(Math.max(frameToX(axis, frame) * perPixel, 0), count - 1);
  const first = Math.ceil(place(curve.times[0]!));
  const last = Math.floor(place(curve.times[curve.times.length - 1]!));
  const alpha = context.globalAlpha;
  stretch(first, last);
  context.globalAlpha = alpha * 0.45;
  stretch(0, first);
  stretch(last, count - 1);
  context.globalAlpha = alpha;
}

/** Pixels between keys from which on each is drawn as a bead; closer ones are dots, and still closer ones nothing. */
const BEADS_FROM = 7;
const DOTS_FROM = 3;

function drawKeys(
  context: CanvasRenderingContext2D,
  scene: CurveScene,
  { channel, curve }: ShownCurve,
): void {
  const { view, palette, theme } = scene;
  const colour = channelHue(splitChannel(channel).name, theme);
  const chosen = new Set(scene.chosen[channel]);
  const spread =
    curve.times.length > 1
      ? (curve.times[curve.times.length - 1]! - curve.times[0]!) / (curve.times.length - 1)
      : Infinity;
  const apart = (spread / (view.axis.to - view.axis.from)) * view.axis.width;
  for (let row = 0; row < curve.times.length; row += 1) {
    const isChosen = chosen.has(curve.ids[row]!);
    if (!isChosen && apart < DOTS_FROM) continue;
    const [x, y] = keyPlace(view, curve, row);
    if (x < -20 || x > view.axis.width + 20) continue;
    if (isChosen && chosen.size <= 60) drawHandles(context, view, curve, row, palette.ink);
    if (apart < BEADS_FROM && !isChosen) {
      context.fillStyle = colour;
      context.fillRect(x - 1, y - 1, 2, 2);
      continue;
    }
    context.beginPath();
    beadOutline(context, curve, row, x, y, isChosen ? 5 : 4);
    context.fillStyle = isChosen ? palette.ink : palette.sheet;
    context.fill();
    context.strokeStyle = isChosen ? palette.ink : colour;
    context.lineWidth = 1.5;
    context.stroke();
    if ((curve.flags[row]! & FLAG.locked) !== 0) context.strokeRect(x - 7, y - 7, 14, 14);
  }
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
  if (curve.segments[row] === SEGMENT.stepped) {
    context.arc(x, y, r, Math.PI, 0);
    context.closePath();
    return;
  }
  const rule = curve.segments[row] === SEGMENT.linear ? TANGENT.linear : curve.tangentsOut[row];
  if (rule === TANGENT.flat) context.ellipse(x, y, r * 1.35, r * 0.72, 0, 0, 2 * Math.PI);
  else if (rule === TANGENT.linear) {
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

function drawHandles(
  context: CanvasRenderingContext2D,
  view: CurveView,
  curve: Curve,
  row: number,
  ink: string,
): void {
  const [x, y] = keyPlace(view, curve, row);
  context.strokeStyle = ink;
  context.fillStyle = ink;
  context.lineWidth = 1;
  for (const side of visibleHandles(curve, row)) {
    const [hx, hy] = handlePlace(view, curve, row, side);
    const weighted = (curve.flags[row]! & (side === 'in' ? FLAG.weightedIn : FLAG.weightedOut)) !== 0;
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(hx, hy);
    context.stroke();
    context.beginPath();
    if (weighted) context.rect(hx - 3, hy - 3, 6, 6);
    else context.arc(hx, hy, 2.8, 0, 2 * Math.PI);
    context.fill();
  }
}

/** The channel's name at the right end of each curve, kept apart so that none covers another. */
function drawLetters(context: CanvasRenderingContext2D, { view, curves, theme, palette }: CurveScene): void {
  context.font = "600 10px 'Recursive Variable'";
  const nodes = new Set(curves.map(({ channel }) => splitChannel(channel).node));
  const labels = curves
    .filter(({ curve }) => curve.times.length > 0)
    .map(({ channel, curve }) => {
      const value = evaluate(curve, view.axis.to);
      const { node, name } = splitChannel(channel);
      return {
        text: nodes.size > 1 ? `${node} ${name}` : name,
        y: valueToY(view, value) + 3,
        hue: channelHue(name, theme),
      };
    })
    .sort((a, b) => a.y - b.y);
  let last = 4;
  for (const label of labels) {
    const y = Math.min(Math.max(label.y, last + 11), view.height - 3);
    last = y;
    const width = context.measureText(label.text).width;
    context.globalAlpha = 0.8;
    context.fillStyle = palette.sheet;
    context.fillRect(view.axis.width - width - 7, y - 9, width + 6, 12);
    context.globalAlpha = 1;
    context.fillStyle = label.hue;
    context.fillText(label.text, view.axis.width - width - 4, y);
  }
}
