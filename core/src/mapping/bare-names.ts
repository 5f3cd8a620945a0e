/**
 * Names without what says nothing: namespaces and paths, and words that nearly all names of a skeleton carry (`x_LeftArm_jnt` beside `x_Hips_jnt`). What is left
 * is held against what is left of the other's, whatever letters are large.
 */

/** A word that this part of all names carry says nothing. */
const NEARLY_ALL = 0.8;
/** Of fewer names nothing can be said. */
const ENOUGH = 3;

const wordsOf = (name: string): string[] => name.split(/[^\p{L}\p{N}]+/u).filter((word) => word !== '');

/** The bare name of each; names that would be called alike, or nothing, keep what they are called. */
export function bareNames(names: readonly string[]): ReadonlyMap<string, string> {
  // A namespace ends at a colon, a path at a bar or a slash.
  const own = names.map((name) =>
    wordsOf(name.slice(Math.max(...[':', '|', '/'].map((end) => name.lastIndexOf(end))) + 1)),
  );
  const counts = new Map<string, number>();
  for (const words of own) for (const word of new Set(words)) counts.set(word, (counts.get(word) ?? 0) + 1);
  const says = (word: string) => names.length < ENOUGH || counts.get(word)! < NEARLY_ALL * names.length;
  const bare = own.map((words) => words.filter(says).join('').toLowerCase());
  const times = new Map<string, number>();
  for (const name of bare) times.set(name, (times.get(name) ?? 0) + 1);
  return new Map(
    names.map((name, i) => [name, bare[i] === '' || times.get(bare[i]!)! > 1 ? name : bare[i]!]),
  );
}
