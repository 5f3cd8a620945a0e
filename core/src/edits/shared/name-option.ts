/** The name that a new layer is given, or gets. */
import { z } from 'zod';

export const nameOption = (otherwise: string) =>
  z
    .string()
    .trim()
    .max(60)
    .default('')
    .meta({ title: 'Name', description: `Empty: ${otherwise}.` });
