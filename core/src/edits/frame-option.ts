/** The option for a place in time: what all edits that take one share. */
import { z } from 'zod';

/** Frames beyond this are a slip of the hand: at 24 per second it is more than eleven hours. */
export const MOST_FRAMES = 1e6;

export const frameOption = (title: string, description: string) =>
  z.number().min(-MOST_FRAMES).max(MOST_FRAMES).meta({ title, unit: 'frame', description });
