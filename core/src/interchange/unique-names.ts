/** Names that can serve as ids: none empty, none twice (a number is added), blanks kept. */
export function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((given, i) => {
    const base = given.trim() || `node ${i + 1}`;
    let name = base;
    for (let number = 2; taken.has(name); number += 1) name = `${base} ${number}`;
    taken.add(name);
    return name;
  });
}
