/** What crowds in the benchmarks are made of. */
import { AT_REST, buildCurve, kindOf } from '@kneader/core';
import type { Curve, Layer, Node, Shot } from '@kneader/core';

/** Thirty keys over the shot. */
export const wave = (seed: number): Curve =>
  buildCurve(30, (columns) => {
    for (let i = 0; i < 30; i += 1) {
      columns.times[i] = i * 8;
      columns.values[i] = 20 * Math.sin(i + seed);
    }
  });

/** Characters whose controls hang on one another in a row. */
export function controls(characters: number, count: number, channels: string[]): Node[] {
  return Array.from({ length: characters * count }, (_, i): Node => ({
    id: `control ${i}`,
    parent: i % count === 0 ? null : `control ${i - 1}`,
    kind: 'control',
    rest: { ...AT_REST, translation: [0, 5, 0] },
    order: 'xyz',
    channels,
    side: 'centre',
    pair: null,
    part: 'extra',
    character: `character ${Math.floor(i / count)}`,
    solids: [],
  }));
}

export function layer(id: string, kind: string, shot: Shot, more: Partial<Layer>): Layer {
  return {
    id,
    kind,
    name: id,
    colour: 0,
    members: shot.nodes.map((node) => node.id),
    channels: null,
    muted: false,
    solo: false,
    locked: false,
    weight: buildCurve(1, (columns) => (columns.values[0] = 0.8)),
    range: null,
    curves: [],
    ...more,
    settings: kindOf({ kind })!.settings.parse(more.settings ?? {}),
  };
}

/** Two offset passes and a replace pass over two rotations of each control. */
export function threePasses(shot: Shot): Layer[] {
  const curves = shot.nodes.map((_, i) => ({ rx: wave(i + 3), ry: wave(i + 5) }));
  return ['offset', 'offset', 'replace'].map((kind, i) =>
    layer(`pass ${i}`, kind, shot, {
      curves,
      weight: buildCurve(1, (columns) => (columns.values[0] = 0.4)),
    }),
  );
}
