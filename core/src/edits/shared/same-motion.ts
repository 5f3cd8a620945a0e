/**
 * The promise of the same motion, measured in one way: whole world matrices of what was written and of all that hangs on it, on frames and between them. What is not
 * kept is a sentence with how much and where, never only a number.
 */
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { movedBy, partFor } from '../../rig/influence.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { worldsOver } from '../../evaluation/evaluation.ts';
import { LOOKS_PER_FRAME, worldDifference } from '../../evaluation/measure.ts';
import type { WorldDifference } from '../../evaluation/measure.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Measure } from '../edit.ts';

/** What was asked: mm and degrees. */
export interface Promised {
  readonly mm: number;
  readonly degrees: number;
}

/** What is promised where an edit asks for no tolerances. */
export const UNASKED: Promised = { mm: 1, degrees: 0.2 };

export interface SameMotion {
  readonly onFrames: WorldDifference;
  readonly between: WorldDifference;
  /** Where it is more than was asked; empty where nothing was asked. */
  readonly strays: readonly Stray[];
}

/** A node that is further off at a frame than was asked. */
export interface Stray {
  readonly row: number;
  readonly frame: number;
}

/** How much more than was asked is taken for rounding. */
const ROUNDING = 1.02;

/**
 * How far two shots of a rig are apart.
 * @param ranges frames that are looked at, rising
 * @param nodes what was written; what hangs on them counts too
 * @param promised what is asked; where it is more is told
 * @param wanted where a node shall lie instead of where it lay: what hangs on it goes along, and is not looked at
 */
export function sameMotion(
  before: Shot,
  after: Shot,
  nodes: readonly string[],
  ranges: readonly FrameRange[],
  wanted?: (node: string, frame: number) => Seat | null,
  promised?: Promised,
): SameMotion {
  const rig = rigOf(after);
  const rows = nodes.map(rig.indexOf).filter((row) => row >= 0 && row < before.nodes.length);
  const watched = wanted
    ? Uint8Array.from(rig.nodes, (_, row) => (rows.includes(row) ? 1 : 0))
    : movedBy(rig, rows);
  // Nodes that are new lay nowhere.
  watched.fill(0, before.nodes.length);
  const strays: Stray[] = [];
  const looked = [...watched.keys()].filter((row) => watched[row] === 1);
  const compare = (frames: Float64Array) => {
    const [was, is] = [before, after].map((shot) =>
      worldsOver(shot, frames, partFor(rigOf(shot), looked)),
    ) as [ReturnType<typeof worldsOver>, ReturnType<typeof worldsOver>];
    const meant = new Float64Array(before.nodes.length * 16);
    return worldDifference(
      rig,
      (frame) => {
        const { matrices } = was.next().value!.pose;
        if (!wanted) return matrices;
        meant.set(matrices.subarray(0, meant.length));
        for (const row of rows) {
          const seat = wanted(rig.nodes[row]!.id, frame);
          if (seat) meant.set(seat.matrix, row * 16);
        }
        return meant;
      },
      () => is.next().value!.pose.matrices,
      frames,
      watched,
      promised &&
        ((frame, row, place, turn) => {
          if (place * 10 > promised.mm * ROUNDING || turn > promised.degrees * ROUNDING)
            strays.push({ row, frame });
        }),
    );
  };
  const frames = ranges.flatMap((range) => [...framesOf(range)]);
  const between = ranges.flatMap((range) =>
    [...framesOf(range)].flatMap((frame) =>
      Array.from({ length: LOOKS_PER_FRAME - 1 }, (_, k) => frame + (k + 1) / LOOKS_PER_FRAME).filter(
        (look) => look < range.end,
      ),
    ),
  );
  const [onFrames, inBetween] = [compare(Float64Array.from(frames)), compare(Float64Array.from(between))];
  return { onFrames, between: inBetween, strays };
}

/** Strays that lie no farther apart than this are one, frames. */
const NEIGHBOURS = 12;

/** The whole frames around strays, one more on each side, rising and apart. */
export function around(strays: readonly Stray[]): FrameRange[] {
  const ranges: { start: number; end: number }[] = [];
  for (const frame of strays.map((stray) => stray.frame).sort((a, b) => a - b)) {
    const [start, end] = [Math.floor(frame) - 1, Math.ceil(frame) + 1];
    const last = ranges[ranges.length - 1];
    if (last && start <= last.end + NEIGHBOURS) last.end = Math.max(last.end, end);
    else ranges.push({ start, end });
  }
  return ranges;
}

/** Whether it is within what was asked. */
const isWithin = ({ onFrames, between }: SameMotion, { mm, degrees }: Promised): boolean =>
  [onFrames, between].every(
    ({ place, turn }) => place.amount * 10 <= mm * ROUNDING && turn.amount <= degrees * ROUNDING,
  );

/** The measures of a report. */
export const motionMeasures = ({ onFrames, between }: SameMotion): Measure[] =>
  [['on frames', onFrames] as const, ['between frames', between] as const].flatMap(
    ([words, { place, turn }]): Measure[] => [
      {
        name: `greatest distance ${words}`,
        value: place.amount * 10,
        unit: 'mm',
        where: { node: place.node, frame: place.frame },
      },
      {
        name: `greatest turn ${words}`,
        value: turn.amount,
        unit: '°',
        where: { node: turn.node, frame: turn.frame },
      },
    ],
  );

/** How far it goes on frames and between, and where: at the greatest distance, or, where nothing is displaced, the greatest turn. */
export function worstOf({ onFrames, between }: SameMotion): {
  readonly mm: number;
  readonly degrees: number;
  readonly node: string;
  readonly frame: number;
} {
  const [far, turned] = (['place', 'turn'] as const).map((of) =>
    onFrames[of].amount >= between[of].amount ? onFrames[of] : between[of],
  ) as [WorldDifference['place'], WorldDifference['turn']];
  const { node, frame } = far.amount > 1e-6 ? far : turned;
  return { mm: far.amount * 10, degrees: turned.amount, node, frame };
}

/** What is to be said where more was promised than is so. */
export function notKept(found: SameMotion, asked: Promised): Finding[] {
  if (isWithin(found, asked)) return [];
  const far = [found.onFrames.place, found.between.place].sort((a, b) => b.amount - a.amount)[0]!;
  const turned = [found.onFrames.turn, found.between.turn].sort((a, b) => b.amount - a.amount)[0]!;
  const worst = far.amount * 10 > asked.mm * ROUNDING ? far : turned;
  const { node, frame } = worst;
  return [
    finding('notKept', { node, frame }, far.amount * 10, turned.amount, node, frame, asked.mm, asked.degrees),
  ];
}
