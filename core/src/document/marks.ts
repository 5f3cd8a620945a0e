/** What people put on a shot to find their way in it, and what they say about it: selection sets, markers, notes, tags. */
import type { Marker, Note, SelectionSet, Shot } from './shot.ts';

export type { Marker, Note, SelectionSet };

/** One list for all shots without any: who asks again gets the same. */
const NO_SETS: readonly SelectionSet[] = [];
const NO_MARKERS: readonly Marker[] = [];
const NO_NOTES: readonly Note[] = [];
const NO_TAGS: readonly string[] = [];

export const selectionSetsOf = ({ selectionSets }: Pick<Shot, 'selectionSets'>): readonly SelectionSet[] =>
  selectionSets ?? NO_SETS;
export const markersOf = ({ markers }: Pick<Shot, 'markers'>): readonly Marker[] => markers ?? NO_MARKERS;
export const notesOf = ({ notes }: Pick<Shot, 'notes'>): readonly Note[] => notes ?? NO_NOTES;
export const tagsOf = ({ tags }: Pick<Shot, 'tags'>): readonly string[] => tags ?? NO_TAGS;

/** The controls of a set that the shot has, in the shot's order. */
export function membersOf(shot: Pick<Shot, 'nodes'>, { nodes }: SelectionSet): string[] {
  const named = new Set(nodes);
  return shot.nodes.flatMap(({ id }) => (named.has(id) ? [id] : []));
}

/** `set-1`, `marker-2`, `note-3` …: the first that is free; it is taken then. */
export function freshMarkId(kind: 'set' | 'marker' | 'note', taken: Set<string>): string {
  for (let i = taken.size + 1; ; i += 1) {
    const id = `${kind}-${i}`;
    if (taken.has(id)) continue;
    taken.add(id);
    return id;
  }
}

type Lists = Pick<Shot, 'selectionSets' | 'markers' | 'notes' | 'tags'>;

/** The shot with another list of these; without the part where it is empty. */
export function withMarks<Name extends keyof Lists>(
  shot: Shot,
  part: Name,
  list: NonNullable<Lists[Name]>,
): Shot {
  const { [part]: _, ...rest } = shot;
  return (list.length > 0 ? { ...rest, [part]: list } : rest) as Shot;
}

/** The marker on a frame or nearest to it within so many frames; null where there is none. */
export function markerNear(markers: readonly Marker[], frame: number, within: number): Marker | null {
  let best: Marker | null = null;
  for (const one of markers) {
    const far = Math.abs(one.frame - frame);
    if (far <= within && (best === null || far < Math.abs(best.frame - frame))) best = one;
  }
  return best;
}
