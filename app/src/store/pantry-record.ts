/** What the pantry stores of an action, and what becomes of one that is brought. */
import { z } from 'zod';
import { actionSchema } from '@kneader/core';
import type { ActionJson } from '@kneader/core';
import { filmSchema } from '../worker/film.ts';
import { ownName } from './own-name.ts';

/** The name of a film (`film-store.ts`); older records hold the film itself. */
const keptFilmSchema = z.union([z.string(), filmSchema]);
export type KeptFilm = z.output<typeof keptFilmSchema>;

const versionSchema = z.object({ savedAt: z.number(), action: actionSchema, film: keptFilmSchema });
export type ActionVersion = z.infer<typeof versionSchema>;

/** An action with what its picture is drawn from. */
export const pantrySchema = versionSchema.extend({
  id: z.string(),
  /** A digest of what it does: the same for the same motion. Older records have none. */
  print: z.string().optional(),
  /** The words of the way to it, from the outermost folder. */
  folder: z.string().default(''),
  /** What it was before, the newest first. */
  versions: z.array(versionSchema).default([]),
  /** When it was removed; it can be had back until it is cleared away. */
  removedAt: z.number().nullable().default(null),
});
export type PantryItem = z.output<typeof pantrySchema>;

/** Versions of one action that are kept. */
const MOST_VERSIONS = 20;

/** What became of an action that was brought: kept as new, as a newer version of another, or not, since it is there. */
export interface Keeping {
  readonly how: 'new' | 'version' | 'renamed' | 'known';
  /** What it is called in the pantry. */
  readonly name: string;
}

export interface Arrival {
  readonly id: string;
  readonly savedAt: number;
  readonly action: ActionJson;
  readonly print: string;
  readonly film: KeptFilm;
  readonly folder: string;
  /** Of the same name and another content: a newer version of that, or another action beside it. */
  readonly sameName: 'version' | 'beside';
}

interface Arrived extends Keeping {
  /** What is to be stored; null where nothing is. */
  readonly item: PantryItem | null;
  /** Films of versions that are kept no longer. */
  readonly forgotten: readonly KeptFilm[];
}

/** Nothing is kept twice, and nothing is written over. @param items what is there and not removed, with prints */
export function arrive(
  items: readonly PantryItem[],
  { id, savedAt, action, print, film, folder, sameName }: Arrival,
): Arrived {
  const known = items.find((item) => item.print === print);
  if (known) return { how: 'known', name: known.action.name, item: null, forgotten: [] };
  const named = items.find((item) => item.action.name === action.name);
  if (named && sameName === 'version') {
    const older = [{ savedAt: named.savedAt, action: named.action, film: named.film }, ...named.versions];
    return {
      how: 'version',
      name: action.name,
      item: { ...named, savedAt, action, film, print, versions: older.slice(0, MOST_VERSIONS) },
      forgotten: older.slice(MOST_VERSIONS).map((version) => version.film),
    };
  }
  const name = ownName(
    action.name,
    items.map((item) => item.action.name),
  );
  return {
    how: named ? 'renamed' : 'new',
    name,
    item: { id, savedAt, action: { ...action, name }, film, print, folder, versions: [], removedAt: null },
    forgotten: [],
  };
}
