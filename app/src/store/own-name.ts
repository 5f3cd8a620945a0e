/** The name, or the name with a number behind it where another has it already. */
export function ownName(name: string, taken: readonly string[]): string {
  const others = new Set(taken);
  if (!others.has(name)) return name;
  const stem = name.replace(/ \d+$/, '');
  for (let number = 2; ; number += 1) if (!others.has(`${stem} ${number}`)) return `${stem} ${number}`;
}
