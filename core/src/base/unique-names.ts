/** Names that can serve as ids: none empty, none twice (a number is added), blanks kept. */
export function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  /** The number that was given last to a name that stands more than once. */
  const counted = new Map<string, number>();
  return names.map((given, i) => {
    const base = given.trim() || `node ${i + 1}`;
    let name = base;
    let number = counted.get(base) ?? 1;
    while (taken.has(name)) {
      number += 1;
      name = `${base} ${number}`;
    }
    counted.set(base, number);
    taken.add(name);
    return name;
  });
}
