/** Renew an action in the shot: it was changed in the pantry, and wherever it is placed it shows what it is now. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { withEnds } from '../../layers/layer-range.ts';
import { lengthOf } from '../../layers/placements/block-time.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { grownTo } from '../shared/lay-keys.ts';
import { actionOnShot, actionOption, nothingTaken } from './action-on-shot.ts';
import { withCrossingsFitted } from '../placements/crossings.ts';
import { mappingOptions } from './mapping-options.ts';
import { sameTable, tableOf } from '../placements/place-action.ts';
import { placementsOf } from '../placements/placement-option.ts';
import type { Placement } from '../placements/placement-option.ts';

export const renewAction = defineEdit({
  id: 'actions.renew',
  title: 'Renew placements',
  summary: 'Takes over what has become of a placed action in the pantry, wherever it lies in the shot.',
  words: 'clip block update version refresh',
  group: 'actions',
  locks: 'none',
  options: z.object({
    action: actionOption,
    stored: z.string().meta({ title: 'In the shot', description: 'The id of the action that is renewed.' }),
    ...mappingOptions,
  }),
  *run(shot, selection, { action, stored: id, ...choice }) {
    const stored = shot.actions?.find((one) => one.id === id) ?? refuse('unknownAction', {}, id);
    const taken = yield* actionOnShot({ ...shot, locked: [] }, selection, action, false, choice);
    const refusal = nothingTaken(shot, selection, taken);
    if (refusal) return refusal;
    const length = taken.length * taken.stretch;
    if (length < 1) return refused(shot, selection, finding('tooShortToPlace', {}));
    const curves = tableOf(shot, taken.curves, taken.stretch);
    if (length === stored.length && sameTable(shot, curves, stored.curves))
      return outcome(shot, shot, selection, { findings: taken.findings });
    const blocks = placementsOf(shot).filter(({ settings }) => settings.action === id);
    const locked = blocks.filter((block) => block.locked).map(({ name }) => name);
    if (locked.length > 0) return refused(shot, selection, finding('lockedPass', {}, locked[0]!));
    const after: Shot = {
      ...shot,
      actions: shot.actions!.map((one) =>
        one.id === id ? { ...one, name: taken.name, length, curves } : one,
      ),
      layers: shot.layers.map((layer) => {
        const block = blocks.find((one) => one.id === layer.id);
        return block ? renewed(block, stored.length, length) : layer;
      }),
    };
    const fitted = withCrossingsFitted(after);
    const end = Math.max(...placementsOf(fitted.shot).map(({ range }) => range.end));
    const { shot: grown, finding: said } = grownTo(fitted.shot, end);
    return outcome(shot, grown, selection, {
      findings: [...taken.findings, ...fitted.findings, ...(said ? [said] : [])],
      measures: [{ name: 'placements renewed', value: blocks.length, unit: '' }],
    });
  },
});

/** The block with the part that it showed; where that was all of the action, all of it now. */
function renewed(block: Placement, before: number, length: number): Placement {
  const { settings, range } = block;
  const whole = Math.abs(settings.to - before) < 1e-9;
  const to = whole ? length : Math.min(settings.to, length);
  const next = { ...settings, from: Math.min(settings.from, Math.max(to - 1, 0)), to };
  const natural = settings.first + lengthOf(settings);
  // A block that was cut, or holds beyond its end, ends where it did.
  const end = Math.abs(range.end - natural) < 1e-9 ? settings.first + lengthOf(next) : range.end;
  return { ...block, settings: next, range: withEnds(range, { start: Math.min(range.start, end - 1), end }) };
}
