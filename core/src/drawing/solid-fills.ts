/** The fills of solids on flat pictures. */
import { SOLID_COLOURS } from '../rig/solid-mesh.ts';

const cache = new Map<string, string>();

/** A CSS colour for a solid's colour name (linear light to sRGB, IEC 61966-2-1). */
export function solidFill(colour: string): string {
  let fill = cache.get(colour);
  if (!fill) {
    const linear = SOLID_COLOURS[colour] ?? SOLID_COLOURS['body']!;
    const channels = linear.map((value) =>
      Math.round(255 * (value <= 0.0031308 ? 12.92 * value : 1.055 * value ** (1 / 2.4) - 0.055)),
    );
    fill = `rgb(${channels.join(' ')})`;
    cache.set(colour, fill);
  }
  return fill;
}
