/** A shot back into its character's file, with variants and whatever else moves him as further animations beside it. */
import type { Shot } from '../../document/shot.ts';
import type { Source } from '../../document/sources.ts';
import { variantsOf, withVariant } from '../../document/variants.ts';
import { writeIntoSource } from '../gltf/write-into-source.ts';
import type { AnimationOut, WrittenSource } from '../gltf/write-into-source.ts';
import type { SourceFile } from './source-files.ts';

export interface BackInto {
  /** What the shot's own animation is called; the one that it came from is replaced, whatever that was called. */
  readonly name: string;
  /** Ids of variants, each under its name. */
  readonly variants: readonly string[];
  /** Other shots of the same character, each under its name. */
  readonly also: readonly Shot[];
  /** `.glb` or `.gltf`. */
  readonly ending: string;
}

export function backIntoSource(
  shot: Shot,
  source: Source,
  files: readonly SourceFile[],
  { name, variants, also, ending }: BackInto,
): WrittenSource {
  const shown = variantsOf(shot).filter(({ id }) => variants.includes(id));
  return writeIntoSource(
    files,
    [
      { shot, source, name, ...(source.animation && { index: source.animation.index }) },
      ...shown.map((variant): AnimationOut => ({
        shot: withVariant(shot, variant),
        source,
        name: variant.name,
      })),
      ...also.map((other): AnimationOut => ({ shot: other, source, name: other.name })),
    ],
    ending,
  );
}
