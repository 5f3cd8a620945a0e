import { useEffect, useMemo, useRef } from 'react';
import { computeWorld, newWorldPose, placeIn, rigOf } from '@kneader/core';
import type { Node } from '@kneader/core';
import { drawFigure, extentOf, fitView, prepareCanvas, project } from '../../drawing/figure-drawing.ts';
import { solidFill } from '../../drawing/solid-fills.ts';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, useBench } from '../bench-store.ts';
import { useSize } from '../use-size.ts';

/** Which nodes are touched on the figure: those that have channels and belong to the body. */
const isTouchable = (node: Node) => node.channels.length > 0 && node.part !== 'prop';

/** The figure at rest, with a spot for each control. Left spots are squares, right ones are diamonds. */
export function BodyFigure() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(frame);
  const palette = PALETTES[useTheme((state) => state.name)];
  const nodes = useBench((state) => state.session.shot.nodes);
  const chains = useBench((state) => state.session.shot.chains);
  const selected = useBench((state) => state.session.selection.nodes);

  const rest = useMemo(() => {
    const rig = rigOf({ nodes, chains } as Parameters<typeof rigOf>[0]);
    const pose = newWorldPose(rig);
    computeWorld(
      rig,
      rig.channels.map((channel) => channel.rest),
      pose,
    );
    const body = nodes.map((node) => (node.part === 'prop' ? { solids: [] } : node));
    return { pose, body, extent: extentOf(body, [pose.matrices], 0) };
  }, [nodes, chains]);
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
  // Small and hanging parts lie under the body's own controls, which are touched more.
  const order = nodes.map((_, i) => i).sort((a, b) => +!isSmall(nodes[a]!) - +!isSmall(nodes[b]!) || a - b);
  return (
    <div ref={frame} className="body-figure">
      <canvas ref={canvas} style={{ width, height }} />
      <svg width={width} height={height} role="group" aria-label="Controls">
        {order.map((i) => {
          const node = nodes[i]!;
          if (!isTouchable(node)) return null;
          const [x, y] = project(view, ...placeIn(rest.pose, i));
          return (
            <Spot
              key={node.id}
              node={node}
              x={Math.min(Math.max(x, 6), width - 6)}
              y={Math.min(Math.max(y + aside(node), 6), height - 6)}
              chosen={chosen.has(node.id)}
              colour={palette[node.side]}
              ring={palette.ink}
            />
          );
        })}
      </svg>
    </div>
  );
}

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

interface SpotProps {
  readonly node: Node;
  readonly x: number;
  readonly y: number;
  readonly chosen: boolean;
  readonly colour: string;
  readonly ring: string;
}

function Spot({ node, x, y, chosen, colour, ring }: SpotProps) {
  const size = isSmall(node) ? 2.7 : node.kind === 'goal' ? 3.4 : 4.4;
  const common = {
    fill: chosen ? ring : colour,
    fillOpacity: node.kind === 'goal' && !chosen ? 0.25 : 0.92,
    stroke: chosen ? ring : colour,
    strokeWidth: node.kind === 'goal' ? 1.6 : 1,
  };
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={node.id}
      aria-pressed={chosen}
      className="spot"
      onClick={(event) => bench.selectNodes([node.id], event.shiftKey)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        event.stopPropagation();
        bench.selectNodes([node.id], event.shiftKey);
      }}
    >
      <title>{node.id}</title>
      <circle cx={x} cy={y} r={isSmall(node) ? 5 : 8} fill="transparent" />
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
