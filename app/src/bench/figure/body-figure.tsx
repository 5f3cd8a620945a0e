import { useEffect, useMemo, useRef, useState } from 'react';
import { ledBy } from '@kneader/core';
import type { Node } from '@kneader/core';
import { drawFigure, prepareCanvas } from '../../drawing/figure-drawing.ts';
import { solidFill } from '@kneader/core';
import { PALETTES, PASS_HUES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { crowdAt } from './close-up-layout.ts';
import { CloseUp } from './close-up.tsx';
import { figureSpots, restOf } from './figure-spots.ts';
import type { FigureSpot } from './figure-spots.ts';
import { SpotMark } from './spot-mark.tsx';
import { FINGER, meantSpots, spotBeside } from './spots.ts';

interface Close {
  /** The controls in it, the nearest to the hand first. */
  readonly ids: readonly string[];
  readonly hand: readonly [number, number];
}

const idsOf = (crowd: readonly FigureSpot[]) => crowd.map(({ id }) => id);

/**
 * The figure at rest, with a spot for each control. One stop for the keyboard, arrows inside; where spots cannot be told apart, or a hand rests on a crowd of them, a close-up
 * opens.
 */
export function BodyFigure({ figure }: { readonly figure: string | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(frame);
  const palette = PALETTES[useTheme((state) => state.name)];
  const nodes = useBench((state) => state.session.shot.nodes);
  const relations = useBench((state) => state.session.shot.relations);
  const selected = useBench((state) => state.session.selection.nodes);
  const pass = useBench((state) => state.session.selection.layer);

  const [at, setAt] = useState<string | null>(null);
  const [close, setClose] = useState<Close | null>(null);
  const resting = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const shot = useBench((state) => state.session.shot);
  const still = useBench((state) => (state.playing ? state.held : state.frame));
  /** Where the hand was when it had what it meant, or left a close-up. */
  const left = useRef<readonly [number, number] | null>(null);
  useEffect(() => () => clearTimeout(resting.current), []);
  const worked = shot.layers.find(({ id }) => id === pass);
  const leaders = useMemo(() => ledBy(shot, still), [shot, still]);

  const rest = useMemo(() => restOf({ nodes, relations }, figure), [nodes, relations, figure]);
  const { view, spots } = useMemo(() => figureSpots(rest, width, height), [rest, width, height]);

  useEffect(() => {
    const context = canvas.current && prepareCanvas(canvas.current, width, height);
    if (!context) return;
    context.globalAlpha = 0.55;
    drawFigure(context, rest.body, rest.pose.matrices, view, {
      fill: solidFill,
      line: palette.soft,
      lineWidth: 1.2,
    });
  });

  const chosen = new Set(selected);
  const inLayer = new Set(worked?.members);
  const here = spots.find(({ id }) => id === at) ?? spots.find(({ id }) => chosen.has(id)) ?? spots[0];
  const placeOf = (event: React.MouseEvent): [number, number] => {
    const place = event.currentTarget.getBoundingClientRect();
    return [event.clientX - place.left, event.clientY - place.top];
  };
  const touch = (event: React.MouseEvent) => {
    clearTimeout(resting.current);
    const meant = meantSpots(spots, ...placeOf(event));
    // Who has what was meant does not want to be shown more.
    left.current = placeOf(event);
    if (meant.length > 1) setClose({ ids: idsOf(crowdAt(spots, ...placeOf(event))), hand: placeOf(event) });
    else if (meant.length === 1) bench.selectNodes([meant[0]!.id], event.shiftKey);
    else if (!event.shiftKey) bench.selectNodes([]);
  };
  // A hand that rests where spots crowd wants to see them.
  const rests = (event: React.PointerEvent) => {
    clearTimeout(resting.current);
    if (event.buttons !== 0 || event.pointerType === 'touch') return;
    const hand = placeOf(event);
    // Who has just left it does not want it again.
    const [x, y] = left.current ?? [Infinity, Infinity];
    if (Math.hypot(hand[0] - x, hand[1] - y) < FINGER) return;
    left.current = null;
    const ids = idsOf(crowdAt(spots, ...hand));
    if (ids.length > 0) resting.current = setTimeout(() => setClose({ ids, hand }), REST_MS);
  };
  // Of the controls that there are now: an undo takes some away.
  const crowd = useMemo(
    () => (close?.ids ?? []).flatMap((id) => spots.find((spot) => spot.id === id) ?? []),
    [close, spots],
  );
  const looks = (node: Node) => ({
    chosen: chosen.has(node.id),
    leader: leaders.get(node.id) ?? null,
    layer: worked && inLayer.has(node.id) ? PASS_HUES[worked.colour]! : null,
    colour: palette[node.side],
    ring: palette.ink,
  });
  return (
    <div ref={frame} className="body-figure">
      <canvas ref={canvas} style={{ width, height }} />
      <svg
        width={width}
        height={height}
        role="listbox"
        aria-multiselectable
        aria-label="Controls"
        tabIndex={0}
        data-arrows
        aria-activedescendant={here && `spot-${here.id}`}
        onClick={touch}
        onPointerMove={rests}
        onPointerLeave={() => clearTimeout(resting.current)}
        onKeyDown={(event) => {
          const way = WAYS[event.key];
          if (here && way) setAt(spotBeside(spots, here, ...way).id);
          else if (here && event.key === 'Enter') {
            bench.selectNodes([here.id], event.shiftKey);
            // One control and the hand goes on at the bench; with Shift it goes on here.
            if (!event.shiftKey) event.currentTarget.blur();
          } else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      >
        {spots.map(({ node, x, y }) => (
          <SpotMark
            key={node.id}
            id={`spot-${node.id}`}
            {...{ node, x, y }}
            {...looks(node)}
            here={node.id === here?.id}
          />
        ))}
      </svg>
      {close && crowd.length > 1 && (
        <CloseUp
          hand={close.hand}
          {...{ crowd, rest, view, looks }}
          within={[width, height]}
          onLeave={() => {
            left.current = close.hand;
            setClose(null);
          }}
        />
      )}
    </div>
  );
}

/** So long a hand rests before the close-up opens. */
const REST_MS = 260;
const WAYS: Readonly<Record<string, [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
