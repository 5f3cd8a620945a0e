/**
 * What Kneader takes: the one table that readers, the document's schema and writers ask. Whatever is within it can be opened, stored,
 * written and opened again; whatever is not is refused when it is read, before any work is done.
 */
import { MOST_FRAMES } from './frame-range.ts';

export const LIMITS = {
  nodes: 20_000,
  /** Passes and filters of a shot. */
  layers: 1000,
  relations: 5000,
  contacts: 20_000,
  /** Things that one relation goes by. */
  targets: 64,
  /** Filters that move time over one control. */
  timeFilters: 8,
  /** Frames lie between plus and minus this. */
  frame: MOST_FRAMES,
  /** Lengths, places and values of channels, in their unit: beyond it single precision on the stage comes to nothing. */
  number: 1e12,
  /** Selection sets of a shot, its markers, and its notes. */
  marks: 2000,
  tags: 50,
  /** Letters of a note. */
  noteText: 2000,
  /** Morph targets of one node of a file. */
  morphs: 2000,
  /** Files of which shots may be made: figures of one shot that came in files. */
  sources: 100,
  /** Letters of a shot's name. */
  name: 200,
  /** Frames in a second, and seconds for a frame. */
  rate: 100_000,
  /** Nodes times frames that are sampled for a file: more is refused before it is begun. */
  samples: 50_000_000,
  /** Keys that one edit makes on one curve. */
  keys: 500_000,
  /** Objects within objects in a JSON file. */
  nesting: 100,
} as const;

/** A name that stands for something else in every JavaScript object. */
export const isReservedName = (name: string): boolean => name === '__proto__';

/** How deep objects lie in each other, counted until it is more than `most`. */
export function nestingOf(value: unknown, most: number): number {
  let layer: unknown[] = [value];
  for (let depth = 0; ; depth += 1) {
    const next: unknown[] = [];
    for (const one of layer)
      if (typeof one === 'object' && one !== null)
        for (const inner of Array.isArray(one) ? (one as unknown[]) : Object.values(one))
          if (typeof inner === 'object' && inner !== null) next.push(inner);
    if (next.length === 0 || depth > most) return depth;
    layer = next;
  }
}
