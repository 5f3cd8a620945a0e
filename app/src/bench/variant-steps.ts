/** Going through the variants of the stack by strokes. */
import { shownVariant, variantsOf } from '@kneader/core';
import { bench, useBench } from './bench-store.ts';

/** Shows the variant of this place, from 0; without one nothing happens. */
export function showVariant(place: number): void {
  const variant = variantsOf(useBench.getState().session.shot)[place];
  if (variant) bench.perform('variants.show', { variant: variant.id });
}

/** The next one, or the one before; from a stack that is none of them the first, or the last. */
export function showNextVariant(way: 1 | -1): void {
  const { shot } = useBench.getState().session;
  const variants = variantsOf(shot);
  if (variants.length === 0) return;
  const shown = shownVariant(shot);
  const at = shown ? variants.indexOf(shown) : way > 0 ? -1 : 0;
  showVariant((at + way + variants.length) % variants.length);
}
