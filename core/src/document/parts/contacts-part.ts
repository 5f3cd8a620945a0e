/** Contacts in a file and in memory, and how they go through time. */
import { dequal } from 'dequal/lite';
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { factorOf, rampIn, spansIn } from '../../base/time-pieces.ts';
import type { PieceOfTime } from '../../base/time-pieces.ts';
import { freshContactId } from '../contacts.ts';
import type { Contact } from '../contacts.ts';
import type { ContactHold } from '../shot.ts';
import { sameList } from './going.ts';
import { plainPart } from './part.ts';
import type { Part } from './part.ts';
import { knownNode } from './rig-parts.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);
const number = z.number().min(-LIMITS.number).max(LIMITS.number);

const contact = z.looseObject({
  id: z.string().min(1),
  node: z.string(),
  point: z.string().min(1).max(LIMITS.name).describe('What of it stands: heel, ball, palm'),
  at: z.tuple([number, number, number]).describe("cm, in the node's own axes"),
  start: frame.describe('The frames on which it stands, both ends included'),
  end: frame,
  byHand: z.boolean().describe('Set by hand: it is not replaced when contacts are found anew'),
  hold: z
    .object({
      lies: z.enum(['first', 'middle', 'last']).describe('On which of its frames it stands as it lies'),
      ramp: z.number().min(0).describe('Frames'),
      turn: z
        .enum(['heading', 'whole'])
        .optional()
        .describe('What of its turn stands too: its heading, or all; left out, none'),
    })
    .optional()
    .describe('How it is held, by a relation that stands; left out, it is not'),
});

/** Played backward, what stood as it lay at first stands as it lies at last. */
const MIRRORED = { first: 'last', middle: 'middle', last: 'first' } as const;
const heldIn = (piece: PieceOfTime, hold: ContactHold): ContactHold => ({
  ...hold,
  ...(factorOf(piece) < 0 && { lies: MIRRORED[hold.lies] }),
  ramp: rampIn(piece, hold.ramp),
});

export const contactsPart: Part<readonly Contact[], readonly Contact[]> = {
  ...plainPart<readonly Contact[]>(
    z.array(contact).max(LIMITS.contacts).describe('Spans in which points of bodies stand'),
    {
      // Where time shows a stand twice it stands twice; where time was put in, it goes on.
      time(contacts, { pieces }) {
        const taken = new Set(contacts.map(({ id }) => id));
        const carried = contacts.flatMap((one): Contact[] => {
          return spansIn(pieces, one).map(({ piece, start, end }, k) => {
            const hold = one.hold && heldIn(piece, one.hold);
            if (k === 0 && start === one.start && end === one.end && dequal(hold, one.hold)) return one;
            const id = k === 0 ? one.id : freshContactId(taken);
            return { ...one, id, start, end, ...(hold && { hold }) };
          });
        });
        return sameList(
          contacts,
          carried.sort((a, b) => a.start - b.start),
        );
      },
      check(contacts, around, wrong) {
        const ids = new Set<string>();
        contacts.forEach(({ id, node, start, end }, i) => {
          if (ids.has(id)) wrong(`contacts[${i}].id`, `“${id}” stands twice`);
          ids.add(id);
          knownNode(around, wrong, `contacts[${i}].node`, node);
          if (end < start) wrong(`contacts[${i}]`, 'it ends before it starts');
        });
      },
    },
  ),
  // In the order of the schema, whoever made them.
  write: (contacts) =>
    contacts.map(({ id, node, point, at, start, end, byHand, hold, ...more }) => ({
      ...{ id, node, point, at, start, end, byHand },
      ...(hold ? { hold: { lies: hold.lies, ramp: hold.ramp, ...(hold.turn && { turn: hold.turn }) } } : {}),
      ...more,
    })),
};
