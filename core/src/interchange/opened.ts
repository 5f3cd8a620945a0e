/** The last door of every reader: what goes through can be stored, written and opened again. */
import { refuse } from '../base/finding.ts';
import { LIMITS } from '../base/limits.ts';
import { problemOf } from '../document/describe-problem.ts';
import { EVERY_PART } from '../document/parts/parts.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

/** The shot itself; throws an `InputError` that names the place where it is beyond what a shot can be. */
export function opened(shot: Shot): Shot {
  // Before anything is compiled from them.
  if (shot.nodes.length > LIMITS.nodes) refuse('tooManyNodes', {}, shot.nodes.length, LIMITS.nodes);
  for (const [name, part] of EVERY_PART) {
    if (shot[name] === undefined) continue;
    // What is the same in memory and in a file says more when it is looked at as the file's.
    const parsed = (part.sentWhole ? part.json : part.held).safeParse(shot[name]);
    if (parsed.success) continue;
    const { path, words } = problemOf(parsed.error);
    const place = `${name}${path.startsWith('[') || path === '' ? '' : '.'}${path}`;
    refuse('badDocument', { path: place }, place, words);
  }
  const around = rigOf(shot);
  const wrong = (path: string, problem: string): never => refuse('badDocument', { path }, path, problem);
  for (const [name, part] of EVERY_PART)
    if (shot[name] !== undefined) part.check?.(shot[name], around, wrong);
  return shot;
}
