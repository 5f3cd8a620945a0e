/** A tolerance in the unit of what it is for. */
import { z } from 'zod';

export const toleranceOption = (
  meta: {
    readonly title: string;
    readonly unit: string;
    readonly step: number;
    readonly description: string;
  },
  start: number,
  most: number,
  when?: Readonly<Record<string, unknown>>,
) =>
  z
    .number()
    .gt(0)
    .max(most)
    .default(start)
    .meta({ ...meta, ...(when && { when }) });
