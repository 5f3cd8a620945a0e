/** Figures as rigs of different makes have them: other joints, names, axes, orders, poses at rest, sizes, ways that they face. */
import { seededRandom } from '../base/random.ts';
import { EULER_ORDERS } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotate, unit } from '../math/quaternion.ts';
import { turnAbout } from '../rig/skeleton.ts';
import type { Bone, Skeleton } from '../rig/skeleton.ts';

export interface FigureMake {
  readonly seed: number;
  /** How tall, against 180 cm. */
  readonly size: number;
  /** Degrees by which the arms hang below the level: 0 is T, 45 is A. */
  readonly arms: number;
  /** Degrees by which the legs are spread. */
  readonly legs: number;
  /** By how much farther the hip joints lie below the hips, cm at 180. */
  readonly deep: number;
  /** By how much higher the ankles lie than 8 cm, and how far the toes are turned out: cm at 180, degrees. */
  readonly ankle: number;
  readonly out: number;
  /** How many joints lie between hips and neck. */
  readonly spine: number;
  /** A joint between hips and legs. */
  readonly pelvis: boolean;
  /** A joint above the hips that carries nothing else, on the ground or at the hips. */
  readonly above: 'none' | 'ground' | 'cog';
  readonly twists: boolean;
  readonly fingers: number;
  readonly toes: boolean;
  readonly clavicles: 'none' | 'chest' | 'neck';
  /** Axes of each joint's own; else all lie as the world does. */
  readonly axes: boolean;
  readonly facing: number;
  /** How joints are called by what they are; nonsense where it is null. */
  readonly named: ((joint: string) => string) | null;
  /** Whether the sides are known. */
  readonly sides: boolean;
}

const USUAL: FigureMake = {
  ...{
    seed: 1,
    size: 1,
    arms: 0,
    legs: 0,
    deep: 0,
    ankle: 0,
    out: 0,
    spine: 3,
    pelvis: false,
    above: 'none',
    twists: false,
  },
  ...{ fingers: 0, toes: true, clavicles: 'chest', axes: false, facing: 0, named: (joint) => joint },
  sides: true,
};

export interface Figure {
  readonly skeleton: Skeleton;
  /** What a joint is, by its name; and the other way. */
  readonly jointOf: ReadonlyMap<string, string>;
  readonly nameOf: ReadonlyMap<string, string>;
}

interface Placed {
  readonly joint: string;
  readonly parent: string | null;
  readonly at: Triple;
}

/** The joints of a body that faces +z, at places in the world, cm. */
function bodyOf(make: FigureMake): Placed[] {
  const placed: Placed[] = [];
  const put = (joint: string, parent: string | null, at: Triple) => {
    placed.push({ joint, parent, at });
    return joint;
  };
  const hips: Triple = [0, 95, 0];
  const carrier =
    make.above === 'none' ? null : put(make.above, null, make.above === 'ground' ? [0, 0, 0] : [0, 93, 0]);
  put('hips', carrier, hips);
  let top = 'hips';
  for (let k = 1; k <= make.spine; k += 1)
    top = put(`spine${k}`, top, [
      0,
      95 + (48 * k) / (make.spine + 0.6),
      -2 * Math.sin((3 * k) / (make.spine + 1)),
    ]);
  const neck = put('neck', top, [0, 150, 0]);
  put('head', neck, [0, 160, 1.5]);
  const legs = make.pelvis ? put('pelvis', 'hips', [0, 93, 0]) : 'hips';
  for (const [side, sign] of [
    ['L', 1],
    ['R', -1],
  ] as const) {
    const drop = (make.arms * Math.PI) / 180;
    const along = ([x, y, z]: Triple, by: number): Triple => [
      x + sign * by * Math.cos(drop),
      y - by * Math.sin(drop),
      z,
    ];
    const shoulder: Triple = [sign * 18, 146, -1];
    const hold = make.clavicles === 'neck' ? neck : top;
    const collar = make.clavicles === 'none' ? top : put(`clavicle${side}`, hold, [sign * 4, 144, 1]);
    const upper = put(`upperarm${side}`, collar, shoulder);
    const elbow = along(shoulder, 29);
    const twist = make.twists ? put(`armtwist${side}`, upper, along(shoulder, 14)) : upper;
    const fore = put(`forearm${side}`, twist, elbow);
    const wrist = along(elbow, 26);
    const hand = put(
      `hand${side}`,
      make.twists ? put(`foretwist${side}`, fore, along(elbow, 13)) : fore,
      wrist,
    );
    for (let f = 0; f < make.fingers; f += 1) {
      const base = along(wrist, f === 0 ? 3 : 9);
      const out: Triple = [base[0], base[1], base[2] + 4 - 2 * f];
      let last = put(`finger${f}a${side}`, hand, out);
      last = put(`finger${f}b${side}`, last, along(out, 4));
      put(`finger${f}c${side}`, last, along(out, 7));
    }
    const spread = (make.legs * Math.PI) / 180;
    const down = ([x, y, z]: Triple, by: number): Triple => [
      x + sign * by * Math.sin(spread),
      y - by * Math.cos(spread),
      z,
    ];
    const hip: Triple = [sign * 9, 92 - make.deep, 0];
    const thigh = put(`thigh${side}`, legs, hip);
    const knee = down(hip, 43);
    const shin = put(`shin${side}`, thigh, [knee[0], knee[1], knee[2] + 1]);
    const ankle = down(knee, 41);
    const foot = put(`foot${side}`, shin, ankle);
    const out = (sign * make.out * Math.PI) / 180;
    const toe: Triple = [
      ankle[0] + 13 * Math.sin(out),
      ankle[1] - 6 - make.ankle,
      ankle[2] + 13 * Math.cos(out),
    ];
    if (make.toes) put(`toe${side}`, foot, toe);
  }
  return placed;
}

export function anyFigure(given: Partial<FigureMake>): Figure {
  const make = { ...USUAL, ...given };
  const { next } = seededRandom(make.seed);
  const turned = turnAbout(make.facing);
  const body = bodyOf(make);
  const nameOf = new Map(
    body.map(({ joint }, i) => [
      joint,
      make.named ? make.named(joint) : `${Math.floor(next() * 1e9).toString(36)}${i}`,
    ]),
  );
  const at = new Map(
    body.map(({ joint, at: place }) => [
      joint,
      rotate(turned, ...(place.map((v) => v * make.size) as Triple)),
    ]),
  );
  const worlds = new Map(
    body.map(({ joint }) => [
      joint,
      make.axes ? unit([next() - 0.5, next() - 0.5, next() - 0.5, next() - 0.5]) : turned,
    ]),
  );
  const none: Quaternion = [0, 0, 0, 1];
  const bones = body.map(({ joint, parent }): Bone => {
    const carrier = parent === null ? none : worlds.get(parent)!;
    const [p, q] = [parent === null ? [0, 0, 0] : at.get(parent)!, at.get(joint)!];
    const isCarrier = parent === null || joint === 'hips';
    const side = make.sides && /[LR]$/.test(joint) ? (joint.endsWith('L') ? 'left' : 'right') : 'centre';
    return {
      ...{ id: nameOf.get(joint)!, parent: parent === null ? null : nameOf.get(parent)!, side },
      rest: {
        translation: rotate(conjugate(carrier), q[0] - p[0]!, q[1] - p[1]!, q[2] - p[2]!),
        rotation: unit(multiply(conjugate(carrier), worlds.get(joint)!)),
        scale: [1, 1, 1],
      },
      order: make.axes ? EULER_ORDERS[Math.floor(next() * 6)]! : 'xyz',
      channels: [...(isCarrier ? ['tx', 'ty', 'tz'] : []), 'rx', 'ry', 'rz'],
    };
  });
  return {
    skeleton: { bones, facing: make.facing },
    nameOf,
    jointOf: new Map([...nameOf].map(([joint, name]) => [name, joint])),
  };
}
