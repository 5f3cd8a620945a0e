/** Channels that choose, on layers: one layer's answer holds, or another's, and nothing in between. */
import { CHOICE, isStepping } from '../rig/choices.ts';
import type { Context } from './layer.ts';

/** Whether a channel chooses, and is never mixed. */
export function chooses({ rig, base }: Pick<Context, 'rig' | 'base'>, channel: number): boolean {
  const how = rig.choices[channel]!;
  if (how !== CHOICE.asKeyed) return how === CHOICE.always;
  const { node, name } = rig.channels[channel]!;
  const curve = base[node]?.[name];
  return !curve || isStepping(curve);
}

/** Half of the one is the other: what `mixed` is for quantities. */
export const chosen = (below: number, own: number, weight: number): number => (weight >= 0.5 ? own : below);
