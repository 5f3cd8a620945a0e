/**
 * Place an action: it lies over the motion as a block that can be moved, cut, stretched, repeated and crossed with the next. The keys below stay as they
 * are, and the action stands once in the shot, however often it is placed.
 */
import { dequal } from 'dequal/lite';
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { sameShape } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { retimedBy } from '../../curve/retimed-by.ts';
import type { ActionContact, CurveTable, StoredAction } from '../../layers/layer.ts';
import { withEnds } from '../../layers/layer-range.ts';
import { lengthOf } from '../../layers/placements/block-time.ts';
import type { PlacementSettings } from '../../layers/placements/placement-settings.ts';
import { constantCurve, curvesIn, rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { grownTo } from '../shared/lay-keys.ts';
import { underFilters } from '../passes/under-filters.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import {
  actionOnShot,
  actionOption,
  keptOption,
  layOptions,
  tidyFrame,
  nothingTaken,
} from '../actions/action-on-shot.ts';
import { stayingLimbs } from '../actions/limbs-led.ts';
import { heldAbove, movedRoots } from './carry-on.ts';
import { blockOptions, usually } from './block-options.ts';
import { mixedRotations } from '../shared/rotations-option.ts';
import { longEnough, SHORTEST_BLOCK } from './shortest-block.ts';
import { placementsOf } from './placement-option.ts';

export const placeAction = defineEdit({
  id: 'actions.place',
  title: 'Place action',
  summary: 'Lays a saved action over the motion as a block; no key changes.',
  words: 'clip library reuse load insert layer block nonlinear',
  group: 'actions',
  locks: 'none',
  options: z.object({
    action: actionOption,
    frame: frameOption('Frame', 'Where it begins.'),
    stretch: usually(blockOptions.stretch, 1),
    repeats: usually(blockOptions.repeats, 1),
    backward: usually(blockOptions.backward, false),
    rampIn: usually(blockOptions.rampIn, 6),
    rampOut: usually(blockOptions.rampOut, 6),
    weight: usually(blockOptions.weight, 1),
    adds: usually(blockOptions.adds, false),
    rotations: usually(mixedRotations, 'orientations'),
    ...layOptions,
    kept: keptOption,
  }),
  *run(shot, selection, { action, frame, onlySelected, carryOn, kept, ...given }) {
    const { stretch, repeats, backward, rampIn, rampOut, weight, adds, rotations, ...choice } = given;
    if (shot.layers.length >= LIMITS.layers)
      return refused(shot, selection, finding('tooManyLayers', {}, LIMITS.layers));
    const taken = yield* actionOnShot(shot, selection, action, onlySelected, choice);
    const refusal = nothingTaken(shot, selection, taken);
    if (refusal) return refusal;
    const length = taken.length * taken.stretch;
    if (length < SHORTEST_BLOCK) return refused(shot, selection, finding('tooShortToPlace', {}));
    const { stored, held } = storedIn(shot, {
      name: taken.name,
      length,
      curves: tableOf(shot, taken.curves, taken.stretch),
      ...(action.contacts && { contacts: stretched(taken.contacts, taken.stretch) }),
      from: { kept, mapping: choice },
    });
    const roots = movedRoots(shot, taken.curves);
    const above = carryOn ? heldAbove(shot, roots, taken.curves) : new Set<ChannelId>();
    const meant = new Set(taken.meant.filter((id) => !above.has(id)));
    const members = shot.nodes
      .map(({ id }) => id)
      .filter((id) => taken.meant.some((channel) => splitChannel(channel).node === id));
    const settings: PlacementSettings = {
      action: stored.id,
      first: frame,
      factor: stretch,
      from: 0,
      to: length,
      repeats,
      backward,
      adds,
      goesOn: repeats > 1 && roots.length > 0,
      sums: true,
      carry: null,
      carriesOn: carryOn && roots.length > 0,
      roots,
      leaves: [...taken.curves.keys()].filter(
        (id) => !meant.has(id) && members.includes(splitChannel(id).node),
      ),
      crosses: null,
      course: null,
      rotations,
    };
    const ends = { start: frame, end: frame + lengthOf(settings) };
    longEnough(ends);
    if (ends.end > LIMITS.frame) refuse('beyondFrames', {}, LIMITS.frame);
    const twice = placementsOf(shot).find(
      (other) =>
        other.settings.action === stored.id &&
        other.settings.first === frame &&
        other.members.some((id) => members.includes(id)),
    );
    if (twice) return refused(shot, selection, finding('placedTwice', {}, twice.name, frame));
    const block = freshLayer(shot, nameFor(shot, stored.name), stored.name, {
      kind: 'placement',
      members,
      settings,
      range: withEnds({ ...ends, rampIn, rampOut }, ends),
      weight: constantCurve(weight, shot.range.start),
    });
    const laid = underFilters({ ...shot, actions: held }, block);
    const { shot: after, finding: grown } = grownTo(laid, ends.end);
    return outcome(shot, after, selection, {
      findings: [
        ...taken.findings,
        ...(carryOn && roots.length === 0 ? [finding('nothingTravels', {}, taken.name)] : []),
        ...stayingLimbs(shot, taken.meant, ends),
        finding('coveredRange', {}, tidyFrame(ends.start), tidyFrame(ends.end)),
        ...(grown ? [grown] : []),
      ],
      measures: [
        { name: 'channels', value: taken.meant.length, unit: '' },
        { name: 'length', value: tidyFrame(ends.end - ends.start), unit: 'frames' },
      ],
    });
  },
});

/** The action's name, with a number where a layer is called that. */
function nameFor(shot: Shot, name: string): string {
  return shot.layers.some((layer) => layer.name === name) ? '' : name.slice(0, 60);
}

/** A table beside the shot's nodes, in the shot's frames. */
export function tableOf(shot: Shot, curves: ReadonlyMap<ChannelId, Curve>, stretch: number): CurveTable {
  const rig = rigOf(shot);
  const table: (Record<string, Curve> | undefined)[] = [];
  for (const [id, curve] of curves) {
    const { node, name } = splitChannel(id);
    (table[rig.indexOf(node)] ??= {})[name] = retimedBy(curve, stretch);
  }
  return table;
}

/** The action in the shot, which it may be in already, and the shot's actions with it. */
function storedIn(
  shot: Shot,
  made: Omit<StoredAction, 'id'>,
): { readonly stored: StoredAction; readonly held: readonly StoredAction[] } {
  const { name, length, curves } = made;
  const actions = shot.actions ?? [];
  const found = actions.find(
    (one) =>
      one.name === name &&
      one.from?.kept?.id === made.from?.kept?.id &&
      Math.abs(one.length - length) < 1e-9 &&
      sameTable(shot, one.curves, curves) &&
      dequal(one.contacts, made.contacts),
  );
  if (found) return { stored: found, held: actions };
  const numbers = actions.map(({ id }) => Number(/^action-(\d+)$/.exec(id)?.[1] ?? 0));
  const stored = { id: `action-${Math.max(0, ...numbers) + 1}`, ...made };
  return { stored, held: [...actions, stored] };
}

/** Contacts in the shot's frames. */
export const stretched = (contacts: readonly ActionContact[], by: number): readonly ActionContact[] =>
  contacts.map((one) => ({ ...one, start: one.start * by, end: one.end * by }));

export function sameTable({ nodes }: Shot, a: CurveTable, b: CurveTable): boolean {
  const [ours, theirs] = [new Map(curvesIn(a, nodes)), new Map(curvesIn(b, nodes))];
  return (
    ours.size === theirs.size &&
    [...ours].every(([id, curve]) => theirs.has(id) && sameShape(curve, theirs.get(id)!))
  );
}
