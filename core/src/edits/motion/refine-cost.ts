/**
 * What a motion costs, and how that changes with the keys. The points that count are those of the bodies that move (their masses weigh them); a cost is a sum over frames of squares of what is linear in their places,
 * so its change with a place is exact. How places change with channels goes by the joints' axes (the adjoint of forward kinematics); where a limb or a relation stands between, by differences of what that channel moves.
 */
import type { PointMass } from '../../motion/body.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Objective } from '../../motion/minimise.ts';
import type { Free } from './refine-freedom.ts';
import { Kinematics } from './refine-kinematics.ts';

export interface CostShares {
  readonly roughness: number;
  readonly slide: number;
  readonly effort: number;
  /** How strongly it stays as it was. */
  readonly closeness: number;
}

/** A point that stands on some frames, by their places in the list. */
export interface Standing {
  readonly point: PointMass;
  readonly first: number;
  readonly last: number;
}

export interface CostRequest {
  readonly shot: Shot;
  readonly free: Free;
  readonly frames: Float64Array;
  readonly rate: number;
  readonly points: readonly PointMass[];
  readonly standing: readonly Standing[];
  readonly shares: CostShares;
  /** How much closeness counts on each frame. */
  readonly closeAt: Float64Array;
}

/** What a unit of turn, and of place, counts as for closeness: degrees and cm. */
const FAR = { rotation: 10, position: 3 } as const;

export function costOf({
  shot,
  free,
  frames,
  rate,
  points,
  standing,
  shares,
  closeAt,
}: CostRequest): Objective {
  const rig = rigOf(shot);
  const { channels } = free;
  const F = frames.length;
  const still = Array.from(frames, (frame) => valuesAt(shot, frame));
  const tracked = [...points, ...standing.map(({ point }) => point)];
  const kinematics = new Kinematics(
    rig,
    channels.map(({ channel }) => channel),
    tracked,
  );
  const places = tracked.map(() => new Float64Array(F * 3));
  const pulls = tracked.map(() => new Float64Array(F * 3));
  const shown = channels.map(() => new Float64Array(F));
  const byChannel = channels.map(() => new Float64Array(F));
  const isTurn = channels.map(({ channel }) => rig.channels[channel]!.kind === 'rotation');
  const cubes = rate ** 3;
  const squares = rate ** 2;
  let first: Record<'roughness' | 'slide' | 'effort', number> | null = null;

  return {
    at(x, gradient) {
      channels.forEach(({ channel, freedoms, first: from }, c) => {
        const column = shown[c]!;
        for (let f = 0; f < F; f += 1) column[f] = still[f]![channel]!;
        freedoms.forEach(({ from: begin, basis }, k) => {
          const by = x[from + k]! - free.start[from + k]!;
          if (by !== 0) for (let i = 0; i < basis.length; i += 1) column[begin + i]! += by * basis[i]!;
        });
      });
      const poses = kinematics.poses(still, shown, F);
      for (let f = 0; f < F; f += 1) kinematics.placesInto(places, poses, f);
      for (const pull of pulls) pull.fill(0);
      for (const column of byChannel) column.fill(0);

      const sums = { roughness: 0, slide: 0, effort: 0 };
      points.forEach(({ share }, p) => {
        const at = places[p]!;
        for (let f = 1; f + 2 < F; f += 1)
          for (let axis = 0; axis < 3; axis += 1) {
            const jerk =
              cubes *
              (at[3 * f + 6 + axis]! -
                3 * at[3 * f + 3 + axis]! +
                3 * at[3 * f + axis]! -
                at[3 * f - 3 + axis]!);
            sums.roughness += share * jerk * jerk;
          }
      });
      standing.forEach(({ first: begin, last }, s) => {
        const at = places[points.length + s]!;
        for (let f = begin; f < last; f += 1)
          for (const axis of [0, 2]) sums.slide += (rate * (at[3 * f + 3 + axis]! - at[3 * f + axis]!)) ** 2;
      });
      channels.forEach((_, c) => {
        if (!isTurn[c]) return;
        const of = shown[c]!;
        for (let f = 1; f + 1 < F; f += 1)
          sums.effort += (squares * (of[f + 1]! - 2 * of[f]! + of[f - 1]!)) ** 2;
      });
      // Each counts as a part of what it was, so that shares mean something.
      first ??= { roughness: sums.roughness || 1, slide: sums.slide || 1, effort: sums.effort || 1 };
      const weights = {
        roughness: shares.roughness / first.roughness,
        slide: shares.slide / first.slide,
        effort: shares.effort / first.effort,
      };
      let value =
        weights.roughness * sums.roughness + weights.slide * sums.slide + weights.effort * sums.effort;

      if (weights.roughness > 0)
        points.forEach(({ share }, p) => {
          const [at, pull] = [places[p]!, pulls[p]!];
          const by = 2 * weights.roughness * share * cubes * cubes;
          for (let f = 1; f + 2 < F; f += 1)
            for (let axis = 0; axis < 3; axis += 1) {
              const i = 3 * f + axis;
              const jerk = by * (at[i + 6]! - 3 * at[i + 3]! + 3 * at[i]! - at[i - 3]!);
              pull[i + 6]! += jerk;
              pull[i + 3]! -= 3 * jerk;
              pull[i]! += 3 * jerk;
              pull[i - 3]! -= jerk;
            }
        });
      if (weights.slide > 0)
        standing.forEach(({ first: begin, last }, s) => {
          const [at, pull] = [places[points.length + s]!, pulls[points.length + s]!];
          for (let f = begin; f < last; f += 1)
            for (const axis of [0, 2]) {
              const i = 3 * f + axis;
              const way = 2 * weights.slide * squares * (at[i + 3]! - at[i]!);
              pull[i + 3]! += way;
              pull[i]! -= way;
            }
        });
      for (let f = 0; f < F; f += 1) kinematics.pullBack(poses, pulls, f, byChannel);
      channels.forEach(({ channel }, c) => {
        const [of, out] = [shown[c]!, byChannel[c]!];
        if (isTurn[c] && weights.effort > 0) {
          const by = 2 * weights.effort * squares * squares;
          for (let f = 1; f + 1 < F; f += 1) {
            const bend = by * (of[f + 1]! - 2 * of[f]! + of[f - 1]!);
            out[f + 1]! += bend;
            out[f]! -= 2 * bend;
            out[f - 1]! += bend;
          }
        }
        if (shares.closeness > 0) {
          const far = FAR[isTurn[c] ? 'rotation' : 'position'];
          const by = shares.closeness / (F * channels.length * far * far);
          for (let f = 0; f < F; f += 1) {
            const off = of[f]! - still[f]![channel]!;
            value += by * closeAt[f]! * off * off;
            out[f]! += 2 * by * closeAt[f]! * off;
          }
        }
      });
      channels.forEach(({ freedoms, first: from }, c) => {
        const out = byChannel[c]!;
        freedoms.forEach(({ from: begin, basis }, k) => {
          let sum = 0;
          for (let i = 0; i < basis.length; i += 1) sum += basis[i]! * out[begin + i]!;
          gradient[from + k] = sum;
        });
      });
      return value;
    },
  };
}
