import type { Node } from '@kneader/core';
import { isSmall } from './figure-spots.ts';

interface SpotMarkProps {
  /** Of the element; its name alone stands for it in the list of controls. */
  readonly id: string;
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
  /** In a close-up. */
  readonly large?: boolean;
}

/** Left spots are squares, right ones are diamonds, those that another control leads are pale. */
export function SpotMark({
  id,
  node,
  x,
  y,
  chosen,
  leader,
  layer,
  here,
  colour,
  ring,
  large = false,
}: SpotMarkProps) {
  const size = large ? 6 : isSmall(node) ? 2.7 : node.kind === 'goal' ? 3.4 : 4.4;
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
      id={id}
      role="option"
      aria-label={node.id}
      aria-selected={chosen}
      className={`spot${here ? ' here' : ''}`}
    >
      <title>{leader === null ? node.id : `${node.id}: led by ${leader}`}</title>
      <circle cx={x} cy={y} r={large ? 12 : isSmall(node) ? 5 : 8} fill="transparent" />
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
