/** The stored record of what was said by hand for two figures. */
import { z } from 'zod';

const pairsSchema = z.record(z.string(), z.string().nullable());
/** Until places could be said for a pair, the record was its pairs alone: there all values are names. */
const saidSchema = z.union([
  z.object({ pairs: pairsSchema, times: z.number().positive().max(1000).nullable() }),
  pairsSchema.transform((pairs) => ({ pairs, times: null })),
]);

export interface SaidMapping {
  /** Joints of the one and those of the other, or none. */
  readonly pairs: Readonly<Record<string, string | null>>;
  /** What places are multiplied by; null where that is found from the figures. */
  readonly times: number | null;
}

export const NOTHING_SAID: SaidMapping = { pairs: {}, times: null };

/** @param stored whatever is there; what is no such record says nothing */
export function readSaidMapping(stored: unknown): SaidMapping {
  const read = saidSchema.safeParse(stored);
  return read.success ? read.data : NOTHING_SAID;
}
