/**
 * The layers of version 1, which knew passes only: their way of adding rotations stood beside their curves, and bookends only said where zero keys
 * belong. Where those keys stand, so that nothing of the pass shows outside, the bookends become its range; else the keys say all, and the range is open.
 */
import { kindOf } from '../../layers/kinds.ts';

interface OldCurve {
  readonly times: ArrayLike<number>;
  readonly values: ArrayLike<number>;
  readonly leadIn?: string;
  readonly leadOut?: string;
}
export interface OldPass {
  readonly kind: string;
  readonly rotations?: string;
  readonly bookends?: { readonly start: number; readonly end: number } | null;
  readonly curves:
    Readonly<Record<string, OldCurve>> | readonly (Readonly<Record<string, OldCurve>> | undefined)[];
}

/** The layers of its passes, in a file (curves by address) and in memory (in a table) alike. */
export function layersOfPasses(passes: readonly OldPass[]): object[] {
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
