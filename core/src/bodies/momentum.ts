/** How a character turns about its centre of mass over a range, and where that changes most. */
import type { FrameRange } from '../base/frame-range.ts';
import { framesOf } from '../base/frame-range.ts';
import { framesPerSecond } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { angularMomentum, greatestChange } from '../motion/momentum.ts';
import type { Rod } from '../motion/momentum.ts';
import { bodyOf } from './body-of.ts';
import { tracksOf } from './found-contacts.ts';

export interface MomentumChange {
  /** Where it is another than a frame ahead of it. */
  readonly frame: number;
  /** Of the greatest that it is in the range, 0…1 and more. */
  readonly part: number;
}

/** Segments of two points are rods between them, all others the points that they are. @returns null where nothing turns */
export function momentumChange(
  shot: Shot,
  character: string | null,
  range: FrameRange,
): MomentumChange | null {
  const { segments } = bodyOf(shot, character);
  const frames = framesOf(range);
  const points = segments.flatMap((segment) => segment.points);
  const tracks = tracksOf(
    shot,
    points.map(({ row, at }) => ({ node: row, at })),
    frames,
  );
  let next = 0;
  const rods = segments.flatMap((segment): Rod[] => {
    const own = segment.points.map((point) => ({ share: point.share, places: tracks[next++]! }));
    const [first, second] = own;
    if (own.length === 2) {
      const share = first!.share + second!.share;
      return [{ share, centre: second!.share / share, from: first!.places, to: second!.places }];
    }
    return own.map(({ share, places }) => ({ share, centre: 0, from: places, to: places }));
  });
  const found = greatestChange(angularMomentum(rods, framesPerSecond(shot.rate)));
  return found && { frame: range.start + found.place, part: found.part };
}
