/** JSON text to a value, with a sentence when it is none. */
import { refuse } from '../base/finding.ts';
import { LIMITS, nestingOf } from '../base/limits.ts';

export function readJson(text: string): unknown {
  if (text.trim() === '') refuse('fileEmpty', {});
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return refuse('notJson', {}, error instanceof Error ? error.message : String(error));
  }
  if (nestingOf(value, LIMITS.nesting) > LIMITS.nesting) refuse('tooDeep', {}, LIMITS.nesting);
  return value;
}
