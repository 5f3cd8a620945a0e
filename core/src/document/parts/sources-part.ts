/** The files that characters came in. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import type { Source } from '../sources.ts';
import { plainPart } from './part.ts';

const source = z.looseObject({
  id: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .describe('SHA-256 of its files: under it their bytes lie beside the shot'),
  name: z.string().min(1).max(LIMITS.name),
  bytes: z.number().int().min(0),
  character: z.string().describe('Whom it shows'),
  nodes: z
    .array(z.string().nullable())
    .max(LIMITS.nodes)
    .describe('For each node of the file the one of the shot'),
  morphs: z
    .array(z.object({ node: z.number().int().min(0), channels: z.array(z.string()).max(LIMITS.morphs) }))
    .describe('By index of a node of the file the channels that weigh its morph targets'),
  animation: z
    .object({ index: z.number().int().min(0), name: z.string().max(LIMITS.name) })
    .nullable()
    .describe('Which animation the shot came from and goes back to'),
});

export const sourcesPart = plainPart<readonly Source[]>(
  z.array(source).max(LIMITS.sources).describe('The files that characters came in'),
  // A change of time is one of curves: where they go back to stays.
  { time: 'none', sentWhole: true },
);
