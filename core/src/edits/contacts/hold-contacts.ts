/** Hold contacts: what stands does not slide, by the goals of its limbs; or they are let go again. */
import { dequal } from 'dequal/lite';
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { measureContacts } from '../../bodies/contact-measures.ts';
import { adopted, contactsOf, ownContacts, withContacts } from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { tracksOf } from '../../bodies/found-contacts.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import { framesPerSecond, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { rangeIn } from '../timing/scope.ts';
import { chainOver, goalOver, withStands } from './stands.ts';

export const holdContacts = defineEdit({
  id: 'contacts.hold',
  title: 'Hold contacts',
  summary:
    'Feet that stand do not slide: what leads their limbs is held while the contacts last; the keys stay.',
  words: 'foot lock plant pin stick slide skating fix clean',
  group: 'motion',
  worksOn: 'contact',
  locks: 'none',
  options: z.object({
    contacts: z.array(z.string()).default([]).meta({
      title: 'Contacts',
      description: 'Their ids; none: all that lie in the range.',
    }),
    hold: z.boolean().default(true).meta({
      title: 'Held',
      description: 'Off, they are let go and slide as their keys say.',
    }),
    lies: z
      .enum(['first', 'middle', 'last'])
      .default('middle')
      .meta({
        title: 'Where it lies',
        when: { hold: true },
        labels: { first: 'on its first frame', middle: 'in its middle', last: 'on its last frame' },
        description: 'On which frame of its span a point stands as it lies.',
      }),
    turn: z
      .enum(['keyed', 'heading', 'whole'])
      .default('keyed')
      .meta({
        title: 'Its turn',
        when: { hold: true },
        labels: { keyed: 'as keyed', heading: 'heading held', whole: 'all held' },
        description: 'Held in its heading a foot rolls but does not twist on the ground.',
      }),
    ramp: z
      .number()
      .min(0)
      .max(1000)
      .nullable()
      .default(null)
      .meta({
        title: 'Ramp',
        unit: 'frames',
        step: 1,
        when: { hold: true },
        description: 'How long it comes to where it stands, and goes; null: a fifth of a second.',
      }),
  }),
  run(shot, selection, { contacts: ids, hold, lies, turn, ramp }) {
    const known = contactsOf(shot);
    const unknown = ids.find((id) => !known.some((one) => one.id === id));
    if (unknown !== undefined) return refused(shot, selection, finding('unknownContact', {}, unknown));
    const range = rangeIn(shot, selection);
    const meant = known.filter(({ id, start, end }) =>
      ids.length > 0 ? ids.includes(id) : start <= range.end && end >= range.start,
    );
    if (meant.length === 0) return refused(shot, selection, finding('noContacts', {}));
    const rig = rigOf(shot);
    const led = meant.filter(({ node }) => goalOver(rig, node) >= 0);
    const free = [...new Set(meant.filter((one) => !led.includes(one)).map(({ node }) => node))];
    if (led.length === 0) return refused(shot, selection, finding('noGoalHolds', {}, free));
    const frames = ramp ?? Math.round(framesPerSecond(shot.rate) / 5);
    const taken = new Set(ownContacts(shot).map(({ id }) => id));
    const brought = hold ? led.filter(({ block }) => block !== undefined) : [];
    const ledIds = new Set(led.map(({ id }) => id));
    const changed = [...ownContacts(shot), ...brought].map((given): Contact => {
      const one = given.block === undefined ? given : adopted(given, taken);
      if (!ledIds.has(given.id)) return one;
      const { hold: was, ...bare } = one;
      if (!hold) return was ? bare : one;
      const meant = { lies, ramp: frames, ...(turn !== 'keyed' && { turn }) };
      return was && dequal(was, meant) ? one : { ...bare, hold: meant };
    });
    const after = withStands(withContacts(shot, changed));
    const slide = (of: Shot) =>
      measureContacts(of, led).reduce((most, { greatest }) => Math.max(most, greatest * 10), 0);
    const slides = { before: slide(shot), value: slide(after) };
    return outcome(shot, after, selection, {
      findings: [
        ...(free.length > 0 ? [finding('noGoalHolds', {}, free)] : []),
        ...(brought.length > 0 ? [finding('contactsAdopted', {}, brought.length)] : []),
        ...(hold ? notHeld(after, led, turn === 'keyed') : []),
      ],
      measures: [
        { name: 'contacts', value: led.length, unit: '' },
        { name: 'slides at most', ...slides, unit: 'mm' },
      ],
    });
  },
});

/** mm: what slides less is held. */
const HELD = 1;

/** What slides all the same: limbs that do not reach, and limbs that their joints lead. @param turns whether what stands turns as it is keyed */
function notHeld(shot: Shot, contacts: readonly Contact[], turns: boolean): Finding[] {
  const rig = rigOf(shot);
  const byJoints = contacts.filter(({ node, start }) => {
    const { blend } = chainOver(rig, node)!;
    return blend >= 0 && valuesAt(shot, start)[blend]! <= 0;
  });
  const slid = measureContacts(
    shot,
    contacts.filter((one) => !byJoints.includes(one)),
  ).filter(({ greatest }) => greatest * 10 > HELD);
  const told = slid.sort((a, b) => b.greatest - a.greatest).slice(0, 3);
  return [
    ...(byJoints.length > 0
      ? [finding('jointsLead', {}, [...new Set(byJoints.map(({ node }) => node))])]
      : []),
    ...told.map(({ contact: { node, point, start, end }, greatest }) => {
      const misses = missesBy(shot, { start, end }, chainOver(rig, node)!);
      return finding(
        misses * 10 > HELD ? 'notReached' : 'rollsThere',
        { node, frame: start },
        `${node} ${point}`,
        greatest * 10,
        start,
        end,
        turns,
      );
    }),
  ];
}

/** By how much the goal of a limb lies beyond its reach at most. */
function missesBy(shot: Shot, span: FrameRange, { end, target }: CompiledChain): number {
  const places = tracksOf(
    shot,
    [end, target].map((node) => ({ node, at: [0, 0, 0] })),
    framesOf(span),
  );
  return places[0]!.reduce((most, at, k) => {
    const goal = places[1]![k]!;
    return Math.max(most, Math.hypot(at[0] - goal[0], at[1] - goal[1], at[2] - goal[2]));
  }, 0);
}
