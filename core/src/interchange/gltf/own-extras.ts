/** What Kneader writes beside glTF's own words, for which glTF has none: rate and frames, and the keys of nodes (`own-keys.ts`). */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { ownNodeSchema } from './own-keys.ts';

export const GENERATOR = 'Kneader';
/** Under which name it stands in the document's `extras`. */
export const EXTRAS = 'kneader';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);
const schema = z.object({
  [EXTRAS]: z.object({
    rate: z.object({ numerator: z.number().positive(), denominator: z.number().positive() }),
    firstFrame: frame,
    lastFrame: frame,
    nodes: z.array(ownNodeSchema).optional().catch([]),
  }),
});
export type OwnExtras = z.infer<typeof schema>[typeof EXTRAS];

/** What Kneader wrote, or null where another program, or a hand, did. */
export function ownExtras(extras: unknown): OwnExtras | null {
  const parsed = schema.safeParse(extras);
  return parsed.success ? parsed.data[EXTRAS] : null;
}
