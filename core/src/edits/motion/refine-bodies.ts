/** What of a shot counts when it is refined: points that weigh, what stands, and bodies whose middle shall keep its balance or fly. */
import type { FrameRange } from '../../base/frame-range.ts';
import { bodyOf } from '../../bodies/body-of.ts';
import { flightSpans } from '../../bodies/flights.ts';
import { weighingPoints } from '../../bodies/roughness.ts';
import { contactsOf } from '../../document/contacts.ts';
import { framesPerSecond, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { worldsOver } from '../../evaluation/evaluation.ts';
import type { Triple } from '../../math/euler.ts';
import type { PointMass } from '../../motion/body.ts';
import { GRAVITY } from '../../motion/flight.ts';
import { hullOf } from '../../motion/support.ts';
import type { GroundPoint } from '../../motion/support.ts';
import { pointIn } from '../../rig/body-point.ts';
import { movedBy, partFor } from '../../rig/influence.ts';
import type { Standing, WeighedBody } from './refine-cost.ts';
import type { Free } from './refine-freedom.ts';

const freeNodes = (shot: Shot, free: Free): number[] => [
  ...new Set(free.channels.map(({ channel }) => rigOf(shot).channels[channel]!.node)),
];
const charactersOf = (shot: Shot, rows: readonly number[]): (string | null)[] => [
  ...new Set(rows.map((row) => rigOf(shot).nodes[row]!.character)),
];

/** The points of the bodies that these channels move; where they move nothing that weighs, their nodes themselves. */
export function countedPoints(shot: Shot, free: Free): readonly PointMass[] {
  const nodes = freeNodes(shot, free);
  const moved = movedBy(rigOf(shot), nodes);
  const points = charactersOf(shot, nodes)
    .flatMap((id) => weighingPoints(shot, id))
    .filter(({ row }) => moved[row] === 1);
  if (points.length > 0) return points;
  return nodes.map((row) => ({ row, at: [0, 0, 0], share: 1 / nodes.length }));
}

/** What stands in a range, as places in its frames. */
export function standingIn(shot: Shot, { start, end }: FrameRange): Standing[] {
  const rig = rigOf(shot);
  return contactsOf(shot).flatMap((one): Standing[] => {
    const row = rig.indexOf(one.node);
    const [first, last] = [Math.ceil(Math.max(one.start, start)), Math.floor(Math.min(one.end, end))];
    if (row < 0 || last <= first) return [];
    return [
      {
        point: { row, at: [...one.at], share: 1 },
        first: first - Math.ceil(start),
        last: last - Math.ceil(start),
      },
    ];
  });
}

/** cm a second: a body that goes faster is caught by its next step, and needs no balance. */
const SLOW = 30;

/** The bodies that these channels move, by the contacts that the shot knows. */
export function weighedBodies(shot: Shot, free: Free, frames: Float64Array): WeighedBody[] {
  const rig = rigOf(shot);
  const nodes = freeNodes(shot, free);
  const moved = movedBy(rig, nodes);
  const rate = framesPerSecond(shot.rate);
  return charactersOf(shot, nodes).flatMap((character): WeighedBody[] => {
    const { segments, unit } = bodyOf(shot, character);
    const points = segments.flatMap((segment) => segment.points);
    const whole = points.reduce((sum, { share }) => sum + share, 0);
    const moving = points.filter(({ row }) => moved[row] === 1);
    if (moving.length === 0) return [];
    const own = contactsOf(shot).filter(({ node }) => rig.nodes[rig.indexOf(node)]?.character === character);
    const rest = new Float64Array(frames.length * 3);
    const middles: Triple[] = [];
    const hulls: (readonly GroundPoint[])[] = [];
    const rows = [...new Set([...points.map(({ row }) => row), ...own.map(({ node }) => rig.indexOf(node))])];
    let f = 0;
    for (const { pose } of worldsOver(shot, frames, partFor(rig, rows))) {
      const frame = frames[f]!;
      const middle: Triple = [0, 0, 0];
      for (const { row, at, share } of points) {
        const place = pointIn(pose, { node: row, at: [...at] });
        for (const axis of [0, 1, 2] as const) {
          middle[axis] += (share / whole) * place[axis];
          if (moved[row] !== 1) rest[3 * f + axis]! += (share / whole) * place[axis];
        }
      }
      middles.push(middle);
      hulls.push(
        hullOf(
          own.flatMap(({ node, at, start, end }) =>
            frame >= start && frame <= end ? [pointIn(pose, { node: rig.indexOf(node), at: [...at] })] : [],
          ),
        ),
      );
      f += 1;
    }
    const slow = frames.map((_, k) => {
      const [a, b] = [middles[Math.max(0, k - 1)]!, middles[Math.min(frames.length - 1, k + 1)]!];
      const speed = (Math.hypot(b[0] - a[0], b[2] - a[2]) * unit * rate) / 2;
      return 1 / (1 + (speed / SLOW) ** 2);
    });
    return [
      {
        moving: moving.map((point) => ({ ...point, share: point.share / whole })),
        ...{ rest, unit, hulls, slow },
        flights: flightSpans(own, rate)
          .map(({ start, end }) => ({
            first: Math.round(start - frames[0]!),
            last: Math.round(end - frames[0]!),
          }))
          .filter(({ first, last }) => first >= 0 && last < frames.length && last - first > 1),
        gravity: GRAVITY / unit / rate ** 2,
      },
    ];
  });
}
