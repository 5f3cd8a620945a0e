/** JSON text to a value, with a sentence when it is none. */
import { refuse } from '../base/finding.ts';

export function readJson(text: string): unknown {
  if (text.trim() === '') refuse('fileEmpty', {});
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    return refuse('notJson', {}, error instanceof Error ? error.message : String(error));
  }
}
