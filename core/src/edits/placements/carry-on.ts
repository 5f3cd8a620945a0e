/** An action that begins where a character stands and goes the way that it faces: all that nothing carries is moved over the ground alike. */
import { rising } from '../../base/frames.ts';
import { curveAlong, shownBy } from '../../curve/curve-through.ts';
import { EMPTY_CURVE } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { CurveReader } from '../../curve/evaluate.ts';
import { jumpsOfCurve } from '../../curve/jumps.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { moveBetween, movedValues, stanceOf, STAY } from '../../layers/placements/ground.ts';
import type { GroundMove } from '../../layers/placements/ground.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

const SIX = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'] as const;
/** Between keys a path that is keyed anew keeps within this of what it shall be: cm, degrees. */
const TOLERANCE = 0.01;

type Curves = ReadonlyMap<ChannelId, Curve>;

/** Those of the named that nothing carries and no relation places, and that the action moves; the first leads. */
export function movedRoots(shot: Shot, roots: readonly string[], curves: Curves): string[] {
  const led = new Set(shot.relations.map(({ node }) => node));
  const free = new Set(shot.nodes.filter(({ parent }) => parent === null).map(({ id }) => id));
  const has = (id: string, names: readonly string[]) => names.some((name) => curves.has(`${id}.${name}`));
  const moved = roots.filter((id) => free.has(id) && !led.has(id) && has(id, SIX));
  // Whoever goes over the ground leads.
  return [...moved].sort((a, b) => Number(has(b, ['tx', 'tz'])) - Number(has(a, ['tx', 'tz'])));
}

/** How the action is moved so that its first frame is where the shot stands at a frame. @param roots as `movedRoots` gives them */
export function carryTo(shot: Shot, roots: readonly string[], curves: Curves, frame: number): GroundMove {
  const rig = rigOf(shot);
  const main = rig.indexOf(roots[0] ?? '');
  if (main < 0) return STAY;
  const { id, rest, order } = rig.nodes[main]!;
  const shown = valuesAt(shot, frame);
  const now = SIX.map((_, slot) => {
    const c = rig.slots[main * 9 + slot]!;
    return c < 0 ? 0 : shown[c]!;
  });
  const first = SIX.map((name) => new CurveReader(curves.get(`${id}.${name}`) ?? EMPTY_CURVE).at(0));
  const turned = SIX.slice(3).some((name) => curves.has(`${id}.${name}`));
  // What the action does not turn goes on as it faces.
  const begin = turned ? first : [...first.slice(0, 3), ...now.slice(3)];
  return moveBetween(stanceOf(begin, rest, order), stanceOf(now, rest, order));
}

/** The curves with the roots moved. */
export function carriedCurves(
  shot: Shot,
  roots: readonly string[],
  curves: Curves,
  move: GroundMove,
): Curves {
  const result = new Map(curves);
  const rig = rigOf(shot);
  for (const id of roots) {
    const node = rig.indexOf(id);
    const { rest, order } = rig.nodes[node]!;
    const own = SIX.map((name) => curves.get(`${id}.${name}`));
    if (move.turn === 0) {
      for (const [slot, by] of [
        [0, move.x],
        [2, move.z],
      ] as const)
        if (own[slot]) result.set(`${id}.${SIX[slot]}`, shifted(own[slot], by));
      continue;
    }
    const readers = own.map((curve) => new CurveReader(curve ?? EMPTY_CURVE));
    const at = (frame: number) =>
      movedValues(
        readers.map((one) => one.at(frame)),
        move,
        rest,
        order,
      );
    const times = [...new Set(own.flatMap((curve) => [...(curve?.times ?? [])]))].sort((a, b) => a - b);
    const reach = { start: times[0]!, end: times[times.length - 1]! };
    const jumps = rising(...own.map((curve) => (curve ? jumpsOfCurve(curve, reach) : [])));
    const [places, angles] = [own.slice(0, 3), own.slice(3)].map((some) => some.some(Boolean));
    SIX.forEach((name, slot) => {
      if (rig.slots[node * 9 + slot]! < 0 || !(slot < 3 ? places : angles)) return;
      if (slot === 1) return;
      result.set(
        `${id}.${name}`,
        curveAlong(
          shownBy((frame) => at(frame)[slot]!, jumps),
          times,
          TOLERANCE,
        ),
      );
    });
  }
  return result;
}

const shifted = (curve: Curve, by: number): Curve =>
  by === 0
    ? curve
    : rebuild(curve, null, (columns) => {
        for (let row = 0; row < columns.times.length; row += 1) columns.values[row]! += by;
      });
