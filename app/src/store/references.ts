/** Footage that a shot is looked at beside: a film or numbered pictures and how they lie, stored beside the shot; they never leave this browser, and go with it. */
import { useQuery } from '@tanstack/react-query';
import { z } from 'zod';
import { referenceStore } from './storage.ts';

export const referencePlace = z.object({
  /** The frame of the shot on which the first shown moment of the film lies. */
  offset: z.number().default(0),
  /** How fast it runs: 0.8 shows it slower. */
  rate: z.number().positive().max(100).default(1),
  /** The first and the last moment that is shown, seconds of the film; null is its end. */
  from: z.number().min(0).default(0),
  to: z.number().min(0).nullable().default(null),
  isShown: z.boolean().default(true),
  /** Beside the stage, or as a plane behind the figure. */
  place: z.enum(['beside', 'behind']).default('beside'),
  /** Moments that were marked, seconds of the film, rising. */
  marks: z.array(z.number()).default([]),
});
export type ReferencePlace = z.output<typeof referencePlace>;

const referenceSchema = z.object({
  name: z.string(),
  files: z.array(z.instanceof(Blob)).min(1),
  place: referencePlace,
});
export type Reference = z.output<typeof referenceSchema>;

export async function loadReference(shot: string): Promise<Reference | null> {
  const found = referenceSchema.safeParse(await referenceStore.getItem(shot));
  return found.success ? found.data : null;
}

export async function keepReference(shot: string, reference: Reference): Promise<void> {
  await referenceStore.setItem(shot, reference);
}

export const dropReference = (shot: string): Promise<void> => referenceStore.removeItem(shot);

async function bytesOfReferences(): Promise<number> {
  let sum = 0;
  await referenceStore.iterate((value) => {
    const found = referenceSchema.safeParse(value);
    if (found.success) for (const { size } of found.data.files) sum += size;
  });
  return sum;
}

export const useReferenceBytes = () =>
  useQuery({ queryKey: ['shots', 'reference bytes'], queryFn: bytesOfReferences });
