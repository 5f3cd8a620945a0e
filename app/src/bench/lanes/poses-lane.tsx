import { Input } from 'antd';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { placeIn, poseColumns, worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { drawFigure, prepareCanvas } from '../../drawing/figure-drawing.ts';
import { solidFill } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { useStrokes } from '../keys/key-map.ts';
import { bench, ghostShot, shownShot, useBench } from '../bench-store.ts';
import { beginDrag, isDragging, pointOf } from '../gestures/drag.ts';
import type { FigureSize } from '../stage/figure-size.ts';
import { useFigureSize } from '../stage/use-figure-size.ts';
import { useAtRest } from '../use-at-rest.ts';
import { useSize } from '../use-size.ts';
import { useTyped } from '../figure/use-typed.ts';
import { columnToolFor } from './column-tools.ts';
import { frameToX, niceStep } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

const TURN = 28;
/** Pixels from one drawn figure to the next, at least. */
const APART = 44;
/** The thin row above, where the columns were. */
const BEFORE_ROW = 13;
/** The row of gaps below. */
const GAP_ROW = 18;
/** Narrower gaps show no number. */
const GAP_FROM = 15;
/** Narrower ones do not say what moves. */
const SAYS_FROM = 120;

/**
 * The main instrument of timing: a drawn figure for each pose column and the gap to the next. A column is dragged, and everything
 * later ripples; with Shift columns are selected; a gap is read, and typed.
 */
export function PosesLane() {
  const holder = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(holder);
  const shot = useBench(shownShot);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const columns = useMemo(() => poseColumns(shot), [shot]);
  // The pose on which the hand stands, or stood when it began to play.
  const held = useBench(({ playing, held: stood, frame }) =>
    columns.frames.findLast((one) => one <= (playing ? stood : frame)),
  );
  const [live, setLive] = useState(false);
  const [nearColumn, setNearColumn] = useState(false);
  const axis: TimeAxis = { from, to, width: Math.max(width, 1) };
  const placeOf = (event: React.PointerEvent) => {
    const { left } = event.currentTarget.getBoundingClientRect();
    return { ...pointOf(event), x: event.clientX - left };
  };
  return (
    <div
      ref={holder}
      className={`poses-lane${nearColumn ? ' on-column' : ''}`}
      role="group"
      aria-label={columns.dense ? 'Poses: a key on every frame' : `Poses at ${columns.frames.join(', ')}`}
      onPointerDown={(event) => {
        if (event.button !== 0 || (event.target as Element).closest('.gap')) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const place = placeOf(event);
        const left = event.clientX - place.x;
        const tool = columnToolFor(place, axis);
        setLive(true);
        beginDrag(event, {
          ...tool,
          move: (at) => tool.move({ ...at, x: at.x - left }),
          settle: () => setLive(false),
        });
      }}
      onPointerMove={(event) => {
        if (isDragging()) return;
        const { x } = placeOf(event);
        setNearColumn(columns.frames.some((frame, k) => k > 0 && Math.abs(frameToX(axis, frame) - x) < 6));
      }}
    >
      <PoseCanvas width={width} height={height} live={live} />
      {!columns.dense &&
        // The last pose has a gap too: to the end of the shot.
        [...columns.frames.slice(1), shot.range.end].map((frame, k) => {
          const start = columns.frames[k];
          if (start === undefined || frame <= start) return null;
          const [left, right] = [frameToX(axis, start), frameToX(axis, frame)];
          if (right - left < GAP_FROM || right < 0 || left > width) return null;
          const next = k + 1 < columns.frames.length ? `the pose at ${frame}` : 'the end';
          return (
            <Gap
              key={k}
              {...{ start, next }}
              gap={frame - start}
              x={(left + right) / 2}
              isHeld={start === held}
              isWide={right - left >= SAYS_FROM}
            />
          );
        })}
    </div>
  );
}

interface GapProps {
  readonly start: number;
  readonly gap: number;
  readonly x: number;
  /** What stands at its end. */
  readonly next: string;
  /** Whether + and − mean it. */
  readonly isHeld: boolean;
  /** Whether there is room to say so. */
  readonly isWide: boolean;
}

/** The frames of a gap: read, and typed when it is touched. The one at the play-head says what + and − move, before they do. */
function Gap({ start, gap, x, next, isHeld, isWide }: GapProps) {
  const [typing, setTyping] = useState(false);
  const { timeScope: scope, ripples } = useBench((state) => state.lane);
  const strokeFor = useStrokes();
  const [more, less] = [strokeFor('gapMore'), strokeFor('gapLess')];
  const typed = useTyped(String(gap), (value) => {
    bench.perform('timing.setGap', { frame: start, gap: Math.round(value), scope, ripples });
  });
  if (!typing)
    return (
      <button
        type="button"
        className={`gap${isHeld ? ' held' : ''}`}
        style={{ left: x }}
        aria-label={`Gap of ${gap} frames at ${start}`}
        title={`Frames to the next pose: type, or drag the pose${isHeld ? `; ${more} and ${less} move ${next}` : ''}`}
        onClick={() => setTyping(true)}
      >
        {gap}
        {isHeld && isWide && (
          <span>
            {more} {less} {next}
          </span>
        )}
      </button>
    );
  return (
    <span className="gap typing" style={{ left: x }}>
      <Input
        autoFocus
        size="small"
        inputMode="numeric"
        role="spinbutton"
        aria-valuenow={gap}
        aria-label={`New gap at ${start}`}
        value={typed.text}
        onFocus={(event) => event.target.select()}
        onChange={(event) => typed.change(event.target.value)}
        onKeyDown={typed.press}
        onBlur={() => {
          typed.leave();
          setTyping(false);
        }}
      />
    </span>
  );
}

interface PoseCanvasProps {
  readonly width: number;
  readonly height: number;
  /** Whether a column is in hand. */
  readonly live: boolean;
}

function PoseCanvas({ width, height, live }: PoseCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const palette = PALETTES[useTheme((state) => state.name)];
  // Drawn figures are many strokes: while a hand drags something else they wait until it rests.
  const shot = useAtRest(useDeferredValue(useBench(shownShot)), live);
  const ghost = useAtRest(useDeferredValue(useBench(ghostShot)), live);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const range = useBench((state) => state.session.selection.range);
  const size = useFigureSize();
  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context || width < 2) return;
    const axis = { from, to, width };
    const columns = poseColumns(shot);
    context.font = "12px 'Recursive Variable'";
    context.textAlign = 'center';
    if (ghost) drawColumnsBefore(context, axis, poseColumns(ghost).frames, palette.soft);
    const frames = columns.dense ? evenFrames(shot, from, to, width) : columns.frames;
    let lastDrawn = -Infinity;
    for (const frame of frames) {
      const x = frameToX(axis, frame);
      if (x < -APART || x > width + APART) continue;
      const chosen = range !== null && frame >= range.start && frame <= range.end;
      context.fillStyle = chosen ? palette.accent : palette.rule;
      if (!columns.dense)
        context.fillRect(Math.round(x) - (chosen ? 1 : 0), BEFORE_ROW, chosen ? 2 : 1, height);
      if (x - lastDrawn < APART - 6) continue;
      drawPose(context, shot, frame, x, height, size, palette.ink);
      lastDrawn = x;
    }
  }, [width, height, from, to, shot, ghost, range, palette, size]);
  return <canvas ref={canvas} style={{ width, height }} />;
}

/** Where the columns were, with their gaps, as a thin row above. */
function drawColumnsBefore(
  context: CanvasRenderingContext2D,
  axis: TimeAxis,
  frames: readonly number[],
  colour: string,
): void {
  context.fillStyle = colour;
  frames.forEach((frame, k) => {
    const x = frameToX(axis, frame);
    context.fillRect(Math.round(x), 0, 1, BEFORE_ROW - 2);
    const next = frames[k + 1];
    if (next === undefined || frameToX(axis, next) - x < GAP_FROM) return;
    context.fillText(String(next - frame), (x + frameToX(axis, next)) / 2, BEFORE_ROW - 3);
  });
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
  size: FigureSize,
  ink: string,
): void {
  const pose = worldAt(shot, frame, true);
  // What never moves tells nothing of the pose.
  const body = shot.nodes.map((node) =>
    node.part === 'prop' && node.channels.length === 0 ? { solids: [] } : node,
  );
  const hips = shot.nodes.findIndex((node) => node.solids.length > 0 && node.part === 'torso');
  const [px, , pz] = hips >= 0 ? placeIn(pose, hips) : [0, 0, 0];
  const angle = (TURN * Math.PI) / 180;
  const scale = (height - BEFORE_ROW - GAP_ROW) / (size.height * 1.12);
  const across = px * Math.cos(angle) - pz * Math.sin(angle);
  const view = { turn: TURN, scale, x: x - across * scale, y: height - GAP_ROW + size.floor * scale };
  drawFigure(context, body, pose.matrices, view, { fill: solidFill, line: ink, lineWidth: 0.7 });
}
