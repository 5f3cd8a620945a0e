import { useEffect, useMemo, useRef, useState } from 'react';
import { computeWorld, ledBy, newWorldPose, placeIn, rigOf } from '@kneader/core';
import type { Node } from '@kneader/core';
import { drawFigure, extentOf, fitView, prepareCanvas, project } from '../../drawing/figure-drawing.ts';
import { solidFill } from '../../drawing/solid-fills.ts';
import { PALETTES, PASS_HUES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';
import { meantSpots, spotBeside } from './spots.ts';

interface Asked {
  readonly names: readonly string[];
  readonly x: number;
  readonly y: number;
  readonly add: boolean;
}

/** Which nodes are touched on the figure: those that have channels and belong to the body. */
const isTouchable = (node: Node) => node.channels.length > 0 && node.part !== 'prop';

/** Of the figure that is shown, or of none; null shows all. */
const isOf = ({ character }: Node, figure: string | null) =>
  figure === null || character === null || character === figure;

/**
 * The figure at rest, with a spot for each control. Left spots are squares, right ones are diamonds, those that another control leads
 * are pale. One stop for the keyboard, arrows inside; where spots cannot be told apart a list asks.
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
  const [asked, setAsked] = useState<Asked | null>(null);
  const shot = useBench((state) => state.session.shot);
  const still = useBench((state) => (state.playing ? state.held : state.frame));
  const choice = useRef<HTMLUListElement>(null);
  useEffect(() => {
    if (!asked) return;
    // Gone with Escape, and with a touch anywhere else.
    const leave = (event: Event) => {
      const inside = event.target instanceof globalThis.Node && choice.current?.contains(event.target);
      if (event instanceof KeyboardEvent ? event.key !== 'Escape' : inside) return;
      if (event instanceof KeyboardEvent) event.stopPropagation();
      setAsked(null);
    };
    window.addEventListener('pointerdown', leave, true);
    window.addEventListener('keydown', leave, true);
    return () => {
      window.removeEventListener('pointerdown', leave, true);
      window.removeEventListener('keydown', leave, true);
    };
  }, [asked]);
  const worked = shot.layers.find(({ id }) => id === pass);
  const leaders = useMemo(() => ledBy(shot, still), [shot, still]);

  const rest = useMemo(() => {
    const rig = rigOf({ nodes, relations } as Parameters<typeof rigOf>[0]);
    const pose = newWorldPose(rig);
    computeWorld(
      rig,
      rig.channels.map((channel) => channel.rest),
      pose,
    );
    const body = nodes.map((node) => (node.part === 'prop' || !isOf(node, figure) ? { solids: [] } : node));
    return { pose, body, extent: extentOf(body, [pose.matrices], 0) };
  }, [nodes, relations, figure]);
  const view = fitView(rest.extent, Math.max(width, 1), Math.max(height, 1), 0);

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
  // Small and hanging parts lie under the body's own controls, which are touched more.
  const order = nodes.map((_, i) => i).sort((a, b) => +!isSmall(nodes[a]!) - +!isSmall(nodes[b]!) || a - b);
  const spots = order
    .filter((i) => isTouchable(nodes[i]!) && isOf(nodes[i]!, figure))
    .map((i) => {
      const node = nodes[i]!;
      const [x, y] = project(view, ...placeIn(rest.pose, i));
      return {
        id: node.id,
        node,
        x: Math.min(Math.max(x, EDGE), width - EDGE),
        y: Math.min(Math.max(y + aside(node), EDGE), height - EDGE),
      };
    });
  const here = spots.find(({ id }) => id === at) ?? spots.find(({ id }) => chosen.has(id)) ?? spots[0];
  const touch = (event: React.MouseEvent) => {
    const place = event.currentTarget.getBoundingClientRect();
    const meant = meantSpots(spots, event.clientX - place.left, event.clientY - place.top);
    setAsked(null);
    if (meant.length > 1)
      setAsked({ names: meant.map(({ id }) => id), x: meant[0]!.x, y: meant[0]!.y, add: event.shiftKey });
    else if (meant.length === 1) bench.selectNodes([meant[0]!.id], event.shiftKey);
    else if (!event.shiftKey) bench.selectNodes([]);
  };
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
            node={node}
            x={x}
            y={y}
            chosen={chosen.has(node.id)}
            leader={leaders.get(node.id) ?? null}
            layer={worked && inLayer.has(node.id) ? PASS_HUES[worked.colour]! : null}
            here={node.id === here?.id}
            colour={palette[node.side]}
            ring={palette.ink}
          />
        ))}
      </svg>
      {asked && (
        <ul
          ref={choice}
          className="spot-choice"
          aria-label="Which control?"
          style={{ left: asked.x, top: asked.y }}
        >
          {asked.names.map((name) => (
            <li key={name}>
              <button
                type="button"
                onClick={() => {
                  bench.selectNodes([name], asked.add);
                  setAsked(null);
                }}
              >
                {name}
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** Spots keep so far from the edge, pixels: none is clipped. */
const EDGE = 9;
const WAYS: Readonly<Record<string, [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Fingers, face and hanging parts crowd: their spots are small. */
const isHanging = (node: Node) => node.part === 'extra';
const isSmall = (node: Node) =>
  isHanging(node) || /thumb|index|fingers|eye|brow|jaw|moustache|toe|ball|heel/i.test(node.id);

/** At rest a goal lies on the joint that it drives, and a thumb on its hand: their spots stand beside it, pixels below. */
function aside({ kind, part, id }: Node): number {
  if (/thumb/i.test(id)) return 10;
  if (kind !== 'goal') return 0;
  return part === 'leg' ? 9 : -11;
}

interface SpotMarkProps {
  readonly node: Node;
  readonly x: number;
  readonly y: number;
  readonly chosen: boolean;
  /** What leads it at the play-head: its own keys do not show. */
  readonly leader: string | null;
  /** The colour of the layer that is worked on, where it is in that. */
  readonly layer: string | null;
  /** Whether the keyboard stands on it. */
  readonly here: boolean;
  readonly colour: string;
  readonly ring: string;
}

function SpotMark({ node, x, y, chosen, leader, layer, here, colour, ring }: SpotMarkProps) {
  const size = isSmall(node) ? 2.7 : node.kind === 'goal' ? 3.4 : 4.4;
  const pale = leader !== null && !chosen;
  const common = {
    fill: chosen ? ring : colour,
    fillOpacity: (node.kind === 'goal' && !chosen) || pale ? 0.25 : 0.92,
    stroke: chosen ? ring : colour,
    strokeOpacity: pale ? 0.5 : 1,
    strokeWidth: node.kind === 'goal' ? 1.6 : 1,
  };
  return (
    <g
      id={`spot-${node.id}`}
      role="option"
      aria-label={node.id}
      aria-selected={chosen}
      className={`spot${here ? ' here' : ''}`}
    >
      <title>{leader === null ? node.id : `${node.id}: led by ${leader}`}</title>
      <circle cx={x} cy={y} r={isSmall(node) ? 5 : 8} fill="transparent" />
      {layer !== null && (
        <circle
          cx={x}
          cy={y}
          r={size + 3}
          fill="none"
          stroke={layer}
          strokeWidth={2}
          className="spot-layer"
        />
      )}
      {node.side === 'centre' && <circle cx={x} cy={y} r={size} {...common} />}
      {node.side === 'left' && (
        <rect x={x - size} y={y - size} width={2 * size} height={2 * size} rx={1.2} {...common} />
      )}
      {node.side === 'right' && (
        <rect
          x={x - size}
          y={y - size}
          width={2 * size}
          height={2 * size}
          rx={0.6}
          transform={`rotate(45 ${x} ${y})`}
          {...common}
        />
      )}
    </g>
  );
}
