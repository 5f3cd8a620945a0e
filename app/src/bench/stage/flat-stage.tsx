import { Segmented } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { worldAt } from '@kneader/core';
import { drawFigure, prepareCanvas } from '../../drawing/figure-drawing.ts';
import { flatExtent, fitView } from '@kneader/core';
import { solidFill } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { shownShot, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';

/** Degrees about the upright. */
const TURNS = { front: 0, half: 28, side: 90 } as const;

/** The stage of a browser that draws nothing in three dimensions: the same poses, painted flat, and why. */
export function FlatStage() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useSize(canvas);
  const shot = useBench(shownShot);
  const frame = useBench((state) => state.frame);
  const { ink } = PALETTES[useTheme(({ name }) => name)];
  const [turn, setTurn] = useState<keyof typeof TURNS>('half');
  useEffect(() => {
    const element = canvas.current;
    const context = element && size.width > 0 ? prepareCanvas(element, size.width, size.height) : null;
    if (!context) return;
    const body = shot.nodes.map((node) => (node.kind === 'camera' ? { solids: [] } : node));
    const { start, end } = shot.range;
    // One scale for all frames, so that what moves is seen to move.
    const poses = [start, (start + end) / 2, end, frame].map((at) => worldAt(shot, at).matrices);
    const view = fitView(flatExtent(body, poses, TURNS[turn]), size.width, size.height, TURNS[turn]);
    drawFigure(context, body, poses[3]!, view, { fill: solidFill, line: ink, lineWidth: 1.4 });
  }, [shot, frame, size.width, size.height, turn, ink]);
  return (
    <section className="stage" aria-label="Stage">
      <canvas ref={canvas} className="flat-stage" role="img" aria-label="The figure, painted flat" />
      <div className="stage-tools">
        <Segmented<keyof typeof TURNS>
          size="small"
          aria-label="View"
          value={turn}
          onChange={setTurn}
          options={[
            { value: 'half', label: 'Half turned' },
            { value: 'front', label: 'Front' },
            { value: 'side', label: 'Side' },
          ]}
        />
      </div>
      <p className="stage-lost" role="status">
        This browser draws nothing in three dimensions here (WebGL is off or missing), so the figure is
        painted flat and nothing can be dragged on it. Lanes, edits, playing and export work as ever.
      </p>
    </section>
  );
}
