/**
 * Everything that holds frames, taken through a change of time, but for the curves that are keyed, which the edit carries itself: each part of the document says
 * what becomes of it. A part without an answer does not compile.
 */
import type { Finding } from '../base/finding.ts';
import type { TimePieces } from '../base/time-pieces.ts';
import type { Curve } from '../curve/curve.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { throughTime } from './parts/part.ts';
import { EVERY_PART } from './parts/parts.ts';
import type { Shot } from './shot.ts';

/** @param range the shot's frames before, @param weight carries a weight as the edit carries all curves */
export function partsThroughTime(
  shot: Shot,
  pieces: TimePieces,
  range: FrameRange,
  weight: (weight: Curve) => Curve,
): { readonly shot: Shot; readonly findings: readonly Finding[] } {
  const findings: Finding[] = [];
  const going = { pieces, range, weight, say: (one: Finding) => findings.push(one), copies: new Map() };
  let after = shot;
  for (const [name, part] of EVERY_PART) {
    const held = after[name];
    if (held === undefined) continue;
    const next = throughTime(part as never, held, going);
    if (next !== held) after = { ...after, [name]: next };
  }
  return { shot: after, findings };
}
