/** The page that `curve-lane.ts` runs: draws the lane and bare polylines in turns, on two canvases. */
import { buildCurve, sampleInto, seededRandom } from '@kneader/core';
import { drawCurves } from '../../app/src/bench/lanes/draw-curves.ts';
import { fitValues, valueToY } from '../../app/src/bench/lanes/curve-view.ts';
import { PALETTES } from '../../app/src/theme/palette.ts';

const [WIDTH, HEIGHT, KEYS, CURVES] = [1200, 400, 2000, 60];

const random = seededRandom(3);
const curves = Array.from({ length: CURVES }, (_, c) => ({
  channel: `node ${c}.r${'xyz'[c % 3]!}`,
  curve: buildCurve(KEYS, (columns) => {
    for (let i = 0; i < KEYS; i += 1) {
      columns.times[i] = i;
      columns.values[i] = 40 * Math.sin(i / (60 + c)) + c + random.gaussian();
    }
  }),
}));
const axis = { from: 0, to: KEYS - 1, width: WIDTH };
const view = {
  axis,
  height: HEIGHT,
  ...fitValues(curves, 0, KEYS - 1),
};
const scene = {
  view,
  curves,
  ghosts: new Map(),
  shows: new Map(),
  chosen: {},
  palette: PALETTES.flour,
  theme: 'flour' as const,
};

function canvas(): CanvasRenderingContext2D {
  const element = document.createElement('canvas');
  element.width = WIDTH;
  element.height = HEIGHT;
  document.body.append(element);
  return element.getContext('2d')!;
}

/** The samples are worked out beforehand: only drawing is timed. */
const polylines = curves.map(({ curve }) => {
  const times = Float64Array.from({ length: KEYS }, (_, i) => i);
  const values = new Float64Array(KEYS);
  sampleInto(values, 0, 1, curve, times);
  return {
    xs: times.map((time) => (time / (KEYS - 1)) * WIDTH),
    ys: values.map((value) => valueToY(view, value)),
  };
});

function bare(context: CanvasRenderingContext2D): void {
  context.lineWidth = 1;
  for (const { xs, ys } of polylines) {
    context.beginPath();
    for (let i = 0; i < xs.length; i += 1) context.lineTo(xs[i]!, ys[i]!);
    context.stroke();
  }
}

/** Until the pixels are there: reading one makes the canvas finish. */
function timed(context: CanvasRenderingContext2D, draw: () => void): number {
  const start = performance.now();
  context.clearRect(0, 0, WIDTH, HEIGHT);
  draw();
  context.getImageData(0, 0, 1, 1);
  return performance.now() - start;
}

Object.assign(window, {
  lanePairs: () => {
    const [ours, other] = [canvas(), canvas()];
    const pairs: [number, number][] = [];
    for (let i = 0; i < 13; i += 1) {
      const pair: [number, number] = [
        timed(ours, () => drawCurves(ours, scene)),
        timed(other, () => bare(other)),
      ];
      if (i > 2) pairs.push(pair);
    }
    return pairs;
  },
});
