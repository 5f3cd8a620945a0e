/** What local transforms, or a format that knows whole frames only, cannot hold of a shot: measured, for whoever writes one to say before. */
import { finding } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import { LOOKS_PER_FRAME, worldDifference } from '../evaluation/measure.ts';
import { markersOf, notesOf, selectionSetsOf, tagsOf } from '../document/marks.ts';
import { rigOf } from '../document/shot.ts';
import { sourcesOf } from '../document/sources.ts';
import { NO_FILES } from './source/source-files.ts';
import type { SourceFiles } from './source/source-files.ts';
import type { Shot } from '../document/shot.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { strayed } from './local-transforms.ts';

/** Less than this goes unsaid: cm, degrees, parts of a size. */
const SAID = { cm: 0.01, degrees: 0.05, size: 1e-3 };

/** What people put on a shot to find their way in it, which only a shot file holds. */
export function lostMarks(shot: Shot): Finding[] {
  const counts = [markersOf(shot), selectionSetsOf(shot), tagsOf(shot), notesOf(shot)].map(
    ({ length }) => length,
  );
  return counts.some((count) => count > 0)
    ? [finding('marksStay', {}, counts[0]!, counts[1]!, counts[2]!, counts[3]!)]
    : [];
}

/** Shapes that stay in the files that the characters came in. @param files that go along */
export function lostSources(shot: Shot, files: SourceFiles = NO_FILES): Finding[] {
  const left = sourcesOf(shot).filter(({ id }) => !files.has(id));
  const morphs = left.flatMap((source) => source.morphs.flatMap(({ channels }) => channels)).length;
  const names = [...new Set(left.map(({ name }) => name))];
  return names.length > 0 ? [finding('sourceStays', {}, names, morphs)] : [];
}

/** A shot file names the files of its characters. @param files that it holds too */
export function namedOnly(shot: Shot, files: SourceFiles): Finding[] {
  const names = sourcesOf(shot).flatMap(({ id, name }) => (files.has(id) ? [] : [name]));
  return names.length > 0 ? [finding('sourceNamed', {}, [...new Set(names)])] : [];
}

/** Places and turns that nodes lose to the uneven size of what they follow. */
export function lostToShear(shot: Shot): Finding[] {
  const off = strayed(shot);
  if (
    !off ||
    (off.place.amount <= SAID.cm && off.turn.amount <= SAID.degrees && off.size.amount <= SAID.size)
  )
    return [];
  const worst = off.place.amount > SAID.cm ? off.place : off.turn.amount > SAID.degrees ? off.turn : off.size;
  const { node, frame } = worst;
  return [finding('exportShears', { node, frame }, off.place.amount * 10, off.turn.amount, node, frame)];
}

/** How far what lies between whole frames is from the middle between them, which is what a reader of frames alone can show. */
export function lostBetweenFrames(shot: Shot): Finding[] {
  const rig = rigOf(shot);
  const looks: number[] = [];
  for (let frame = shot.range.start; frame + 1 <= shot.range.end; frame += 1)
    for (let k = 1; k < LOOKS_PER_FRAME; k += 1) looks.push(frame + k / LOOKS_PER_FRAME);
  const mixed = new Float64Array(rig.nodes.length * 16);
  const { place } = worldDifference(
    rig,
    (frame) => worldAt(shot, frame).matrices,
    (frame) => {
      const from = shot.range.start + Math.floor(frame - shot.range.start);
      const [a, b] = [worldAt(shot, from).matrices, worldAt(shot, from + 1).matrices];
      for (let i = 0; i < mixed.length; i += 1) mixed[i] = a[i]! + (frame - from) * (b[i]! - a[i]!);
      return mixed;
    },
    looks,
  );
  if (place.amount <= SAID_BETWEEN) return [];
  const { node, frame } = place;
  return [finding('exportOnFrames', { node, frame }, place.amount * 10, node, frame)];
}

/** cm between frames: a hand that swings is straightened by a millimetre or two in any file of frames. */
const SAID_BETWEEN = 0.5;
