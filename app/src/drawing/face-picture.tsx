import { useEffect, useRef } from 'react';
import { PALETTES } from '../theme/palette.ts';
import { useTheme } from '../theme/theme-provider.tsx';
import type { Film } from '../worker/film.ts';
import { drawFigure, prepareCanvas } from './figure-drawing.ts';
import { flatExtent, fitView } from '@kneader/core';
import { solidFill } from '@kneader/core';

const TURN = 18;
/** Free around it, as a part of its square. */
const MARGIN = 0.1;

interface FacePictureProps {
  readonly film: Pick<Film, 'nodes' | 'poses' | 'rest'>;
  /** Whose; null is everybody's. */
  readonly character: string | null;
  /** Empty where its name stands beside it. */
  readonly label: string;
  /** Of its square, pixels. */
  readonly size: number;
}

/** The face of a character at rest; who has none that can be told is shown whole. */
export function FacePicture({ film, character, label, size }: FacePictureProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { ink } = PALETTES[useTheme(({ name }) => name)];
  useEffect(() => {
    const pose = film.rest ?? film.poses[0];
    const context = pose && canvas.current && prepareCanvas(canvas.current, size, size);
    if (!context) return;
    const own = film.nodes.map((node) =>
      node.part === 'prop' || (character !== null && node.character !== character) ? { solids: [] } : node,
    );
    const head = own.map((node, i) => (film.nodes[i]!.part === 'head' ? node : { solids: [] }));
    const drawn = head.some(({ solids }) => solids.length > 0) ? head : own;
    const [room, free] = [size * (1 - 2 * MARGIN), size * MARGIN];
    const view = fitView(flatExtent(drawn, [pose], TURN), room, room, TURN);
    const placed = { ...view, x: view.x + free, y: view.y + free };
    drawFigure(context, drawn, pose, placed, {
      fill: solidFill,
      line: ink,
      lineWidth: size > 40 ? 1.4 : 0.6,
    });
  }, [film, character, ink, size]);
  const said = label === '' ? { 'aria-hidden': true } : { role: 'img', 'aria-label': label };
  return <canvas ref={canvas} {...said} style={{ width: size, height: size }} />;
}
