/**
 * Seeded random numbers: the same seed gives the same run on every machine.
 * Representation: one 32-bit state, mulberry32 (T. Ettinger, public domain).
 */
export interface Random {
  /** Uniform in [0, 1). */
  readonly next: () => number;
  /** A whole number in [low, high]. */
  whole(low: number, high: number): number;
  /** Normal with mean 0 and standard deviation 1 (Box & Muller 1958). */
  gaussian(): number;
}

export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    whole: (low, high) => low + Math.floor(next() * (high - low + 1)),
    gaussian: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
  };
}

/** A number from a name, the same everywhere: FNV-1a (Fowler, Noll, Vo). */
export function numberOf(text: string): number {
  let hash = 0x811c9dc5;
  for (const letter of text) hash = Math.imul(hash ^ letter.codePointAt(0)!, 0x01000193) >>> 0;
  return hash;
}
