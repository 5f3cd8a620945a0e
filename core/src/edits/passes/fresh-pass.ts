/** Ids and names of new layers: none that is taken. */
import type { Shot } from '../../shot/shot.ts';

export function freshPassId(shot: Shot): string {
  const numbers = shot.layers.map((pass) => Number(/^pass-(\d+)$/.exec(pass.id)?.[1] ?? 0));
  return `pass-${Math.max(0, ...numbers) + 1}`;
}

/** The name with the first number that makes it one of its own: “Offset 2”. */
export function freshPassName(shot: Shot, name: string): string {
  const names = new Set(shot.layers.map((pass) => pass.name));
  for (let number = 1; ; number += 1) if (!names.has(`${name} ${number}`)) return `${name} ${number}`;
}
