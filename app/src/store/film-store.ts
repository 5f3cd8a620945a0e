/**
 * Moving pictures of actions, apart from the actions themselves: a film takes a hundred times the room of what it shows, and a pantry of hundreds
 * reads those in sight alone. One that was not given, or is lost, is drawn from the action when somebody looks.
 */
import { useQuery } from '@tanstack/react-query';
import type { ActionJson } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import { filmSchema } from '../worker/film.ts';
import type { Film } from '../worker/film.ts';
import type { KeptFilm } from './pantry-record.ts';
import { filmStore } from './storage.ts';

export async function keepFilm(kept: KeptFilm, film: Film): Promise<void> {
  if (typeof kept === 'string') await filmStore.setItem(kept, film);
}

export async function dropFilm(kept: KeptFilm): Promise<void> {
  if (typeof kept === 'string') await filmStore.removeItem(kept);
}

async function loadFilm(name: string, action: ActionJson): Promise<Film> {
  const stored = filmSchema.safeParse(await filmStore.getItem(name));
  if (stored.success) return stored.data;
  const drawn = await bridge.actionFilm(action);
  // Where there is no room for it, it is drawn again the next time.
  await filmStore.setItem(name, drawn).catch(() => undefined);
  return drawn;
}

const FORGOTTEN_MS = 60_000;

/** The film of an action, or undefined until it is there. */
export function useFilm({ action, film }: { action: ActionJson; film: KeptFilm }): Film | undefined {
  const name = typeof film === 'string' ? film : null;
  const { data } = useQuery({
    queryKey: ['film', name],
    queryFn: () => loadFilm(name!, action),
    enabled: name !== null,
    staleTime: Infinity,
    gcTime: FORGOTTEN_MS,
  });
  return typeof film === 'string' ? data : film;
}
