/** The curves that are keyed on a pass, by the rig's channels. */
import type { Curve } from '../../curve/curve.ts';
import type { Rig } from '../../rig/rig.ts';
import type { Layer } from '../layer.ts';

export function* ownCurves({ curves }: Layer, rig: Rig): Generator<[channel: number, curve: Curve]> {
  for (let i = 0; i < rig.nodes.length; i += 1) {
    const entries = curves[i];
    if (!entries) continue;
    for (let c = rig.firstChannel[i]!; c < rig.firstChannel[i + 1]!; c += 1) {
      const curve = entries[rig.channels[c]!.name];
      if (curve) yield [c, curve];
    }
  }
}

export function ownCurve({ curves }: Layer, rig: Rig, channel: number): Curve | undefined {
  const { node, name } = rig.channels[channel]!;
  return curves[node]?.[name];
}
