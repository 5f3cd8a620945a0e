/** The option that names a filter, and finding it: what all edits on filters share. A filter of a kind that is not known can be set up, moved and removed. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { isKeyed, kindOf } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import { contextOf } from '../../evaluation/context.ts';
import { layerOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { problemOf } from '../../document/describe-problem.ts';
import { InputError } from '../../base/finding.ts';

export const filterOption = z.string().meta({ title: 'Filter', description: 'The id of the filter.' });

/** The filter, which must be there. */
export function knownFilter(shot: Shot, id: string): Layer {
  const layer = layerOf(shot, id);
  return layer && !isKeyed(layer) ? layer : refuse('unknownFilter', {}, id);
}

/** The filter, which must be there and not locked. */
export function openFilter(shot: Shot, id: string): Layer {
  const filter = knownFilter(shot, id);
  return filter.locked ? refuse('lockedPass', {}, filter.name) : filter;
}

/** The settings of a kind of filter with those given in place of what they were; refuses what it does not take. */
export function checkedSettings(
  shot: Shot,
  kind: string,
  was: Layer['settings'],
  given: Readonly<Record<string, unknown>>,
): Layer['settings'] {
  const known = kindOf({ kind });
  if (!known || known.keyed) throw new InputError(finding('unknownKind', {}, kind));
  const parsed = known.settings.strict().safeParse({ ...was, ...given });
  if (!parsed.success) {
    const { path, words } = problemOf(parsed.error);
    return refuse('badOption', { path }, path || 'settings', words);
  }
  const problem = known.problem?.(parsed.data, contextOf(shot));
  if (problem) throw new InputError(problem);
  return parsed.data;
}
