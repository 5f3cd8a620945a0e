/** Which shots are shown, in which order. */
import type { ShotHead } from '../store/shot-record.ts';

export const SHOT_ORDERS = ['newest', 'name', 'longest'] as const;

export interface ListView {
  readonly sought: string;
  readonly order: (typeof SHOT_ORDERS)[number];
  /** Only shots that have all of these. */
  readonly tags: readonly string[];
}

type Listed = Pick<ShotHead, 'name' | 'savedAt' | 'frames' | 'fps' | 'tags'>;

const byNumbers = new Intl.Collator('en', { numeric: true });
const BEFORE: Readonly<Record<ListView['order'], (a: Listed, b: Listed) => number>> = {
  newest: (a, b) => b.savedAt - a.savedAt,
  name: (a, b) => byNumbers.compare(a.name, b.name),
  longest: (a, b) => b.frames / b.fps - a.frames / a.fps,
};

/** The tags of shots, in the order of the alphabet. */
export const tagsIn = (entries: readonly Pick<ShotHead, 'tags'>[]): string[] =>
  [...new Set(entries.flatMap(({ tags }) => tags))].sort(byNumbers.compare);

/** The shots whose names or tags hold all the words and that have all the tags, in the order that is asked for. */
export function shotsInView<Entry extends Listed>(
  entries: readonly Entry[],
  { sought, order, tags }: ListView,
): Entry[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  return entries
    .filter((one) => {
      const text = [one.name, ...one.tags].join(' ').toLowerCase();
      return words.every((word) => text.includes(word)) && tags.every((tag) => one.tags.includes(tag));
    })
    .sort(BEFORE[order]);
}

const DAY = 86_400_000;

/** `changed today at 14:05`, `changed yesterday`, `changed on 3 November 2026`. @param now ms since 1970, as `at` */
export function changedOn(at: number, now: number): string {
  const [then, today] = [new Date(at), new Date(now)];
  const days = Math.round((today.setHours(0, 0, 0, 0) - new Date(at).setHours(0, 0, 0, 0)) / DAY);
  if (days === 0)
    return `changed today at ${then.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}`;
  if (days === 1) return 'changed yesterday';
  return `changed on ${then.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })}`;
}
