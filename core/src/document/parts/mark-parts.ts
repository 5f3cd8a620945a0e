/** What people put on a shot to find their way in it: selection sets, markers, tags. None of it moves anything. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { placesOf } from '../../base/time-pieces.ts';
import { freshMarkId } from '../marks.ts';
import type { Marker, SelectionSet } from '../marks.ts';
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

export const tagsPart = plainPart<readonly string[]>(
  z.array(name).max(LIMITS.tags).describe('Words by which the shot is found'),
  { time: 'none' },
);
