/**
 * *Dough toss (captured)*: Bram throws his dough twice, higher the second time, and catches it. Built like a captured
 * shot: the motion is written as sparse keys, baked to a key on every frame, and then given what sensors add: noise, two
 * spikes, and one turn of 360° on a wrist.
 */
import { SEGMENT, TANGENT } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { buildCurve } from '../curve/rebuild.ts';
import { seededRandom } from '../base/random.ts';
import { eulerFromQuat } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotate } from '../math/quaternion.ts';
import { channelKind } from '../rig/node.ts';
import { placeIn, valuesAt, worldAt } from '../evaluation/evaluation.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { BRAM_RELATIONS, bramNodes } from './bram-rig.ts';
import { withTimeline } from './timeline.ts';
import type { Keys } from './timeline.ts';

const LENGTH = 240;
const SEED = 1709;
const NOISE_DEGREES = 0.2;
const NOISE_CM = 0.08;
/** From here on the wrist's angle is a whole turn off. */
const FLIP_FRAME = 150;
/** When the dough leaves the hand and comes back. */
const FLIGHTS = [
  { release: 50, landing: 69 },
  { release: 133, landing: 159 },
] as const;
/** Standard gravity (CGPM 1901) in cm per frame² at 24 frames per second. */
const GRAVITY = 980.665 / (24 * 24);

/** The acting, key by key. Angles in degrees, places in cm against the rest pose. */
const ACTING: Readonly<Record<ChannelId, Keys>> = {
  'foot_goal_l.ik': [0, 1],
  'foot_goal_r.ik': [0, 1],
  'foot_goal_l.tx': [0, 7],
  'foot_goal_l.ry': [0, 14],
  'foot_goal_r.tx': [0, -9],
  'foot_goal_r.tz': [0, 10],
  'foot_goal_r.ry': [0, -10],
  'ball_r.rx': [0, 0, 44, 0, 51, 16, 60, 10, 70, 0, 126, 0, 134, 30, 146, 22, 158, 4, 163, 0],
  'ball_l.rx': [0, 0, 126, 0, 135, 18, 148, 12, 158, 0],
  'hips.tx': [0, 2, 22, -3, 38, -5, 52, -2, 74, -6, 96, 2, 120, -6, 135, -3, 164, -7, 190, 3, 214, 4, 240, 2],
  'hips.ty': [
    0, -4, 20, -3.4, 38, -13, 51, 0, 60, -2, 75, -14, 90, -4, 106, -3.6, 122, -19, 134, 1, 146, -2, 165, -19,
    184, -4, 210, -3.2, 240, -4,
  ],
  'hips.tz': [0, 0, 38, -4, 52, 3, 75, -2, 95, 0, 122, -6, 135, 4, 165, -3, 188, 0],
  'hips.rx': [0, 2, 38, 9, 52, -3, 75, 8, 95, 2, 122, 14, 135, -5, 165, 12, 188, 2],
  'hips.ry': [0, -4, 38, -14, 52, 6, 75, -6, 95, -3, 122, -20, 135, 9, 165, -9, 190, 8, 222, 8, 240, -4],
  'hips.rz': [0, 1, 38, 3, 52, -2, 75, 3, 95, 1, 122, 4, 135, -2, 165, 4, 190, -2, 240, 1],
  'spine_low.rx': [0, 2, 39, 9, 53, -5, 76, 8, 96, 2, 123, 13, 136, -8, 166, 11, 190, 2],
  'spine_high.rx': [0, 3, 40, 8, 54, -7, 77, 8, 97, 3, 124, 11, 137, -10, 167, 10, 191, 3],
  'chest.rx': [0, 2, 41, 6, 55, -8, 78, 7, 98, 2, 125, 8, 138, -12, 168, 9, 192, 2],
  'spine_high.ry': [0, -3, 40, -9, 54, 5, 77, -5, 97, -2, 124, -13, 137, 7, 167, -7, 192, 5, 222, 5, 240, -3],
  'chest.ry': [0, -3, 41, -10, 55, 6, 78, -5, 98, -2, 125, -14, 138, 8, 168, -7, 193, 7, 222, 7, 240, -3],
  'neck.rx': [
    0, 4, 40, 6, 52, -10, 58, -17, 66, -9, 76, 10, 96, 4, 124, 7, 135, -12, 145, -22, 156, -12, 167, 11, 190,
    0,
  ],
  'head.rx': [
    0, 10, 24, 12, 40, 12, 51, -14, 58, -26, 66, -13, 76, 16, 92, 8, 106, 12, 124, 13, 134, -16, 145, -32,
    155, -18, 167, 18, 188, 0, 202, -4, 207, 7, 212, -4, 217, 6, 224, 0, 240, 10,
  ],
  'head.ry': [
    0, -16, 40, -18, 54, -8, 76, -14, 96, -12, 124, -20, 140, -8, 167, -14, 188, 4, 196, 16, 222, 16, 240,
    -16,
  ],
  'head.rz': [0, 2, 58, -4, 96, 2, 145, -6, 190, 3, 210, -5, 240, 2],
  'eye_l.rx': [0, 14, 40, 12, 52, -16, 66, -10, 77, 14, 110, 12, 134, -18, 156, -12, 168, 14, 190, 0],
  'eye_r.rx': [0, 14, 40, 12, 52, -16, 66, -10, 77, 14, 110, 12, 134, -18, 156, -12, 168, 14, 190, 0],
  'eye_l.ry': [0, -12, 186, -12, 192, 10, 224, 10, 234, -12],
  'eye_r.ry': [0, -12, 186, -12, 192, 10, 224, 10, 234, -12],
  'jaw.rx': [0, 2, 50, 3, 57, 12, 70, 4, 133, 4, 142, 18, 160, 5, 196, 4, 206, 10, 222, 3],
  'brow_l.ty': [0, 0, 50, 0.4, 58, 1.6, 72, 0, 134, 0.4, 144, 2, 162, -0.4, 196, 1.4, 226, 0],
  'brow_r.ty': [0, 0, 50, 0.4, 58, 1.6, 72, 0, 134, 0.4, 144, 2, 162, -0.4, 196, 1.4, 226, 0],
  // The right arm throws.
  'clavicle_r.rz': [0, 4, 40, 7, 53, -14, 62, -10, 76, 7, 96, 4, 124, 8, 136, -20, 150, -12, 167, 8, 190, 4],
  'upperarm_r.rz': [
    0, 58, 22, 56, 40, 72, 51, 18, 58, 8, 67, 26, 76, 66, 92, 58, 106, 56, 124, 74, 134, 6, 143, -8, 157, 20,
    167, 70, 188, 58,
  ],
  'upperarm_r.ry': [
    0, 26, 22, 28, 40, 8, 51, 56, 60, 58, 68, 56, 76, 30, 92, 26, 124, 2, 134, 60, 145, 62, 158, 58, 167, 24,
    188, 26,
  ],
  'upperarm_r.rx': [0, -66, 40, -58, 52, -82, 68, -84, 77, -66, 124, -54, 135, -88, 158, -86, 168, -66],
  'forearm_r.ry': [
    0, 82, 22, 86, 40, 66, 51, 34, 58, 24, 67, 46, 76, 88, 92, 82, 106, 86, 124, 58, 134, 22, 144, 14, 157,
    40, 167, 92, 188, 82,
  ],
  'forearm_r.rx': [0, -14, 52, -22, 76, -14, 135, -24, 167, -14],
  'hand_r.rx': [0, -8, 52, -14, 76, -8, 135, -16, 167, -8],
  'hand_r.rz': [
    0, 4, 40, 24, 50, -18, 56, -34, 66, -12, 75, 22, 92, 4, 124, 30, 133, -22, 140, -40, 156, -14, 166, 26,
    188, 4,
  ],
  'thumb_r.ry': [0, 18, 48, 18, 54, -8, 66, -4, 72, 20, 130, 20, 138, -12, 156, -8, 162, 20],
  'index_r.rz': [0, -18, 48, -18, 54, 14, 66, 10, 72, -20, 130, -20, 138, 18, 156, 12, 162, -20],
  'fingers_r.rz': [0, -20, 48, -20, 54, 16, 66, 12, 72, -22, 130, -22, 138, 20, 156, 14, 162, -22],
  // The left balances, and waves at the end.
  'clavicle_l.rz': [0, -4, 53, 4, 76, -6, 136, 8, 167, -6, 192, 2, 222, 2, 240, -4],
  'upperarm_l.rz': [
    0, -66, 22, -64, 40, -56, 54, -34, 76, -58, 96, -66, 124, -48, 137, -20, 167, -52, 182, -62, 194, -22,
    220, -22, 236, -66,
  ],
  'upperarm_l.ry': [
    0, -14, 40, 12, 54, -22, 76, -12, 96, -14, 124, 22, 137, -30, 167, -12, 194, -34, 220, -34, 236, -14,
  ],
  'upperarm_l.rx': [0, -24, 182, -24, 196, -52, 220, -52, 236, -24],
  'forearm_l.ry': [
    0, -38, 40, -30, 54, -48, 76, -44, 96, -38, 124, -26, 137, -56, 167, -46, 182, -40, 195, -104, 220, -104,
    236, -38,
  ],
  'hand_l.rz': [
    0, -6, 54, 10, 76, -8, 137, 14, 167, -10, 192, -4, 198, 22, 203, -20, 208, 22, 213, -20, 218, 16, 226, -6,
  ],
  'hand_l.ry': [0, -8, 194, -8, 200, 6, 206, -8, 212, 6, 220, -8],
  'thumb_l.ry': [0, -12, 54, -2, 76, -12, 192, 4, 222, 4, 238, -12],
  'index_l.rz': [0, 14, 54, 4, 76, 16, 192, -4, 222, -4, 238, 14],
  'fingers_l.rz': [0, 18, 54, 6, 76, 20, 192, -2, 222, -2, 238, 18],
  'cap.rx': [0, -4, 54, 2, 62, -8, 76, 4, 90, -4, 138, 4, 148, -10, 168, 6, 186, -4],
};

/** Rotations that a chain hanging from the body makes: late, and later down the chain. */
function hanging(prefix: string, links: number, swing: number): Record<ChannelId, Keys> {
  const base = [
    0, 0, 42, -0.5, 54, 1, 62, -0.9, 72, 0.5, 80, -1, 90, 0.6, 102, -0.2, 126, -0.7, 138, 1.4, 148, -1.2, 158,
    0.7, 170, -1.2, 182, 0.8, 196, -0.3, 240, 0,
  ];
  return Object.fromEntries(
    Array.from({ length: links }, (_, link) => {
      const delay = 2 * link;
      const keys = base.map((value, i) =>
        i % 2 === 0
          ? value === 0 || value === LENGTH
            ? value
            : value + delay
          : value * swing * (1 + link * 0.5),
      );
      return [`${prefix}_${link + 1}.rx`, keys];
    }),
  );
}

/** Seeded; the same shot at each call. */
export function doughToss(): Shot {
  const clean = cleanShot();
  const rig = rigOf(clean);
  const captured = rig.channels.filter(({ id, node }) => isCaptured(id, rig.nodes[node]!.id));
  const columns = captured.map(() => new Float64Array(LENGTH + 1));
  const near = new Map<string, Triple>();
  for (let frame = 0; frame <= LENGTH; frame += 1) {
    const values = valuesAt(clean, frame);
    const solved = solvedTurns(clean, frame, near);
    captured.forEach(({ id }, c) => (columns[c]![frame] = solved.get(id) ?? values[rig.channelIndex(id)]!));
  }
  const random = seededRandom(SEED);
  const curves = new Map<ChannelId, Curve>();
  captured.forEach(({ id, kind }, c) => {
    const noise = kind === 'rotation' ? NOISE_DEGREES : kind === 'position' ? NOISE_CM : 0.001;
    const flipped = id === 'hand_r.rx' ? FLIP_FRAME : Infinity;
    const column = columns[c]!.map(
      (value, frame) => value + noise * random.gaussian() + (frame >= flipped ? 360 : 0),
    );
    if (id === 'forearm_r.ry') column[71]! += 26;
    if (id === 'head.rx') column[118]! -= 21;
    curves.set(id, dense(column));
  });
  // Captured limbs are forward: the joints themselves carry the keys.
  for (const goal of ['foot_goal_l', 'foot_goal_r', 'hand_goal_l', 'hand_goal_r'])
    curves.set(`${goal}.ik`, constantCurve(0));
  const empty: Shot = { ...clean, curves: [] };
  return withCurves(empty, null, curves);
}

function cleanShot(): Shot {
  const nodes = bramNodes(['dough', 'camera']);
  const bare: Shot = {
    ...newShot(
      'Dough toss (captured)',
      nodes,
      BRAM_RELATIONS,
      { numerator: 24, denominator: 1 },
      { start: 0, end: LENGTH },
    ),
    characters: [{ id: 'bram', name: 'Bram' }],
  };
  const body = withTimeline(bare, {
    ...ACTING,
    ...hanging('tassel', 4, 11),
    ...withSuffix(hanging('string', 3, 6), '_l'),
    ...withSuffix(hanging('string', 3, -5), '_r'),
  });
  return withCurves(body, null, doughCurves(body));
}

/** `string_1.rx` → `string_1_l.rx`. */
function withSuffix(timeline: Record<ChannelId, Keys>, suffix: string): Record<ChannelId, Keys> {
  return Object.fromEntries(
    Object.entries(timeline).map(([id, keys]) => [id.replace('.', `${suffix}.`), keys]),
  );
}

/** In the hand the dough goes with the palm; between release and landing it flies. */
function doughCurves(shot: Shot): Map<ChannelId, Curve> {
  const hand = rigOf(shot).indexOf('hand_r');
  const palmAt = (frame: number): Triple => {
    const pose = worldAt(shot, frame);
    const [x, y, z] = placeIn(pose, hand);
    const turn = pose.turns.subarray(hand * 4, hand * 4 + 4);
    const offset = rotate(turn, -7, 0, 0);
    // The dough rests on top of the palm, whatever way the palm is turned.
    return [x + offset[0], y + offset[1] + 8, z + offset[2]];
  };
  const places = Array.from({ length: LENGTH + 1 }, (_, frame): Triple => {
    const flight = FLIGHTS.find(({ release, landing }) => frame > release && frame < landing);
    if (!flight) return palmAt(frame);
    const from = palmAt(flight.release);
    const to = palmAt(flight.landing);
    const whole = flight.landing - flight.release;
    const passed = frame - flight.release;
    const share = passed / whole;
    const lift = (GRAVITY / 2) * passed * (whole - passed);
    return [
      from[0] + (to[0] - from[0]) * share,
      from[1] + (to[1] - from[1]) * share + lift,
      from[2] + (to[2] - from[2]) * share,
    ];
  });
  const spin = places.map((_, frame) => {
    const flight = FLIGHTS.find(({ release, landing }) => frame > release && frame < landing);
    return flight ? ((frame - flight.release) / (flight.landing - flight.release)) * 360 : 0;
  });
  const squash = places.map((_, frame) => {
    const since = Math.min(...FLIGHTS.map(({ landing }) => (frame >= landing ? frame - landing : Infinity)));
    return since === Infinity ? 0 : 0.3 * Math.exp(-since / 5) * Math.cos(since / 2);
  });
  const column = (values: readonly number[]) => dense(Float64Array.from(values));
  return new Map([
    ...['tx', 'ty', 'tz'].map(
      (name, axis) => [`dough.${name}`, column(places.map((place) => place[axis]!))] as const,
    ),
    ['dough.rx', column(spin)],
    ['dough.ry', column(spin.map(() => 0))],
    ['dough.rz', column(spin.map(() => 0))],
    ['dough.sx', column(squash.map((by) => 1 + by * 0.5))],
    ['dough.sy', column(squash.map((by) => 1 - by))],
    ['dough.sz', column(squash.map((by) => 1 + by * 0.5))],
  ]);
}

/** A key on every frame, straight between them. */
function dense(values: Float64Array): Curve {
  return buildCurve(values.length, (columns) => {
    values.forEach((value, frame) => {
      columns.times[frame] = frame;
      columns.values[frame] = value;
    });
    columns.segments.fill(SEGMENT.linear);
    columns.tangentsIn.fill(TANGENT.linear);
    columns.tangentsOut.fill(TANGENT.linear);
  });
}

const LEG_JOINTS = ['thigh_l', 'shin_l', 'foot_l', 'toe_l', 'thigh_r', 'shin_r', 'foot_r', 'toe_r'];

/** The Euler angles of the leg joints after IK, each near its last. */
function solvedTurns(shot: Shot, frame: number, near: Map<string, Triple>): Map<ChannelId, number> {
  const rig = rigOf(shot);
  const pose = worldAt(shot, frame);
  const turnOf = (i: number) => Array.from(pose.turns.subarray(i * 4, i * 4 + 4)) as Quaternion;
  const result = new Map<ChannelId, number>();
  for (const id of LEG_JOINTS) {
    const i = rig.indexOf(id);
    const local = multiply(conjugate(turnOf(rig.parents[i]!)), turnOf(i));
    const angles = eulerFromQuat(local, rig.nodes[i]!.order, near.get(id));
    near.set(id, angles);
    ['rx', 'ry', 'rz'].forEach((name, axis) => result.set(`${id}.${name}`, angles[axis]!));
  }
  return result;
}

/** What a capture would give: joints and the dough; no goals, poles or scales of the body. */
function isCaptured(id: ChannelId, node: string): boolean {
  const kind = channelKind(id.slice(id.lastIndexOf('.') + 1));
  if (node === 'dough') return true;
  if (/goal|pole|heel|ball|camera|root|belly/.test(node)) return false;
  if (kind === 'position') return node === 'hips' || node.startsWith('brow');
  return kind === 'rotation';
}
