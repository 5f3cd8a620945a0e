/** All that is measured of a shot's characters: for reports and tables. */
import Papa from 'papaparse';
import { contactsOf } from '../document/contacts.ts';
import type { Contact } from '../document/contacts.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { bodyOf } from './body-of.ts';
import { centrePath } from './centre-of-mass.ts';
import { measureContacts } from './contact-measures.ts';
import { findContacts } from './found-contacts.ts';
import { momentumChange } from './momentum.ts';
import type { MomentumChange } from './momentum.ts';
import { flightsOf, unitByFlights } from './flights.ts';
import type { Flight } from './flights.ts';
import { roughnessOf, weighingPoints } from './roughness.ts';
import type { Roughness } from './roughness.ts';
import { supportAt } from './support.ts';

interface MeasuredContact {
  readonly node: string;
  readonly point: string;
  readonly start: number;
  readonly end: number;
  /** mm */
  readonly slideGreatest: number;
  readonly slideTotal: number;
  readonly belowGround: number;
}

interface MeasuredFlight extends Flight {
  /** Where its angular momentum about its centre changes most in the air, and by how much of its greatest in a frame; null where nothing turns. */
  readonly turning: MomentumChange | null;
}

interface MeasuredCharacter {
  readonly id: string;
  readonly name: string;
  readonly height: {
    /** In the units of its numbers. */
    readonly stands: number;
    /** cm that a unit counts. */
    readonly unit: number;
    /** cm that a unit is as its own leaps fall; null where they say nothing. */
    readonly unitByFlights: number | null;
  };
  /** Whether the contacts are those of the shot, or found for this measure. */
  readonly contactsFrom: 'shot' | 'found';
  readonly contacts: readonly MeasuredContact[];
  readonly flights: readonly MeasuredFlight[];
  /** Where its motion is roughest, worst first: the joint that jerks most there, and its share of that frame's roughness. */
  readonly roughest: Roughness['worst'];
}

export interface MeasuredShot {
  readonly name: string;
  readonly rate: number;
  readonly range: { readonly start: number; readonly end: number };
  readonly characters: readonly MeasuredCharacter[];
}

/** The shot with contacts of every character: its own, and where it knows none of a character those that are found. */
function withContactsFound(shot: Shot): { readonly shot: Shot; readonly found: ReadonlySet<string> } {
  const rig = rigOf(shot);
  const known = contactsOf(shot);
  const ownerOf = (node: string) => rig.nodes[rig.indexOf(node)]?.character ?? null;
  const found = new Set<string>();
  const added = shot.characters.flatMap(({ id }): Contact[] => {
    if (known.some(({ node }) => ownerOf(node) === id)) return [];
    found.add(id);
    const { points, stands } = findContacts(shot, id);
    return points.flatMap(({ node, name, at }, k) =>
      stands[k]!.map(({ start, end }) => ({
        ...{
          id: `${id}-${k}-${start}`,
          node: rig.nodes[node]!.id,
          point: name,
          at,
          start,
          end,
          byHand: false,
        },
      })),
    );
  });
  return { shot: { ...shot, contacts: [...known, ...added] }, found };
}

export function measureShot(given: Shot): MeasuredShot {
  const { shot, found } = withContactsFound(given);
  const rig = rigOf(shot);
  const measures = measureContacts(shot, contactsOf(shot));
  return {
    name: shot.name,
    rate: framesPerSecond(shot.rate),
    range: shot.range,
    characters: shot.characters.map(({ id, name }): MeasuredCharacter => {
      const own = measures.filter(({ contact }) => rig.nodes[rig.indexOf(contact.node)]!.character === id);
      const flights = flightsOf(
        shot,
        id,
        own.map(({ contact }) => contact),
      );
      const { stands, unit } = bodyOf(shot, id);
      return {
        id,
        name,
        height: { stands, unit, unitByFlights: unitByFlights(shot, flights) },
        contactsFrom: found.has(id) ? 'found' : 'shot',
        contacts: own.map(({ contact: { node, point, start, end }, greatest, total, depth }) => ({
          ...{ node, point, start, end },
          slideGreatest: greatest * 10,
          slideTotal: total * 10,
          belowGround: depth * 10,
        })),
        flights: flights.map((one) => ({ ...one, turning: momentumChange(shot, id, one) })),
        roughest: roughnessOf(shot, weighingPoints(shot, id), shot.range).worst,
      };
    }),
  };
}

/**
 * Frame by frame, one line for each character: its centre of mass (cm in the size that it is said to have), its speed and acceleration (cm/s, cm/s²), how far it leans out of what
 * carries it (mm, empty where nothing stands), its roughness ((cm/s³)², by mass), and what stands. RFC 4180.
 */
export function measureTable(given: Shot): string {
  const { shot } = withContactsFound(given);
  const rig = rigOf(shot);
  const rows = shot.characters.flatMap(({ id }) => {
    const path = centrePath(shot, id, shot.range);
    if (!path) return [];
    const { unit } = bodyOf(shot, id);
    const own = contactsOf(shot).filter(({ node }) => rig.nodes[rig.indexOf(node)]?.character === id);
    const { profile } = roughnessOf(shot, weighingPoints(shot, id), shot.range);
    return Array.from(path.frames, (frame, k) => {
      const [x, y, z] = path.places[k]!;
      const lean = supportAt(shot, id, frame)!.lean;
      return {
        frame,
        character: id,
        ...{ x: x * unit, y: y * unit, z: z * unit },
        speed: Math.hypot(...path.speeds[k]!) * unit,
        acceleration: Math.hypot(...path.accelerations[k]!) * unit,
        lean: lean === null ? '' : lean * 10,
        roughness: profile[k]! * unit * unit,
        stands: own
          .filter(({ start, end }) => frame >= start && frame <= end)
          .map(({ node, point }) => `${node} ${point}`)
          .join(' '),
      };
    });
  });
  return `${Papa.unparse(rows, { newline: '\n', escapeFormulae: true })}\n`;
}
