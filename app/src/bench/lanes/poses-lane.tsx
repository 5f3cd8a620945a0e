import { useDeferredValue, useEffect, useMemo, useRef } from 'react';
import { placeIn, poseColumns, worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { drawFigure, prepareCanvas } from '../../drawing/figure-drawing.ts';
import { solidFill } from '../../drawing/solid-fills.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { figureSize } from '../stage/figure-size.ts';
import { useSize } from '../use-size.ts';
import { frameToX, niceStep, xToFrame } from './time-axis.ts';

const TURN = 28;
const APART = 40;

/** A small drawn figure for each pose column, and the gap in frames between them. */
export function PosesLane() {
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(holder);
  const palette = PALETTES[useTheme((state) => state.name)];
  // Drawn figures are many strokes: while a hand drags they follow when there is time.
  const shot = useDeferredValue(useBench(shownShot));
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const columns = useMemo(() => poseColumns(shot), [shot]);
  const id = useBench((state) => state.id);
  const size = useMemo(() => figureSize(useBench.getState().session.shot), [id]); // eslint-disable-line react-hooks/exhaustive-deps

  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context || width < 2) return;
    const axis = { from, to, width };
    const frames = columns.dense ? evenFrames(shot, from, to, width) : columns.frames;
    context.font = "10px 'Recursive Variable'";
    context.textAlign = 'center';
    let lastDrawn = -Infinity;
    frames.forEach((frame, i) => {
      const x = frameToX(axis, frame);
      if (x < -APART || x > width + APART) return;
      context.fillStyle = palette.rule;
      if (!columns.dense) context.fillRect(Math.round(x), 0, 1, height);
      if (x - lastDrawn >= APART - 4) {
        drawPose(context, shot, frame, x, height, size, palette.ink);
        lastDrawn = x;
      }
      const next = frames[i + 1];
      if (columns.dense || next === undefined) return;
      const middle = (x + frameToX(axis, next)) / 2;
      if (frameToX(axis, next) - x < 16) return;
      context.fillStyle = palette.soft;
      context.fillText(String(next - frame), middle, height - 3);
    });
  }, [width, height, from, to, shot, columns, palette, size]);

  return (
    <div
      ref={holder}
      className="poses-lane"
      role="img"
      aria-label={columns.dense ? 'Poses: a key on every frame' : `Poses at ${columns.frames.join(', ')}`}
      onPointerDown={(event) => {
        const at = xToFrame(
          { from, to, width },
          event.clientX - event.currentTarget.getBoundingClientRect().left,
        );
        const nearest = columns.frames.reduce(
          (best, frame) => (Math.abs(frame - at) < Math.abs(best - at) ? frame : best),
          columns.frames[0] ?? Math.round(at),
        );
        bench.setFrame(columns.dense ? Math.round(at) : nearest);
      }}
    >
      <canvas ref={canvas} style={{ width, height }} />
    </div>
  );
}

/** On captured motion figures stand at even steps. */
function evenFrames(shot: Shot, from: number, to: number, width: number): number[] {
  const step = niceStep(((to - from) / width) * APART * 1.1, 1);
  const frames: number[] = [];
  for (let frame = Math.ceil(shot.range.start / step) * step; frame <= shot.range.end; frame += step)
    frames.push(frame);
  return frames;
}

function drawPose(
  context: CanvasRenderingContext2D,
  shot: Shot,
  frame: number,
  x: number,
  height: number,
  size: ReturnType<typeof figureSize>,
  ink: string,
): void {
  const pose = worldAt(shot, frame, true);
  const body = shot.nodes.map((node) => (node.kind === 'camera' ? { solids: [] } : node));
  const hips = shot.nodes.findIndex((node) => node.solids.length > 0 && node.part === 'torso');
  const [px, , pz] = hips >= 0 ? placeIn(pose, hips) : [0, 0, 0];
  const angle = (TURN * Math.PI) / 180;
  const scale = (height - 15) / (size.height * 1.16);
  const across = px * Math.cos(angle) - pz * Math.sin(angle);
  const view = { turn: TURN, scale, x: x - across * scale, y: height - 13 + size.floor * scale };
  drawFigure(context, body, pose.matrices, view, { fill: solidFill, line: ink, lineWidth: 0.7 });
}
