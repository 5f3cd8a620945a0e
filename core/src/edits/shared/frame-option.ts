/** The option for a place in time: what all edits that take one share. */
import { z } from 'zod';
import { MOST_FRAMES } from '../../base/frame-range.ts';

export const frameOption = (title: string, description: string) =>
  z.number().min(-MOST_FRAMES).max(MOST_FRAMES).meta({ title, unit: 'frame', description });
