/** How still a contact stands: its slide over the ground, and how deep it lies in it. */
import { framesOf } from '../base/frame-range.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import type { Contact } from '../document/contacts.ts';
import { slideOf } from '../motion/contacts.ts';
import type { Slide } from '../motion/contacts.ts';
import { bodyOf } from './body-of.ts';
import { tracksOf } from './found-contacts.ts';

export interface ContactMeasure extends Slide {
  readonly contact: Contact;
  /** How far it lies below the ground, the floor of the world, at its deepest, cm; 0 above. */
  readonly depth: number;
}

/** In the size that the character is said to have, cm. Contacts that a shot says of nodes that it lacks are left out. */
export function measureContacts(shot: Shot, contacts: readonly Contact[]): ContactMeasure[] {
  const rig = rigOf(shot);
  return contacts.flatMap((contact): ContactMeasure[] => {
    const node = rig.indexOf(contact.node);
    if (node < 0) return [];
    const { unit } = bodyOf(shot, rig.nodes[node]!.character);
    const frames = framesOf(contact);
    const [places] = tracksOf(shot, [{ node, at: [...contact.at] }], frames);
    const { speed, greatest, total } = slideOf(
      places!,
      [{ first: 0, last: places!.length - 1 }],
      framesPerSecond(shot.rate),
    );
    const depth = Math.max(0, ...places!.map(([, y]) => -y));
    return [
      { contact, speed: speed * unit, greatest: greatest * unit, total: total * unit, depth: depth * unit },
    ];
  });
}
