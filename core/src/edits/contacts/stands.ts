/** Contacts that are held, as the relations that hold them: one for each limb, made anew from the contacts whenever those change. */
import { ownContacts } from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { NO_OFFSET } from '../../rig/relations/relation.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import { stand } from '../../rig/relations/stand.ts';
import type { Rig } from '../../rig/rig.ts';
import { moverOf } from '../spaces/limb-goals.ts';
import { freshRelationId } from '../spaces/relation-option.ts';

/** The limb to whose end a node belongs; null where no goal leads it. */
export function chainOver(rig: Rig, node: string): CompiledChain | null {
  for (let row = rig.indexOf(node); row >= 0; row = rig.parents[row]!) {
    const chain = rig.chains.find(({ end }) => end === row);
    if (chain) return chain;
  }
  return null;
}

/** What moves the goal of that limb; −1 where there is none. */
export function goalOver(rig: Rig, node: string): number {
  const chain = chainOver(rig, node);
  return chain ? moverOf(rig, chain.target) : -1;
}

/** The frame of a span on which it stands as it lies. */
const liesOn = ({ start, end, hold }: Contact): number =>
  ({ first: start, middle: Math.round((start + end) / 2), last: end })[hold?.lies ?? 'middle'];

/** The shot with its held contacts held, and no others; the same object where that is so already. */
export function withStands(shot: Shot): Shot {
  const held = ownContacts(shot).filter(({ hold }) => hold);
  const before = shot.relations.filter(({ kind }) => kind === stand.kind);
  if (held.length === 0 && before.length === 0) return shot;
  const rig = rigOf(shot);
  const byGoal = new Map<string, Contact[]>();
  for (const one of held) {
    const goal = goalOver(rig, one.node);
    if (goal < 0) continue;
    const { id } = rig.nodes[goal]!;
    byGoal.set(id, [...(byGoal.get(id) ?? []), one]);
  }
  let after: Shot = { ...shot, relations: shot.relations.filter((one) => !before.includes(one)) };
  for (const [node, contacts] of byGoal) {
    const known = before.find((one) => one.node === node);
    const longest = Math.max(...contacts.map(({ hold }) => hold!.ramp));
    const relation: Relation = {
      id: known?.id ?? freshRelationId({ relations: [...before, ...after.relations] }),
      kind: stand.kind,
      node,
      targets: known?.targets ?? [{ node: null, offset: NO_OFFSET, share: null }],
      weight: known?.weight ?? null,
      switch: null,
      settings: {
        spans: contacts.map((one) => ({
          ...{ node: one.node, at: [...one.at], start: one.start, end: one.end, lies: liesOn(one) },
          ...(one.hold!.turn && { turn: one.hold!.turn }),
          ...(one.hold!.ramp !== longest && { ramp: one.hold!.ramp }),
        })),
        ramp: longest,
      },
    };
    after = { ...after, relations: [...after.relations, relation] };
  }
  const same =
    after.relations.length === shot.relations.length &&
    after.relations.every((one) => shot.relations.some((was) => JSON.stringify(was) === JSON.stringify(one)));
  if (same) return shot;
  rigOf(after);
  return after;
}
