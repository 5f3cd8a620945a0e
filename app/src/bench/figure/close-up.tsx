import { useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Node } from '@kneader/core';
import { drawFigure, prepareCanvas } from '../../drawing/figure-drawing.ts';
import type { FlatView } from '@kneader/core';
import { solidFill } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench } from '../bench-store.ts';
import { APART, CLOSE_UP, layOut } from './close-up-layout.ts';
import type { FigureSpot, restOf } from './figure-spots.ts';
import { SpotMark } from './spot-mark.tsx';

interface CloseUpProps {
  readonly crowd: readonly FigureSpot[];
  /** Where the hand is in the figure's place. */
  readonly hand: readonly [number, number];
  readonly rest: ReturnType<typeof restOf>;
  /** How the figure lies in its place. */
  readonly view: FlatView;
  /** The width and height of the figure's place. */
  readonly within: readonly [number, number];
  readonly looks: (
    node: Node,
  ) => Pick<Parameters<typeof SpotMark>[0], 'chosen' | 'leader' | 'layer' | 'colour' | 'ring'>;
  readonly onLeave: () => void;
}

/** A part of the figure as large as a hand needs it, over where it lies: a head, a hand, a foot, a chain. Gone when the hand leaves, with Escape, a choice, a touch elsewhere. */
export function CloseUp({ crowd, hand, rest, view, within, looks, onLeave }: CloseUpProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const palette = PALETTES[useTheme((state) => state.name)];
  const [under, setUnder] = useState<string | null>(null);
  const [wide, high] = within;
  const { zoom, middle, left, top, spots } = useMemo(
    () => layOut(crowd, hand, [wide, high]),
    [crowd, hand, wide, high],
  );
  const nodes = new Map(crowd.map(({ id, node }) => [id, node]));

  useLayoutEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, CLOSE_UP, CLOSE_UP);
    if (!context) return;
    const near: FlatView = {
      turn: view.turn,
      scale: view.scale * zoom,
      x: CLOSE_UP / 2 + (view.x - middle[0]) * zoom,
      y: CLOSE_UP / 2 + (view.y - middle[1]) * zoom,
    };
    context.globalAlpha = 0.55;
    drawFigure(context, rest.body, rest.pose.matrices, near, {
      fill: solidFill,
      line: palette.soft,
      lineWidth: 1.4,
    });
  });
  const leaving = useRef(onLeave);
  useLayoutEffect(() => {
    leaving.current = onLeave;
  });
  // Once: what is attached while a key goes its way does not hear that key.
  useLayoutEffect(() => {
    const leave = (event: Event) => {
      const inside = event.target instanceof globalThis.Node && box.current?.contains(event.target);
      if (event instanceof KeyboardEvent ? event.key !== 'Escape' : inside) return;
      leaving.current();
    };
    window.addEventListener('pointerdown', leave, true);
    window.addEventListener('keydown', leave, true);
    return () => {
      window.removeEventListener('pointerdown', leave, true);
      window.removeEventListener('keydown', leave, true);
    };
  }, []);

  const nearest = (event: React.MouseEvent): string | null => {
    const square = box.current!.getBoundingClientRect();
    const [x, y] = [event.clientX - square.left, event.clientY - square.top];
    const away = (one: (typeof spots)[number]) => Math.hypot(one.x - x, one.y - y);
    const [best] = [...spots].sort((a, b) => away(a) - away(b));
    return best && away(best) <= APART / 2 + 2 ? best.id : null;
  };
  return (
    <div
      ref={box}
      className="close-up"
      role="group"
      aria-label="Close-up"
      style={{ width: CLOSE_UP, height: CLOSE_UP, left, top }}
      onPointerLeave={onLeave}
      onPointerMove={(event) => setUnder(nearest(event))}
      onClick={(event) => {
        const meant = nearest(event);
        if (meant !== null) bench.selectNodes([meant], event.shiftKey);
        // With Shift the hand goes on choosing.
        if (meant === null || !event.shiftKey) onLeave();
      }}
    >
      <canvas ref={canvas} style={{ width: CLOSE_UP, height: CLOSE_UP }} />
      <svg width={CLOSE_UP} height={CLOSE_UP}>
        {spots.map(({ id, x, y, homeX, homeY }) => (
          <g key={id} className={under === id ? 'under' : undefined}>
            {Math.hypot(x - homeX, y - homeY) > 5 && (
              <line x1={homeX} y1={homeY} x2={x} y2={y} stroke={palette.soft} strokeWidth={1} />
            )}
            <SpotMark
              id={`close-up-${id}`}
              {...{ node: nodes.get(id)!, x, y }}
              {...looks(nodes.get(id)!)}
              here={false}
              large
            />
          </g>
        ))}
      </svg>
      <p aria-live="polite">{under ?? `${spots.length} controls`}</p>
    </div>
  );
}
