/** A new layer: an id and a name that none has, everything else as it is usual. */
import { kindOf } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import { constantCurve } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';

export function freshLayerId(shot: Shot): string {
  const numbers = shot.layers.map(({ id }) => Number(/^(?:pass|layer)-(\d+)$/.exec(id)?.[1] ?? 0));
  return `layer-${Math.max(0, ...numbers) + 1}`;
}

/** The name with the first number that makes it one of its own: “Offset 2”. */
export function freshLayerName(shot: Shot, name: string): string {
  const names = new Set(shot.layers.map((layer) => layer.name));
  for (let number = 1; ; number += 1) if (!names.has(`${name} ${number}`)) return `${name} ${number}`;
}

/** @param name as it was given; empty takes `usual` and a number */
export function freshLayer(
  shot: Shot,
  name: string,
  usual: string,
  more: Pick<Layer, 'kind' | 'members' | 'settings'> & Partial<Layer>,
): Layer {
  return {
    id: freshLayerId(shot),
    name: name || freshLayerName(shot, usual),
    colour: shot.layers.length % 8,
    channels: null,
    muted: false,
    solo: false,
    locked: false,
    weight: constantCurve(1, shot.range.start),
    range: null,
    curves: [],
    ...more,
    // What is not said of its settings is as usual.
    settings: kindOf(more)?.settings.parse(more.settings) ?? more.settings,
  };
}
