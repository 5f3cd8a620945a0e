/** Which actions of the pantry are shown: by folder, tags and words. */
import type { PantryItem } from '../store/pantry-record.ts';

export interface PantryView {
  /** The folder whose actions show, with those of the folders in it; null is all, and `removed` what was removed. */
  readonly folder: string | null;
  readonly isRemoved: boolean;
  readonly sought: string;
  /** Those that have all of these. */
  readonly tags: readonly string[];
}

export const WHOLE_PANTRY: PantryView = { folder: null, isRemoved: false, sought: '', tags: [] };

export function shownActions(
  items: readonly PantryItem[],
  { folder, isRemoved, sought, tags }: PantryView,
): PantryItem[] {
  const words = sought.trim().toLowerCase().split(/\s+/);
  return items.filter((item) => {
    if ((item.removedAt !== null) !== isRemoved) return false;
    if (folder !== null && !isRemoved && !liesIn(item.folder, folder)) return false;
    if (!tags.every((tag) => item.action.tags.includes(tag))) return false;
    const text = textOf(item);
    return words.every((word) => text.includes(word));
  });
}

const textOf = ({ action, folder }: PantryItem): string =>
  [action.name, ...action.tags, action.source, action.notes, folder].join(' ').toLowerCase();

const liesIn = (folder: string, within: string): boolean =>
  folder === within || folder.startsWith(`${within}/`);

/** Every folder that holds something, and those around it, in the order of their names; with how many actions each holds. */
export function foldersOf(
  items: readonly PantryItem[],
): readonly (readonly [folder: string, count: number])[] {
  const counts = new Map<string, number>();
  for (const { folder, removedAt } of items) {
    if (removedAt !== null || folder === '') continue;
    const way = folder.split('/');
    for (let depth = 1; depth <= way.length; depth += 1) {
      const name = way.slice(0, depth).join('/');
      counts.set(name, (counts.get(name) ?? 0) + 1);
    }
  }
  return [...counts].sort(([a], [b]) => a.localeCompare(b));
}

/** Every tag, the most used first. */
export function tagsOf(items: readonly PantryItem[]): string[] {
  const counts = new Map<string, number>();
  for (const { action, removedAt } of items)
    if (removedAt === null) for (const tag of action.tags) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  return [...counts].sort(([a, many], [b, most]) => most - many || a.localeCompare(b)).map(([tag]) => tag);
}

/** What several actions get together. */
export interface Rearranging {
  /** Empty where each stays where it is. */
  readonly folder: string;
  readonly add: readonly string[];
  readonly without: readonly string[];
}

/** Those that it changes, as they are then. */
export function rearranged(
  items: readonly PantryItem[],
  { folder, add, without }: Rearranging,
): PantryItem[] {
  return items.flatMap((item) => {
    const way = folderName(folder) || item.folder;
    const tags = [...new Set([...item.action.tags, ...add])].filter((tag) => !without.includes(tag));
    const isSame = way === item.folder && String(tags) === String(item.action.tags);
    return isSame ? [] : [{ ...item, folder: way, action: { ...item.action, tags } }];
  });
}

/** The words of a folder's way, tidied: no empty ones, no spaces around them. */
export const folderName = (typed: string): string =>
  typed
    .split('/')
    .map((word) => word.trim())
    .filter(Boolean)
    .join('/');
