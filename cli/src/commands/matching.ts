import picomatch from 'picomatch';
import { refuse, rigOf } from '@kneader/core';
import type { Shot } from '@kneader/core';

/** The channels that any of the globs names; a glob that names none is refused. */
export function matching(shot: Shot, globs: readonly string[]): string[] {
  const ids = rigOf(shot).channels.map(({ id }) => id);
  const chosen = new Set<string>();
  for (const glob of globs) {
    // Node names may hold characters that globs give a meaning: an exact name always counts.
    if (glob.trim() === '') refuse('unknownChannel', { channel: glob }, glob);
    const isMatch = picomatch(glob, { dot: true, bash: true });
    const matches = ids.includes(glob) ? [glob] : ids.filter((id) => isMatch(id));
    if (matches.length === 0) refuse('unknownChannel', { channel: glob }, glob);
    for (const id of matches) chosen.add(id);
  }
  return ids.filter((id) => chosen.has(id));
}
