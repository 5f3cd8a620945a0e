/** Put a marker on a frame, or name, colour and move one. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { freshMarkId, markersOf, withMarks } from '../../document/marks.ts';
import type { Marker } from '../../document/marks.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { colourOption } from '../shared/set-up.ts';

export const setMarker = defineEdit({
  id: 'markers.set',
  title: 'Set marker',
  summary: 'Puts a marker with a name and a colour on a frame, or moves, renames and recolours one.',
  words: 'frame label cue beat sync note ruler bookmark',
  group: 'timing',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    marker: z
      .string()
      .optional()
      .meta({ title: 'Marker', description: 'Which one is changed; left out, a new one is made.' }),
    frame: frameOption('Frame', 'Where it stands.')
      .nullable()
      .default(null)
      .meta({ title: 'Frame', unit: 'frame', description: 'Where it stands; left out, it stays.' }),
    name: z
      .string()
      .trim()
      .max(LIMITS.name)
      .optional()
      .meta({ title: 'Name', description: 'Left out, “Marker” and a number.' }),
    colour: colourOption,
  }),
  run(shot, selection, { marker: id, frame, name, colour }) {
    const markers = markersOf(shot);
    if (id === undefined) {
      if (frame === null) return refused(shot, selection, finding('markerWhere', {}));
      if (markers.length >= LIMITS.marks)
        refuse('badOption', {}, 'markers', `there are ${LIMITS.marks} already`);
      const taken = new Set(markers.map((one) => one.id));
      const made = {
        id: freshMarkId('marker', taken),
        name: name || freshName(markers),
        frame,
        colour: colour ?? markers.length % 8,
      };
      return outcome(shot, withMarkers(shot, [...markers, made]), selection, {
        findings: frame < shot.range.start || frame > shot.range.end ? [finding('markerOutside', {})] : [],
      });
    }
    const was = knownMarker(shot, id);
    const now: Marker = {
      ...was,
      frame: frame ?? was.frame,
      name: name || was.name,
      colour: colour ?? was.colour,
    };
    if (now.frame === was.frame && now.name === was.name && now.colour === was.colour)
      return outcome(shot, shot, selection);
    const after = withMarkers(
      shot,
      markers.map((one) => (one === was ? now : one)),
    );
    return outcome(shot, after, selection);
  },
});

export const knownMarker = (shot: Shot, id: string): Marker =>
  markersOf(shot).find((one) => one.id === id) ?? refuse('unknownMarker', {}, id);

export const withMarkers = (shot: Shot, markers: readonly Marker[]): Shot =>
  withMarks(
    shot,
    'markers',
    [...markers].sort((a, b) => a.frame - b.frame),
  );

function freshName(markers: readonly Marker[]): string {
  const names = new Set(markers.map(({ name }) => name));
  for (let i = 1; ; i += 1) if (!names.has(`Marker ${i}`)) return `Marker ${i}`;
}
