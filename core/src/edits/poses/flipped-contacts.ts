/** Contacts flipped with the motion: what stood on one side stands on the other, as far as the range goes. */
import type { FrameRange } from '../../base/frame-range.ts';
import {
  ownContacts,
  freshContactId,
  mergedContacts,
  outside,
  withContacts,
} from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { pointOfPair } from '../../mirror/pair-point.ts';
import { withStands } from '../contacts/stands.ts';
import type { Vector } from '../../rig/node.ts';

/**
 * @param nodes what takes part, partners too
 * @param range what is flipped, in place or onto the frames that follow it
 */
export function flippedContacts(
  shot: Shot,
  nodes: ReadonlySet<string>,
  { start, end }: FrameRange,
  append: boolean,
): Shot {
  const known = ownContacts(shot);
  const taken = new Set(known.map(({ id }) => id));
  const goes = (one: Contact) => nodes.has(one.node) && one.start <= end && one.end >= start;
  if (!known.some(goes)) return shot;
  const later = append ? end - start : 0;
  const flipped = known.filter(goes).flatMap((one): Contact[] => {
    const { pair } = shot.nodes[rigOf(shot).indexOf(one.node)]!;
    const span = { start: Math.max(one.start, start) + later, end: Math.min(one.end, end) + later };
    if (pair === null) return [];
    const isWhole = !append && one.start >= start && one.end <= end;
    const id = isWhole ? one.id : freshContactId(taken);
    return [{ ...one, ...span, id, node: pair, at: mirroredPoint(shot, one, pair) }];
  });
  // What reaches beyond the range stays there with its own side.
  const kept = known.flatMap((one): Contact[] => {
    if (append || !goes(one) || shot.nodes[rigOf(shot).indexOf(one.node)]!.pair === null) return [one];
    return outside(one, { start, end }).map((part, k) =>
      k === 0 ? part : { ...part, id: freshContactId(taken) },
    );
  });
  return withStands(withContacts(shot, mergedContacts([...kept, ...flipped])));
}

/** The point of the partner: as one of that name that it has, else mirrored across the middle of the body at rest. */
function mirroredPoint(shot: Shot, contact: Contact, pair: string): Vector {
  const like = ownContacts(shot).find(({ node, point }) => node === pair && point === contact.point);
  if (like) return like.at;
  const rig = rigOf(shot);
  return pointOfPair(shot, rig.indexOf(contact.node), rig.indexOf(pair), contact.at);
}
