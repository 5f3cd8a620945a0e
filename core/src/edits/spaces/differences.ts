/** What a change of spaces reports: how far nodes lie from where they lay, on frames and between them. */
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { angleBetween } from '../../math/quaternion.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { newSeat, seatInto } from '../../rig/relations/seat.ts';
import { worldsOver } from '../../shot/evaluation.ts';
import { rigOf } from '../../shot/shot.ts';
import type { Shot } from '../../shot/shot.ts';
import type { Measure } from '../edit.ts';

/** Where between two frames it is looked at. */
const FIFTHS = [0, 0.2, 0.4, 0.6, 0.8];

interface Greatest {
  value: number;
  where: { node: string; frame: number };
}

/** @param wanted where a node shall lie; null is where it lay */
export function differences(
  before: Shot,
  after: Shot,
  nodes: readonly string[],
  { start, end }: FrameRange,
  wanted: (node: string, frame: number) => Seat | null = () => null,
): Measure[] {
  const [rigBefore, rigAfter] = [rigOf(before), rigOf(after)];
  const [lay, lies] = [newSeat(), newSeat()];
  const none = (): Greatest => ({ value: 0, where: { node: '', frame: start } });
  const [far, turned] = [
    [none(), none()],
    [none(), none()],
  ] as const;
  const compared = nodes.filter((node) => rigAfter.indexOf(node) >= 0);
  const frames = fifthsOf({ start, end });
  const is = worldsOver(after, frames);
  let i = 0;
  for (const was of worldsOver(before, frames)) {
    const frame = frames[i]!;
    const { pose } = is.next().value!;
    const kind = i % FIFTHS.length === 0 ? 0 : 1;
    i += 1;
    for (const node of compared) {
      seatInto(lay, was.pose, rigBefore.indexOf(node));
      seatInto(lies, pose, rigAfter.indexOf(node));
      const meant = wanted(node, frame) ?? lay;
      note(far[kind], distanceOf(meant, lies), node, frame);
      note(turned[kind], angleBetween(meant.turn, lies.turn), node, frame);
    }
  }
  return ['on frames', 'between frames'].flatMap((words, kind): Measure[] => [
    {
      name: `greatest distance ${words}`,
      value: far[kind]!.value * 10,
      unit: 'mm',
      where: far[kind]!.where,
    },
    { name: `greatest turn ${words}`, value: turned[kind]!.value, unit: '°', where: turned[kind]!.where },
  ]);
}

const fifthsOf = (range: FrameRange) =>
  Float64Array.from(
    [...framesOf(range)]
      .flatMap((frame) => FIFTHS.map((part) => frame + part))
      .filter((frame) => frame <= range.end),
  );

function note(greatest: Greatest, value: number, node: string, frame: number): void {
  if (!(value > greatest.value)) return;
  greatest.value = value;
  greatest.where = { node, frame };
}

/** Between the origins, cm. */
function distanceOf({ matrix: a }: Seat, { matrix: b }: Seat): number {
  const x = a[12]! - b[12]!;
  const y = a[13]! - b[13]!;
  const z = a[14]! - b[14]!;
  return Math.sqrt(x * x + y * y + z * z);
}
