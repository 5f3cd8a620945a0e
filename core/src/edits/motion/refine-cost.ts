/**
 * What a motion costs, and how that changes with the keys. The points that count are those of the bodies that move (their masses weigh them); how their places change with channels goes by the joints' axes
 * (the adjoint of forward kinematics), and where a limb or a relation stands between, by differences of what that channel moves.
 */
import type { PointMass } from '../../motion/body.ts';
import type { GroundPoint } from '../../motion/support.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Objective } from '../../motion/minimise.ts';
import type { Free } from './refine-freedom.ts';
import { Kinematics } from './refine-kinematics.ts';
import { balanceTerm, flightTerm, jerkTerm, slideTerm } from './refine-terms.ts';
import type { PlaceTerm } from './refine-terms.ts';

export interface CostShares {
  readonly roughness: number;
  readonly slide: number;
  readonly effort: number;
  readonly balance: number;
  readonly flight: number;
  /** How strongly it stays as it was. */
  readonly closeness: number;
}

/** A point that stands on some frames, by their places in the list. */
export interface Standing {
  readonly point: PointMass;
  readonly first: number;
  readonly last: number;
}

/** A body whose middle counts: of its points that move, and of the rest as it is. */
export interface WeighedBody {
  /** With the share of the whole mass that each bears. */
  readonly moving: readonly PointMass[];
  /** What the rest of it gives to the middle, three numbers a frame. */
  readonly rest: Float64Array;
  /** cm that a unit counts. */
  readonly unit: number;
  /** What carries it, by frame, and how much balance counts there. */
  readonly hulls: readonly (readonly GroundPoint[])[];
  readonly slow: Float64Array;
  readonly flights: readonly { readonly first: number; readonly last: number }[];
  /** Downward, units a frame². */
  readonly gravity: number;
}

export interface CostRequest {
  readonly shot: Shot;
  readonly free: Free;
  readonly frames: Float64Array;
  readonly rate: number;
  readonly points: readonly PointMass[];
  readonly standing: readonly Standing[];
  readonly bodies: readonly WeighedBody[];
  readonly shares: CostShares;
  /** How much closeness counts on each frame, and for each channel; a channel of infinite weight does not turn at all. */
  readonly closeAt: Float64Array;
  readonly closeOf: readonly number[];
}

/** What a unit of turn, and of place, counts as for closeness: degrees and cm. */
const FAR = { rotation: 10, position: 3 } as const;
/** cm out of the support, or off the parabola, on every frame, that cost as much as all the roughness that was there. */
const OUT = 5;

/** The costs that count as parts of what they were, so that their shares mean something; balance and flight may have been 0, and count in cm. */
type Relative = 'roughness' | 'slide' | 'effort';

export function costOf(request: CostRequest): Objective {
  const { shot, free, frames, rate, points, standing, bodies, shares, closeAt, closeOf } = request;
  const rig = rigOf(shot);
  const { channels } = free;
  const F = frames.length;
  const still = Array.from(frames, (frame) => valuesAt(shot, frame));
  const tracked = [
    ...points,
    ...standing.map(({ point }) => point),
    ...bodies.flatMap(({ moving }) => moving),
  ];
  const terms = termsOf(request, points.length, points.length + standing.length, F);
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
  const squares = rate ** 2;
  let first: Record<Relative, number> | null = null;

  const show = (x: Float64Array) =>
    channels.forEach(({ channel, freedoms, first: from }, c) => {
      const column = shown[c]!;
      for (let f = 0; f < F; f += 1) column[f] = still[f]![channel]!;
      freedoms.forEach(({ from: begin, basis }, k) => {
        const by = x[from + k]! - free.start[from + k]!;
        if (by !== 0) for (let i = 0; i < basis.length; i += 1) column[begin + i]! += by * basis[i]!;
      });
    });
  /** Squared acceleration of the joints' own angles. */
  const effort = (): number => {
    let sum = 0;
    channels.forEach((_, c) => {
      if (!isTurn[c]) return;
      const of = shown[c]!;
      for (let f = 1; f + 1 < F; f += 1) sum += (squares * (of[f + 1]! - 2 * of[f]! + of[f - 1]!)) ** 2;
    });
    return sum;
  };
  const pullEffort = (weight: number, c: number) => {
    const [of, out] = [shown[c]!, byChannel[c]!];
    const by = 2 * weight * squares * squares;
    for (let f = 1; f + 1 < F; f += 1) {
      const bend = by * (of[f + 1]! - 2 * of[f]! + of[f - 1]!);
      out[f + 1]! += bend;
      out[f]! -= 2 * bend;
      out[f - 1]! += bend;
    }
  };
  /** @returns what being away costs a channel */
  const stayClose = (c: number): number => {
    const weight = closeOf[c]!;
    if (!(shares.closeness > 0) || !Number.isFinite(weight)) return 0;
    const [of, out, { channel }] = [shown[c]!, byChannel[c]!, channels[c]!];
    const far = FAR[isTurn[c] ? 'rotation' : 'position'];
    const by = (shares.closeness * weight) / (F * channels.length * far * far);
    let sum = 0;
    for (let f = 0; f < F; f += 1) {
      const off = of[f]! - still[f]![channel]!;
      sum += by * closeAt[f]! * off * off;
      out[f]! += 2 * by * closeAt[f]! * off;
    }
    return sum;
  };

  return {
    at(x, gradient) {
      show(x);
      const poses = kinematics.poses(still, shown, F);
      for (let f = 0; f < F; f += 1) kinematics.placesInto(places, poses, f);
      for (const pull of pulls) pull.fill(0);
      for (const column of byChannel) column.fill(0);
      const spent = effort();
      first ??= {
        roughness: terms.roughness.cost(places) || 1,
        slide: terms.slide.cost(places) || 1,
        effort: spent || 1,
      };
      let value = (shares.effort / first.effort) * spent;
      for (const name of PLACE_TERMS) {
        const of = name === 'roughness' || name === 'slide' ? first[name] : OUT * OUT * F;
        const weight = shares[name] / of;
        if (!(weight > 0)) continue;
        value += weight * terms[name].cost(places);
        terms[name].pull(places, pulls, weight);
      }
      for (let f = 0; f < F; f += 1) kinematics.pullBack(poses, pulls, f, byChannel);
      channels.forEach((_, c) => {
        if (isTurn[c] && shares.effort > 0) pullEffort(shares.effort / first!.effort, c);
        value += stayClose(c);
      });
      channels.forEach(({ freedoms, first: from }, c) => {
        const out = byChannel[c]!;
        const isHeld = !Number.isFinite(closeOf[c]!);
        freedoms.forEach(({ from: begin, basis }, k) => {
          let sum = 0;
          for (let i = 0; i < basis.length; i += 1) sum += basis[i]! * out[begin + i]!;
          gradient[from + k] = isHeld ? 0 : sum;
        });
      });
      return value;
    },
  };
}

const PLACE_TERMS = ['roughness', 'slide', 'balance', 'flight'] as const;

/** @param stands @param moving the places of the first of them among what is tracked @param F how many frames */
function termsOf(
  { points, standing, bodies, rate }: CostRequest,
  stands: number,
  moving: number,
  F: number,
): Record<(typeof PLACE_TERMS)[number], PlaceTerm> {
  let next = moving;
  const middles = bodies.map(({ moving: own, rest, unit }) => {
    // In cm, whatever a unit counts.
    const middle = {
      points: own.map(({ share }, k) => [next + k, share * unit] as const),
      rest: rest.map((value) => value * unit),
    };
    next += own.length;
    return middle;
  });
  return {
    roughness: jerkTerm(
      points.map(({ share }) => share),
      F,
      rate,
    ),
    slide: slideTerm(
      standing.map(({ first, last }, k) => ({ point: stands + k, first, last })),
      rate,
    ),
    balance: balanceTerm(
      bodies.map(({ hulls, slow, unit }, b) => ({
        middle: middles[b]!,
        hulls: hulls.map((hull) => hull.map(([x, z]): GroundPoint => [x * unit, z * unit])),
        weights: slow,
      })),
    ),
    flight: flightTerm(
      bodies.flatMap(({ flights, gravity, unit }, b) =>
        flights.map((span) => ({ ...span, middle: middles[b]!, gravity: gravity * unit })),
      ),
    ),
  };
}
