/** Take markers away. */
import { z } from 'zod';
import { inRange } from '../../base/frame-range.ts';
import { markersOf } from '../../document/marks.ts';
import { defineEdit, outcome } from '../edit.ts';
import { knownMarker, withMarkers } from './set-marker.ts';

export const removeMarkers = defineEdit({
  id: 'markers.remove',
  title: 'Remove markers',
  summary: 'Takes one marker away, those in the marked range, or all.',
  words: 'frame label cue clear delete ruler',
  group: 'timing',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    marker: z.string().optional().meta({
      title: 'Marker',
      description: 'Left out: those in the marked range, or all where none is marked.',
    }),
  }),
  run(shot, selection, { marker: id }) {
    const markers = markersOf(shot);
    const { range } = selection;
    const named = id === undefined ? null : knownMarker(shot, id);
    const goes = (one: (typeof markers)[number]) =>
      named === null ? range === null || inRange(range, one.frame) : one === named;
    const left = markers.filter((one) => !goes(one));
    if (left.length === markers.length) return outcome(shot, shot, selection);
    return outcome(shot, withMarkers(shot, left), selection, {
      measures: [{ name: 'markers', value: left.length, unit: '', before: markers.length }],
    });
  },
});
