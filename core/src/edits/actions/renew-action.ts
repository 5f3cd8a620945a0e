/** Renew an action in the shot: it was changed in the pantry, and wherever it is placed it shows what it is now. */
import { dequal } from 'dequal/lite';
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { withEnds } from '../../layers/layer-range.ts';
import type { StoredAction } from '../../layers/layer.ts';
import { lengthOf } from '../../layers/placements/block-time.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { grownTo } from '../shared/lay-keys.ts';
import { actionOnShot, actionOption, keptOption, nothingTaken } from './action-on-shot.ts';
import { movedRoots } from '../placements/carry-on.ts';
import { withCrossingsFitted } from '../placements/crossings.ts';
import { motionOptions, mappingOptions } from './mapping-options.ts';
import { SHORTEST_BLOCK } from '../placements/shortest-block.ts';
import { FLIPPED } from '../poses/flipped-layers.ts';
import { sameTable, stretched, tableOf } from '../placements/place-action.ts';
import { placementsOf } from '../placements/placement-option.ts';
import type { Placement } from '../placements/placement-option.ts';

export const renewAction = defineEdit({
  id: 'actions.renew',
  title: 'Renew placements',
  summary: 'Updates a placed action, wherever it lies in the shot, to what the pantry has now.',
  words: 'clip block update version refresh',
  group: 'actions',
  worksOn: 'placement',
  locks: 'none',
  options: z.object({
    action: actionOption,
    stored: z.string().meta({
      title: 'In the shot',
      description:
        'The id of the action that is renewed; those that come from the same one in the pantry go along.',
    }),
    kept: keptOption,
    asPlaced: z.boolean().default(true).meta({
      title: 'Mapped as it was',
      description: 'Flipped, scaled and paired as when it was placed, where that is known.',
    }),
    ...mappingOptions,
    ...motionOptions,
  }),
  *run(shot, selection, { action, stored: id, kept, asPlaced, ...choice }) {
    const stored = shot.actions?.find((one) => one.id === id) ?? refuse('unknownAction', {}, id);
    const origin = stored.from?.kept?.id;
    const meant = shot.actions!.filter(
      (one) => one === stored || (origin !== undefined && one.from?.kept?.id === origin),
    );
    const findings: Finding[] = [];
    let after = shot;
    let count = 0;
    for (const one of meant) {
      const mapping = (asPlaced && one.from?.mapping) || choice;
      const taken = yield* actionOnShot({ ...shot, locked: [] }, selection, action, false, mapping);
      const refusal = nothingTaken(shot, selection, taken);
      if (refusal) return refusal;
      findings.push(...taken.findings);
      const length = taken.length * taken.stretch;
      if (length < SHORTEST_BLOCK) return refused(shot, selection, finding('tooShortToPlace', {}));
      const curves = tableOf(shot, taken.curves, taken.stretch);
      const from = { kept: kept ?? one.from?.kept ?? null, mapping };
      const contacts = action.contacts && { contacts: stretched(taken.contacts, taken.stretch) };
      if (
        length === one.length &&
        sameTable(shot, curves, one.curves) &&
        dequal(contacts?.contacts, one.contacts)
      ) {
        // The same here, though it is another in the pantry.
        if (from.kept?.print !== one.from?.kept?.print) after = withAction(after, { ...one, from });
        continue;
      }
      const blocks = placementsOf(shot).filter(({ settings }) => settings.action === one.id);
      const locked = blocks.find((block) => block.locked);
      if (locked) return refused(shot, selection, finding('lockedPass', {}, locked.name));
      const next: StoredAction = {
        ...one,
        ...{ name: one.name.endsWith(FLIPPED) ? `${taken.name}${FLIPPED}` : taken.name, length, curves },
        ...contacts,
        from,
      };
      const roots = movedRoots(shot, taken.curves);
      after = {
        ...withAction(after, next),
        layers: after.layers.map((layer) => {
          const block = blocks.find((was) => was.id === layer.id);
          return block ? renewed(shot, block, one, next, roots) : layer;
        }),
      };
      count += blocks.length;
    }
    const said = [...new Map(findings.map((one) => [one.sentence, one])).values()];
    if (after === shot) return outcome(shot, shot, selection, { findings: said });
    const fitted = withCrossingsFitted(after);
    const end = Math.max(...placementsOf(fitted.shot).map(({ range }) => range.end));
    const { shot: grown, finding: longer } = grownTo(fitted.shot, end);
    return outcome(shot, grown, selection, {
      findings: [...said, ...fitted.findings, ...(longer ? [longer] : [])],
      measures: [{ name: 'placements renewed', value: count, unit: '' }],
    });
  },
});

const withAction = (shot: Shot, action: StoredAction): Shot => ({
  ...shot,
  actions: shot.actions!.map((was) => (was.id === action.id ? action : was)),
});

/** The block with the part that it showed, and on what it counted for; where that was all of the action, all of it now. */
function renewed(
  { nodes }: Shot,
  block: Placement,
  was: StoredAction,
  is: StoredAction,
  roots: readonly string[],
): Placement {
  const { settings, range } = block;
  const whole = Math.abs(settings.to - was.length) < 1e-9;
  const to = whole ? is.length : Math.min(settings.to, is.length);
  const next = {
    ...settings,
    from: Math.min(settings.from, Math.max(to - SHORTEST_BLOCK, 0)),
    to,
    roots: [...roots],
  };
  const natural = settings.first + lengthOf(settings);
  // A block that was cut, or holds beyond its end, ends where it did.
  const end = Math.abs(range.end - natural) < 1e-9 ? settings.first + lengthOf(next) : range.end;
  const moved = ({ curves }: StoredAction) =>
    nodes.flatMap(({ id }, row) =>
      Object.values(curves[row] ?? {}).some(({ times }) => times.length > 0) ? [id] : [],
    );
  const all = moved(was).every((id) => block.members.includes(id));
  return {
    ...block,
    ...(all && { members: moved(is) }),
    settings: next,
    range: withEnds(range, { start: Math.min(range.start, end - SHORTEST_BLOCK), end }),
  };
}
