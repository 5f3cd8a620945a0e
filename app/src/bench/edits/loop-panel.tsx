import { Button, InputNumber } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { worldAt } from '@kneader/core';
import type { Edit, LoopPoint, Shot } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { drawFigure, prepareCanvas } from '../../drawing/figure-drawing.ts';
import { flatExtent, fitView } from '@kneader/core';
import { solidFill } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { Field } from './field.tsx';
import { OptionForm } from './option-form.tsx';

/** Loop: what it does, and where the motion could be cut to one. */
export function LoopPanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  return (
    <TriedPanel edit={edit} options={options}>
      <LoopSearch />
      <OptionForm schema={edit.options} options={options} onChange={setOptions} />
    </TriedPanel>
  );
}

const MOST_LISTED = 8;

interface Listed {
  readonly on: Shot;
  readonly whose: string | null;
  readonly points: readonly LoopPoint[];
}

/** Frames between which the motion comes back to itself: a touch marks them as the range, and both poses are seen beside each other. */
function LoopSearch() {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const [shortest, setShortest] = useState(12);
  const [listed, setListed] = useState<Listed | null>(null);
  const [searching, setSearching] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  // Of the selected figure, else the first.
  const character =
    shot.nodes.find(({ id }) => id === selection.nodes[0])?.character ?? shot.characters[0]?.id ?? null;
  const search = async () => {
    setSearching(true);
    setProblem(null);
    try {
      const longest = Math.max(shortest, Math.floor(shot.range.end - shot.range.start));
      const points = await bridge.loopPoints(shot, character, { shortest, longest, most: MOST_LISTED });
      setListed({ on: shot, whose: character, points });
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setSearching(false);
    }
  };
  const points = listed?.on === shot && listed.whose === character ? listed.points : null;
  const name = shot.characters.length > 1 ? shot.characters.find(({ id }) => id === character)?.name : null;
  const { range } = selection;
  const marked = points?.find(({ start, end }) => start === range?.start && end === range?.end) ?? null;
  return (
    <section className="loop-points" aria-label="Loop points">
      <Field label="At least" title="Frames that a loop has at least">
        <InputNumber
          size="small"
          aria-label="Frames of a loop at least"
          min={2}
          max={100_000}
          precision={0}
          value={shortest}
          onChange={(value) => value !== null && setShortest(value)}
          suffix="frames"
        />
      </Field>
      <Button size="small" loading={searching} onClick={() => void search()}>
        Find loop points{name ? ` of ${name}` : ''}
      </Button>
      {problem !== null && (
        <p className="refusal" role="alert">
          A defect in Kneader: loop points could not be looked for. ({problem})
        </p>
      )}
      {points?.length === 0 && (
        <p className="soft" role="status">
          Nowhere in the shot does this figure come back to a pose it moved away from.
        </p>
      )}
      {points && points.length > 0 && (
        <ol aria-label="Found loop points">
          {points.map((point) => (
            <li key={`${point.start} ${point.end}`}>
              <button
                type="button"
                aria-pressed={point === marked}
                title="Mark it as the range"
                onClick={() => {
                  bench.select({ ...selection, range: { start: point.start, end: point.end } });
                  bench.setFrame(point.start);
                }}
              >
                <span>
                  {point.start} to {point.end}
                </span>
                <span>{point.end - point.start} frames</span>
                <span>
                  {point.mm < 10 ? point.mm.toFixed(1) : Math.round(point.mm)} mm, {point.degrees.toFixed(1)}°
                </span>
              </button>
            </li>
          ))}
        </ol>
      )}
      {marked && (
        <div className="loop-ends">
          {[marked.start, marked.end].map((frame) => (
            <figure key={frame}>
              <PoseAt shot={shot} character={character} frame={frame} />
              <figcaption>frame {frame}</figcaption>
            </figure>
          ))}
        </div>
      )}
    </section>
  );
}

const [WIDE, TALL, TURN] = [116, 130, 35];

/** A figure as it stands on a frame. */
function PoseAt({
  shot,
  character,
  frame,
}: {
  readonly shot: Shot;
  readonly character: string | null;
  readonly frame: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { ink } = PALETTES[useTheme(({ name }) => name)];
  const own = useMemo(
    () => shot.nodes.map((node) => (node.character === character ? node : { solids: [] })),
    [shot.nodes, character],
  );
  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, WIDE, TALL);
    if (!context) return;
    const { matrices } = worldAt(shot, frame);
    const view = fitView(flatExtent(own, [matrices], TURN), WIDE, TALL, TURN);
    drawFigure(context, own, matrices, view, { fill: solidFill, line: ink, lineWidth: 0.8 });
  }, [shot, own, frame, ink]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`The pose on frame ${frame}`}
      style={{ width: WIDE, height: TALL }}
    />
  );
}
