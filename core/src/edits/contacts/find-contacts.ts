/** Find contacts: the spans in which heels and balls of feet stand, as the motion shows them. */
import { z } from 'zod';
import { finding, InputError } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { measureContacts } from '../../bodies/contact-measures.ts';
import type { ContactMeasure } from '../../bodies/contact-measures.ts';
import { jointPoints, solesOf } from '../../bodies/soles.ts';
import { findContacts } from '../../bodies/found-contacts.ts';
import type { FoundContacts } from '../../bodies/found-contacts.ts';
import { flightSpans } from '../../bodies/flights.ts';
import { ownContacts, freshContactId, isSamePoint, withContacts } from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import type { Selection } from '../../document/selection.ts';
import { framesPerSecond, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { liftsOf, speedsOf } from '../../motion/contacts.ts';
import type { ContactLimits } from '../../motion/contacts.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { characterOption, meantCharacter, nameOfCharacter } from '../shared/meant-character.ts';
import { whichCharacter } from '../shared/targets.ts';
import { rangeIn } from '../timing/scope.ts';

const limit = (title: string, unit: string, most: number, step: number, description: string) =>
  z.number().min(0).max(most).nullable().default(null).meta({ title, unit, step, description });

export const findContactsOf = defineEdit({
  id: 'contacts.find',
  title: 'Find contacts',
  summary: 'Finds the spans in which heels and balls of feet stand, by their height and speed.',
  words: 'foot feet plant planted lock sliding skating slip ground step stance flight take-off landing',
  group: 'motion',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    of: z
      .enum(['feet', 'selected'])
      .default('feet')
      .meta({
        title: 'Of',
        labels: { feet: 'the feet', selected: 'what is selected' },
        description: 'Heels and balls of its feet; or the selected joints: a hand on a table, a knee.',
      }),
    character: characterOption(),
    slow: limit(
      'Stands below',
      'legs/s',
      20,
      0.01,
      'A stand begins when a point is slower; null: as the motion shows.',
    ),
    fast: limit('Goes above', 'legs/s', 20, 0.01, 'It ends when the point is faster; null: with the first.'),
    low: limit(
      'Low below',
      'legs',
      1,
      0.01,
      'How high above its lowest place near in time a point may stand; null: 0.04.',
    ),
    shortest: limit('At least', 's', 5, 0.01, 'Shorter stands do not count; null: 0.08.'),
  }),
  run(shot, selection, { of, character, ...limits }) {
    const chosen = meantCharacter(shot, selection, character);
    if (chosen === null) return refused(shot, selection, whichCharacter(shot));
    const range = rangeIn(shot, selection);
    const { points, stands } = sought(shot, selection, chosen, { of, ...limits });
    if (points.length === 0)
      return refused(shot, selection, finding('noLegs', {}, nameOfCharacter(shot, chosen)));
    const rig = rigOf(shot);
    const isTheirs = ({ node, point, start, end }: Contact) =>
      points.some((one) => rig.nodes[one.node]!.id === node && one.name === point) &&
      start <= range.end &&
      end >= range.start;
    const kept = ownContacts(shot).filter((one) => one.byHand || one.hold || !isTheirs(one));
    const taken = new Set(ownContacts(shot).map(({ id }) => id));
    const known = ownContacts(shot).filter((one) => !kept.includes(one));
    const fresh = points.flatMap(({ node, name, at }, k) =>
      stands[k]!.flatMap(({ start, end }): Contact[] => {
        const made = { node: rig.nodes[node]!.id, point: name, at, start, end, byHand: false };
        const blocked = kept.some((one) => isSamePoint(one, made) && one.start <= end && one.end >= start);
        if (blocked) return [];
        const same = known.find((one) => isSamePoint(one, made) && one.start === start && one.end === end);
        return [same ?? { ...made, id: freshContactId(taken) }];
      }),
    );
    const after = withContacts(shot, [...kept, ...fresh]);
    const byHand = kept.filter(isTheirs).length;
    const report = contactReport(after, [...kept.filter(isTheirs), ...fresh]);
    return outcome(shot, after, selection, {
      findings: [
        finding(
          'contactsFound',
          {},
          fresh.length,
          points.map(({ node, name }) => `${rig.nodes[node]!.id} ${name}`),
        ),
        ...(byHand > 0 ? [finding('contactsKept', {}, byHand)] : []),
        ...(of === 'feet' ? flightFindings(after, stands.flat()) : []),
        ...report.findings,
      ],
      measures: [{ name: 'contacts', value: fresh.length, unit: '' }, ...report.measures],
    });
  },
});

type Wishes = Omit<z.output<typeof findContactsOf.options>, 'character'>;

function sought(
  shot: Shot,
  selection: Selection,
  character: string,
  { of, ...limits }: Wishes,
): FoundContacts {
  const wishes = Object.fromEntries(Object.entries(limits).filter(([, value]) => value !== null));
  const asked = of === 'feet' ? solesOf(shot, character) : jointPoints(shot, chosenNodes(shot, selection));
  return findContacts(shot, character, rangeIn(shot, selection), wishes, asked);
}

/** How high and how fast a point is, by frame, and below what of both it stands. */
export interface ContactCurves {
  readonly frames: Float64Array;
  readonly limits: ContactLimits;
  readonly points: readonly {
    readonly name: string;
    /** Leg lengths above its lowest place near in time, and leg lengths a second. */
    readonly lifts: Float64Array;
    readonly speeds: Float64Array;
  }[];
}

/** What the finder goes by, to be drawn. @returns null where it finds nothing to go by; the edit says why */
export function contactCurves(shot: Shot, selection: Selection, options: unknown): ContactCurves | null {
  const read = findContactsOf.options.safeParse(options);
  const character = read.success ? meantCharacter(shot, selection, read.data.character) : null;
  if (!read.success || character === null) return null;
  try {
    const { frames, limits, points, tracks, leg } = sought(shot, selection, character, read.data);
    const rate = framesPerSecond(shot.rate);
    return points.length === 0
      ? null
      : {
          frames,
          limits,
          points: points.map(({ node, name }, p) => ({
            name: `${rigOf(shot).nodes[node]!.id} ${name}`,
            lifts: liftsOf(tracks[p]!, leg, rate),
            speeds: speedsOf(tracks[p]!, leg, rate),
          })),
        };
  } catch (error) {
    if (error instanceof InputError) return null;
    throw error;
  }
}

function flightFindings(shot: Shot, stands: readonly FrameRange[]): Finding[] {
  const spans = flightSpans(stands, framesPerSecond(shot.rate)).map(({ start, end }) => `${start} to ${end}`);
  return spans.length > 0 ? [finding('fliesBetween', {}, spans)] : [];
}

/** mm: what is less is no slide, and no depth. */
const NOTHING_MM = 0.5;

/** What contacts do wrong: the greatest slide, and the deepest below the ground. */
export function contactReport(
  shot: Shot,
  contacts: readonly Contact[],
): { readonly findings: Finding[]; readonly measures: Measure[] } {
  const measures = measureContacts(shot, contacts);
  if (measures.length === 0) return { findings: [], measures: [] };
  const most = (of: (one: ContactMeasure) => number) =>
    measures.reduce((best, one) => (of(one) > of(best) ? one : best));
  const [slides, lies] = [most(({ greatest }) => greatest), most(({ depth }) => depth)];
  const name = ({ contact }: ContactMeasure) => `${contact.node} ${contact.point}`;
  const place = ({ contact: { node, start: frame } }: ContactMeasure) => ({ node, frame });
  return {
    findings: [
      ...(slides.greatest * 10 > NOTHING_MM
        ? [
            finding(
              'contactsSlide',
              place(slides),
              name(slides),
              slides.greatest * 10,
              slides.contact.start,
              slides.contact.end,
            ),
          ]
        : []),
      ...(lies.depth * 10 > NOTHING_MM
        ? [finding('contactDeep', place(lies), name(lies), lies.depth * 10, lies.contact.start)]
        : []),
    ],
    measures: [
      { name: 'slides at most', value: slides.greatest * 10, unit: 'mm', where: place(slides) },
      { name: 'below the ground', value: lies.depth * 10, unit: 'mm', where: place(lies) },
    ],
  };
}
