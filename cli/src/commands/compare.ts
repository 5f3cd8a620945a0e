import {
  alignedAt,
  alignedByMarks,
  alignedByPoses,
  besideFrame,
  differencesOf,
  finding,
  greatestOf,
  markersOf,
  pairedNodes,
  poseColumns,
  refuse,
  writeDifferences,
} from '@kneader/core';
import type { Alignment, From, Paired, Shot } from '@kneader/core';
import { keepApart, openFile, saveText } from '../files.ts';
import type { Output } from './output.ts';

export interface CompareCommand {
  readonly by: 'frame' | 'poses' | 'markers' | 'time';
  readonly at?: number;
  readonly beside?: number;
  readonly from: From;
  readonly output?: string;
  readonly as?: string;
}

/** `kneader compare A B [-o OUT.csv]`: the greatest differences, and all of them as a table. */
export async function compare(
  first: string,
  second: string,
  { by, at, beside, from, output, as }: CompareCommand,
  { print, warn }: Output,
): Promise<void> {
  if (output !== undefined) await keepApart([first, second], [output]);
  const [a, b] = [await openFile(first, as), await openFile(second, as)];
  for (const { sentence } of [...a.findings, ...b.findings]) warn(sentence);
  const paired = pairedNodes(a.shot, b.shot);
  if (paired.pairs.length === 0) refuse('nothingPaired', {});
  const alone = [...paired.aloneInA, ...paired.aloneInB];
  if (alone.length > 0) warn(finding('aloneInOne', {}, paired.aloneInA, paired.aloneInB).sentence);
  const alignment = aligned(
    by,
    a.shot,
    b.shot,
    paired,
    at ?? a.shot.range.start,
    beside ?? b.shot.range.start,
  );
  const found = differencesOf(a.shot, b.shot, paired, alignment, a.shot.range, from);
  const say = output === '-' ? warn : print;
  for (const [table, words, unit] of [
    [found.mm, 'Farthest apart', ' mm'],
    [found.degrees, 'Turned most', '°'],
  ] as const) {
    const { amount, joint, at: place } = greatestOf(found, table);
    const frame = found.frames[place]!;
    say(
      `${words}: ${found.names[joint]} at ${frame} (beside ${short(besideFrame(alignment, frame))}), ${short(amount)}${unit}.`,
    );
  }
  if (output !== undefined) await saveText(output, writeDifferences(found));
}

function aligned(
  by: CompareCommand['by'],
  a: Shot,
  b: Shot,
  paired: Paired,
  at: number,
  beside: number,
): Alignment {
  switch (by) {
    case 'frame':
      return alignedAt(a, b, at, beside);
    case 'poses':
      return alignedByMarks(a, b, poseColumns(a).frames, poseColumns(b).frames);
    case 'markers':
      return alignedByMarks(
        a,
        b,
        markersOf(a).map(({ frame }) => frame),
        markersOf(b).map(({ frame }) => frame),
      );
    case 'time':
      return alignedByPoses(a, b, paired);
  }
}

const short = (value: number) => String(Number(value.toFixed(2)));
