/** What people put on a shot to find their way in it, and say about it: selection sets, markers, notes, tags. None of it moves anything. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { nearestPlace, placesOf, spansIn } from '../../base/time-pieces.ts';
import { freshMarkId } from '../marks.ts';
import type { Marker, Note, SelectionSet } from '../marks.ts';
import { sameList } from './going.ts';
import { plainPart } from './part.ts';
import type { Wrong } from './part.ts';

const name = z.string().min(1).max(LIMITS.name);

function once(list: readonly { readonly id: string }[], field: string, wrong: Wrong): void {
  const ids = new Set<string>();
  list.forEach(({ id }, i) => {
    if (ids.has(id)) wrong(`${field}[${i}].id`, `“${id}” stands twice`);
    ids.add(id);
  });
}

const selectionSet = z.looseObject({
  id: z.string().min(1),
  name,
  nodes: z.array(z.string()).max(LIMITS.nodes).describe('Ids of nodes; one that is gone does no harm'),
  digit: z.number().int().min(1).max(9).optional().describe('Which digit chooses it'),
});

export const selectionSetsPart = plainPart<readonly SelectionSet[]>(
  z.array(selectionSet).max(LIMITS.marks).describe('Controls that are chosen together, by name'),
  { time: 'none', check: (sets, _, wrong) => once(sets, 'selectionSets', wrong) },
);

const marker = z.looseObject({
  id: z.string().min(1),
  name,
  frame: z.number().min(-LIMITS.frame).max(LIMITS.frame),
  colour: z.number().int().min(0).max(7).describe('Which of the eight colours of passes'),
});

export const markersPart = plainPart<readonly Marker[]>(
  z.array(marker).max(LIMITS.marks).describe('Frames with names'),
  {
    // Where time shows a frame twice its marker stands twice; whole frames stay whole.
    time(markers, { pieces, say }) {
      const taken = new Set(markers.map(({ id }) => id));
      const gone: string[] = [];
      const carried = markers.flatMap((one): Marker[] => {
        const whole = Number.isInteger(one.frame);
        const frames = [...new Set(placesOf(pieces, one.frame).map((at) => (whole ? Math.round(at) : at)))];
        if (frames.length === 0) gone.push(one.name);
        return frames.map((frame, i) =>
          i === 0 && frame === one.frame
            ? one
            : { ...one, id: i === 0 ? one.id : freshMarkId('marker', taken), frame },
        );
      });
      if (gone.length > 0) say(finding('markersGone', {}, gone));
      return sameList(
        markers,
        carried.sort((a, b) => a.frame - b.frame),
      );
    },
    check: (markers, _, wrong) => once(markers, 'markers', wrong),
  },
);

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);
const note = z.looseObject({
  id: z.string().min(1),
  text: z.string().min(1).max(LIMITS.noteText),
  start: frame.describe('The frames that it is about, both ends included'),
  end: frame,
  by: z.string().max(LIMITS.name).describe('Who said it; empty where nobody is named'),
  done: z.boolean(),
});

export const notesPart = plainPart<readonly Note[]>(
  z.array(note).max(LIMITS.marks).describe('Sentences about frames'),
  {
    // What somebody said stays said: where its frames are gone it stands where they were.
    time(notes, { pieces, say }) {
      const taken = new Set(notes.map(({ id }) => id));
      const moved: string[] = [];
      const carried = notes.flatMap((one): Note[] => {
        const whole = Number.isInteger(one.start) && Number.isInteger(one.end);
        const at = (place: number) => (whole ? Math.round(place) : place);
        const spans = spansIn(pieces, one);
        if (spans.length === 0) {
          moved.push(one.text);
          const place = at(nearestPlace(pieces, one.start));
          return [{ ...one, start: place, end: place }];
        }
        return spans.map(({ start, end }, i) =>
          i === 0 && at(start) === one.start && at(end) === one.end
            ? one
            : { ...one, id: i === 0 ? one.id : freshMarkId('note', taken), start: at(start), end: at(end) },
        );
      });
      if (moved.length > 0) say(finding('notesMoved', {}, moved));
      return sameList(
        notes,
        carried.sort((a, b) => a.start - b.start),
      );
    },
    check: (notes, _, wrong) => {
      once(notes, 'notes', wrong);
      notes.forEach(({ start, end }, i) => {
        if (end < start) wrong(`notes[${i}]`, 'it ends before it starts');
      });
    },
  },
);

export const tagsPart = plainPart<readonly string[]>(
  z.array(name).max(LIMITS.tags).describe('Words by which the shot is found'),
  { time: 'none' },
);
