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
import type { Quaternion } from '../../math/euler.ts';
import { conjugate, multiply, rotate } from '../../math/quaternion.ts';
import type { Rig } from '../../rig/rig.ts';
import { rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

const SIX = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'] as const;
/** Between keys a path that is keyed anew keeps within this of what it shall be: cm, degrees. */
const TOLERANCE = 0.01;

type Curves = ReadonlyMap<ChannelId, Curve>;

/**
 * What moves the figures of an action over the ground, the node that travels first: a root, hips under a root that stays, a mover above. Those that the action moves,
 * that no relation places, and that hang on nothing that it moves; cameras stay.
 */
export function movedRoots(shot: Shot, curves: Curves): string[] {
  const rig = rigOf(shot);
  const led = new Set(shot.relations.map(({ node }) => node));
  const has = (id: string, names: readonly string[]) => names.some((name) => curves.has(`${id}.${name}`));
  const varies = (id: string, names: readonly string[]) =>
    names.some((name) => isMoving(curves.get(`${id}.${name}`)));
  const above = (row: number): number[] => {
    const parent = rig.parents[row]!;
    return parent < 0 ? [] : [parent, ...above(parent)];
  };
  const found = rig.nodes.flatMap(({ id, kind }, row) => {
    if (kind === 'camera' || led.has(id) || !has(id, SIX)) return [];
    const over = above(row);
    if (over.length > 0 && !(varies(id, GROUND) && over.every((up) => !varies(rig.nodes[up]!.id, SIX))))
      return [];
    // Over ground that lies aslant nothing is carried; a deck that leans is level ground for who is on it.
    if (over.length > 0 && rotate(turnWithin(rig, row, over), 0, 1, 0)[1] < UPRIGHT) return [];
    return [{ id, over, travels: varies(id, GROUND), leads: over.length === 0 || carriesMost(rig, row) }];
  });
  // Beside hips that travel the goals of hands and feet do; a jaw that moves on a body that stays is no travelling.
  const goesAlong = (over: readonly number[]) =>
    found.some((one) => one.leads && one.over.length > 0 && over.includes(one.over[0]!));
  // What only holds what travels is not moved beside it.
  const holds = (row: number) =>
    found.some(({ over, travels, leads }) => travels && leads && over.includes(row));
  const moved = found.filter(
    ({ id, over, travels, leads }) => (leads || goesAlong(over)) && (travels || !holds(rig.indexOf(id))),
  );
  return [...moved]
    .sort(
      (a, b) =>
        Number(b.leads) - Number(a.leads) ||
        Number(b.travels) - Number(a.travels) ||
        Number(has(b.id, GROUND)) - Number(has(a.id, GROUND)) ||
        below(rig, b.id) - below(rig, a.id),
    )
    .map(({ id }) => id);
}

/** How the parent of a node lies at rest within what only carries the figure. */
function turnWithin(rig: Rig, row: number, over: readonly number[]): Quaternion {
  const { character } = rig.nodes[row]!;
  const carrier = over.find((up) => rig.nodes[up]!.character !== character);
  const turn = rig.restTurns[over[0]!]!;
  return carrier === undefined ? turn : multiply(conjugate(rig.restTurns[carrier]!), turn);
}

/** Channels of what holds these without moving: carried on, it stays where it stands. */
export function heldAbove(shot: Shot, roots: readonly string[], curves: Curves): Set<ChannelId> {
  const rig = rigOf(shot);
  const held = new Set<ChannelId>();
  for (const id of roots)
    for (let row = rig.parents[rig.indexOf(id)]!; row >= 0; row = rig.parents[row]!)
      for (const name of SIX)
        if (curves.has(`${rig.nodes[row]!.id}.${name}`)) held.add(`${rig.nodes[row]!.id}.${name}`);
  return held;
}

const GROUND = ['tx', 'tz'] as const;
/** An upright that leans by more than this is none; a cosine. */
const UPRIGHT = 0.999;

function isMoving(curve: Curve | undefined): boolean {
  return curve !== undefined && curve.values.some((value) => Math.abs(value - curve.values[0]!) > 1e-6);
}

/** Whether most of its character hangs on a node. */
function carriesMost(rig: Rig, row: number): boolean {
  const { id, character } = rig.nodes[row]!;
  const all = rig.nodes.filter((node) => node.character === character).length;
  return 2 * (below(rig, id) + 1) > all;
}

/** How many nodes hang on one. */
function below({ parents, indexOf }: Rig, id: string): number {
  const top = indexOf(id);
  const hangs = (row: number): boolean => row >= 0 && (row === top || hangs(parents[row]!));
  return [...parents].filter((parent) => hangs(parent)).length;
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

/** The curves with the roots moved. @param move one for all frames, or by frame */
export function carriedCurves(
  shot: Shot,
  roots: readonly string[],
  curves: Curves,
  move: GroundMove | ((frame: number) => GroundMove),
): Curves {
  const moveAt = typeof move === 'function' ? move : () => move;
  const result = new Map(curves);
  const rig = rigOf(shot);
  for (const id of roots) {
    const node = rig.indexOf(id);
    const { rest, order } = rig.nodes[node]!;
    const own = SIX.map((name) => curves.get(`${id}.${name}`));
    if (typeof move !== 'function' && move.turn === 0) {
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
        moveAt(frame),
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
