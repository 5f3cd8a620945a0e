/** A sheet of curves: value over frames, one channel below the other, as they show with all layers. */
import { scaleLinear } from 'd3-scale';
import { refuse } from '../base/finding.ts';
import { framesOf } from '../base/frame-range.ts';
import { curveOf, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { stackOf } from '../evaluation/evaluation.ts';
import { A4, INK, MARGIN, PageMarks } from './page.ts';
import type { Page } from './page.ts';
import { headed, rangeOf, short } from './sheet.ts';
import type { Sheet } from './sheet.ts';

const [WIDTH, HEIGHT] = [A4.short, A4.long];
const PLOTS = 6;
const MOST = 24;
const AXIS = 42;

export const curvesSheet: Sheet = {
  kind: 'curves',
  label: 'Curves',
  takes: ['channels'],
  pages(shot, options) {
    const range = rangeOf(shot, options);
    const rig = rigOf(shot);
    const { top } = stackOf(shot);
    const sampled = (c: number) => Float64Array.from(framesOf(range), (frame) => top[c]!.at(frame));
    const rows = options.channels
      ? options.channels.map((id) => {
          const c = rig.channelIndex(id);
          return c < 0 ? refuse('unknownChannel', { channel: id }, id) : { c, values: sampled(c) };
        })
      : rig.channels
          .map((_, c) => ({ c, values: sampled(c) }))
          .filter(({ values }) => spanOf(values) > 1e-6)
          .sort((a, b) => spanOf(b.values) - spanOf(a.values))
          .slice(0, MOST)
          .sort((a, b) => a.c - b.c);
    if (rows.length === 0) refuse('nothingMoves', {});
    const count = Math.ceil(rows.length / PLOTS);
    return Array.from({ length: count }, (_, p): Page => {
      const marks = new PageMarks();
      const start = headed(marks, shot, 'Curves', WIDTH, count > 1 ? ` · page ${p + 1} of ${count}` : '');
      const height = (HEIGHT - MARGIN - start) / PLOTS;
      rows.slice(p * PLOTS, (p + 1) * PLOTS).forEach(({ c, values }, i) => {
        plot(marks, shot, rig.channels[c]!.id, [...framesOf(range)], values, start + i * height, height);
      });
      return { width: WIDTH, height: HEIGHT, marks: marks.marks };
    });
  },
};

const spanOf = (values: Float64Array) => {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) [low, high] = [Math.min(low, value), Math.max(high, value)];
  return high - low;
};

function plot(
  marks: PageMarks,
  shot: Shot,
  channel: string,
  frames: readonly number[],
  values: Float64Array,
  y: number,
  height: number,
): void {
  const [left, right] = [MARGIN + AXIS, WIDTH - MARGIN];
  const [top, bottom] = [y + 16, y + height - 18];
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const room = high - low > 1e-9 ? 0 : 1;
  const across = scaleLinear([frames[0]!, Math.max(frames.at(-1)!, frames[0]! + 1)], [left, right]);
  const up = scaleLinear([low - room, high + room], [bottom, top]).nice(4);
  marks.text(channel, MARGIN, y + 10, 8.5, { isBold: true });
  for (const tick of up.ticks(4)) {
    marks.line(left, up(tick), right, up(tick), INK.rule, 0.3);
    marks.text(short(tick), left - 4, up(tick) + 2.5, 7, { anchor: 'end', colour: INK.soft });
  }
  for (const tick of across.ticks(8).filter(Number.isInteger))
    marks.text(short(tick), across(tick), bottom + 10, 7, { anchor: 'middle', colour: INK.soft });
  const way = frames.map((frame, f) => `${across(frame).toFixed(2)},${up(values[f]!).toFixed(2)}`);
  marks.path(`M${way.join('L')}`, null, INK.mark, 1);
  const base = curveOf(shot, null, channel);
  base.times.forEach((time, k) => {
    // Keys of the base where they are what shows.
    const at = Math.round(time) - frames[0]!;
    if (time < frames[0]! || time > frames.at(-1)! || Math.abs((values[at] ?? NaN) - base.values[k]!) > 1e-6)
      return;
    marks.dot(across(time), up(base.values[k]!), 1.7, INK.black);
  });
}
