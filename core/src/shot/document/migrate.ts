/**
 * Documents of earlier versions, in the form of this one. What they show stays the same to the bit.
 *
 * Version 1 had passes: their way of adding rotations stood beside their curves, and bookends only said where zero keys belong. Where those keys
 * stand, so that nothing of the pass shows outside, the bookends become its range; else the keys say all, and the range is open.
 *
 * Version 2 had limbs as chains of their own; they are relations now.
 */
import { kindOf } from '../../layers/kinds.ts';
import { reachOf } from '../../rig/relations/reach.ts';
import type { Chain } from '../../rig/relations/reach.ts';

interface OldCurve {
  readonly times: ArrayLike<number>;
  readonly values: ArrayLike<number>;
  readonly leadIn?: string;
  readonly leadOut?: string;
}
interface OldPass {
  readonly kind: string;
  readonly rotations?: string;
  readonly bookends?: { readonly start: number; readonly end: number } | null;
  readonly curves:
    Readonly<Record<string, OldCurve>> | readonly (Readonly<Record<string, OldCurve>> | undefined)[];
}

/** The layers of version 1's passes, in a file (curves by address) and in memory (in a table) alike. */
function layersOf(passes: readonly OldPass[]): object[] {
  return passes.map(({ rotations = 'channels', bookends = null, ...rest }) => {
    const curves = Array.isArray(rest.curves)
      ? (rest.curves as (Record<string, OldCurve> | undefined)[]).flatMap((row) => Object.values(row ?? {}))
      : Object.values(rest.curves as Record<string, OldCurve>);
    const confined =
      bookends && rest.kind === 'offset' && curves.every((curve) => isNothingOutside(curve, bookends));
    return {
      ...rest,
      channels: null,
      range: confined ? { ...bookends, rampIn: 0, rampOut: 0 } : null,
      settings: kindOf(rest)?.kind === 'offset' ? { rotations } : {},
    };
  });
}

function isNothingOutside(curve: OldCurve, { start, end }: { start: number; end: number }): boolean {
  const { times, values, leadIn = 'hold', leadOut = 'hold' } = curve;
  const last = times.length - 1;
  if (last < 0) return true;
  const inside = times[0]! >= start && times[last]! <= end;
  return inside && values[0] === 0 && values[last] === 0 && leadIn === 'hold' && leadOut === 'hold';
}

/** Whether it is an object that names passes and no layers: a shot of version 1. */
const isOld = (value: object): value is { passes: readonly OldPass[] } =>
  'passes' in value && Array.isArray(value.passes) && !('layers' in value);

/** Whether it is an object that names chains and no relations: a shot of version 1 or 2. */
const hasChains = (value: object): value is { chains: readonly Chain[] } =>
  'chains' in value && Array.isArray(value.chains) && !('relations' in value);

/** The document in the form of this version; the same object where it is that already. */
export function migrated<Document extends object>(document: Document): Document {
  let now: object = document;
  if (isOld(now)) {
    const { passes, ...rest } = now;
    now = { ...rest, layers: layersOf(passes) };
  }
  if (hasChains(now)) {
    const { chains, ...rest } = now;
    now = { ...rest, relations: chains.map((chain) => ({ ...unknownOf(chain), ...reachOf(chain) })) };
  }
  return now as Document;
}

/** Fields of a chain that no version knows: they are kept on the relation. */
function unknownOf(chain: Chain): object {
  const { id, root, middle, end, target, pole, blend, tip, ...rest } = chain;
  void [id, root, middle, end, target, pole, blend, tip];
  return rest;
}
