import { useEffect, useRef } from 'react';
import { PALETTES } from '../theme/palette.ts';
import { useTheme } from '../theme/theme-provider.tsx';
import type { Film } from '../worker/film.ts';
import { drawFigure, prepareCanvas } from './figure-drawing.ts';
import { flatExtent, fitView } from '@kneader/core';
import { solidFill } from '@kneader/core';

const TURN = 28;
const STEP_MS = 90;

interface FilmPictureProps {
  readonly film: Film;
  readonly label: string;
  /** Off, it shows one pose out of the middle: among hundreds only the one under the hand moves. */
  readonly moves?: boolean;
}

/** A figure that moves: the poses of a film one after the other, there and back. Still where motion is unwanted. */
export function FilmPicture({ film, label, moves = true }: FilmPictureProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { ink } = PALETTES[useTheme(({ name }) => name)];
  useEffect(() => {
    const element = canvas.current;
    if (!element || film.poses.length === 0) return;
    const there = film.poses.length - 1;
    const runs = moves && there > 0 && !window.matchMedia('(prefers-reduced-motion: reduce)').matches;
    let last = moves ? 0 : film.poses.length >> 1;
    let [waits, timer] = [0, 0];
    // Scrolled out of sight it costs nothing.
    let seen = true;
    const sight = new IntersectionObserver((entries) => (seen = entries.at(-1)!.isIntersecting));
    sight.observe(element);
    // Told by the browser, the size costs no layout; and each is drawn in a task of its own: twenty cards that come into sight together must not be
    // one long one.
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      window.clearTimeout(waits);
      window.clearInterval(timer);
      waits = window.setTimeout(() => {
        const draw = penFor(element, film, ink, width, height);
        draw(last);
        if (!runs) return;
        timer = window.setInterval(() => {
          const beat = Math.floor(performance.now() / STEP_MS) % (2 * there);
          const at = beat <= there ? beat : 2 * there - beat;
          if (at !== last && seen && !document.hidden) draw((last = at));
        }, STEP_MS / 2);
      });
    });
    observer.observe(element);
    return () => {
      observer.disconnect();
      sight.disconnect();
      window.clearTimeout(waits);
      window.clearInterval(timer);
    };
  }, [film, moves, ink]);
  return <canvas ref={canvas} role="img" aria-label={label} />;
}

/** Draws one pose of the film, all of them to one scale: what any of them reaches has room. */
function penFor(
  element: HTMLCanvasElement,
  film: Film,
  ink: string,
  width: number,
  height: number,
): (pose: number) => void {
  const body = film.nodes.map((node) => (node.kind === 'camera' ? { solids: [] } : node));
  const extent = flatExtent(
    body.map((node, i) => (film.nodes[i]!.part === 'prop' ? { solids: [] } : node)),
    film.poses,
    TURN,
  );
  const style = { fill: solidFill, line: ink, lineWidth: 1.6 };
  const view = fitView(extent, width, height, TURN);
  const orders: (readonly number[])[] = [];
  return (pose) => {
    const context = prepareCanvas(element, width, height);
    if (context) orders[pose] = drawFigure(context, body, film.poses[pose]!, view, style, orders[pose]);
  };
}
