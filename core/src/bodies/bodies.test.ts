import { describe, expect, test } from '@jest/globals';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { doughToss } from '../demo/dough-toss.ts';
import { nightRound } from '../demo/night-round.ts';
import { ovenDoor } from '../demo/oven-door.ts';
import { contactsOf } from '../document/contacts.ts';
import { framesPerSecond, rigOf, withCurves } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { NOTHING } from '../document/selection.ts';
import { runEdit } from '../edits/run-edit.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { limbsOfBody, SEGMENTS, WINTER } from '../motion/body.ts';
import { standsOf } from '../motion/contacts.ts';
import {
  fallOf,
  freeFlightOf,
  GRAVITY,
  leapSeconds,
  parabolaThrough,
  placeOn,
  riseOf,
  topAt,
} from '../motion/flight.ts';
import { measured } from '../rig/skeleton.ts';
import { anyFigure } from '../testing/any-figure.ts';
import { openData } from '../testing/open-data.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { bodyOf } from './body-of.ts';
import { centreIn, centreOfMass, centrePath } from './centre-of-mass.ts';
import { measureContacts } from './contact-measures.ts';
import { findContacts } from './found-contacts.ts';
import { flightsOf, unitByFlights } from './flights.ts';

const captured = (name: string): Shot =>
  readBvh(new TextDecoder().decode(openData(`BVH/${name}.bvh`)), name).shot;
const jumps = captured('01_01');
const walk = captured('01_03');
const boxing = captured('Boxing_Toes');

/** Winter, Biomechanics and Motor Control of Human Movement, table 4.1 (from memory). */
test('the shares of the table are a whole body', () => {
  const { head, trunk, ...limbs } = WINTER;
  const pairs = Object.values(limbs).reduce((sum, [share]) => sum + 2 * share, 0);
  expect(head[0] + trunk[0] + pairs).toBeCloseTo(1, 12);
});

describe('what a body weighs where', () => {
  test.each([
    ['Bram', nightRound(), 'bram'],
    ['Nib', ovenDoor(), 'nib'],
    ['01_01', jumps, 'figure'],
    ['01_03', walk, 'figure'],
    ['Boxing_Toes', boxing, 'figure'],
  ] as const)('%s has every part once on each side', (_, shot, character) => {
    const { segments, limbs } = bodyOf(shot, character);
    const counts = SEGMENTS.map((name) => segments.filter((one) => one.name === name).length);
    expect(counts).toEqual([1, 1, 2, 2, 2, 2, 2, 2, 0]);
    expect(segments.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 12);
    expect(limbs!.legs).toHaveLength(2);
  });

  // Winter, table 4.1: the whole body's centre is where its parts say; a standing body's lies at 0.55 to 0.58 of its height (Hay, The Biomechanics of Sports Techniques; from memory).
  test('a body that stands carries its centre a little above its hips', () => {
    const bare = { ...nightRound(), curves: [], layers: [] };
    const { stands } = bodyOf(bare, 'bram');
    expect(stands).toBeCloseTo(171.7, 1);
    const [, height] = centreOfMass(bare, 'bram', 0)!;
    expect(height / stands).toBeGreaterThan(0.53);
    expect(height / stands).toBeLessThan(0.62);
  });

  test('figures of other makes: hips, knees and ankles are what they are, by structure alone', () => {
    const makes = [
      {},
      { arms: 45, twists: true },
      { spine: 0, pelvis: true },
      { spine: 5, above: 'cog' as const, fingers: 5 },
      { clavicles: 'none' as const, legs: 12, deep: 4 },
      { facing: 90, axes: true, size: 0.6, toes: false },
    ];
    for (const [seed, make] of makes.entries()) {
      const figure = anyFigure({ ...make, seed: seed + 1, named: null, sides: false });
      const of = measured(figure.skeleton);
      const limbs = limbsOfBody(of)!;
      const joint = (row: number) => figure.jointOf.get(of.bones[row]!.id);
      const seen = limbs.legs.map(({ hip, knee, ankle }) => [hip, knee, ankle].map(joint));
      expect(seen.map(([hip]) => hip!.slice(0, -1))).toEqual(['thigh', 'thigh']);
      expect(seen.map(([, knee]) => knee!.slice(0, -1))).toEqual(['shin', 'shin']);
      expect(seen.map(([, , ankle]) => ankle!.slice(0, -1))).toEqual(['foot', 'foot']);
      expect(limbs.arms.map(({ shoulder }) => joint(shoulder)!.slice(0, -1))).toEqual([
        'upperarm',
        'upperarm',
      ]);
      expect(joint(limbs.head)).toBe('head');
    }
  });

  test('what is no body weighs as it is large; what was set by hand weighs that', () => {
    const shot = puppet();
    const share = (one: Shot, node: string) =>
      bodyOf(one, 'puppet')
        .segments.filter(({ row }) => row === rigOf(one).indexOf(node))
        .reduce((sum, segment) => sum + segment.share, 0);
    const before = share(shot, 'arm_l');
    expect(before).toBeCloseTo(share(shot, 'arm_r'), 12);
    const { shot: set } = runEdit('motion.setMass', shot, NOTHING, { node: 'hand_l', share: 40 });
    expect(share(set, 'hand_l')).toBeCloseTo(0.4, 12);
    expect(share(set, 'arm_l')).toBeCloseTo(0.6 * before, 12);
    const over = runEdit('motion.setMass', set, NOTHING, { node: 'hand_r', share: 80 });
    expect(over.report.findings.map(({ code }) => code)).toEqual(['massesOver']);
    expect(share(over.shot, 'hand_r')).toBeCloseTo(0.8 / 1.2, 12);
    const { shot: back } = runEdit('motion.setMass', set, NOTHING, { node: 'hand_l', share: null });
    expect(back).toEqual(shot);
  });
});

describe('the centre of mass', () => {
  test('goes with what carries the body, and turns with it', () => {
    const shot = withCurves(
      { ...nightRound(), curves: [], layers: [], relations: [] },
      null,
      new Map([
        ['root.tx', curve([0, 0, 10, 57])],
        ['root.ry', curve([0, 0, 10, 90])],
      ]),
    );
    const [a, b] = [centreOfMass(shot, 'bram', 0)!, centreOfMass(shot, 'bram', 10)!];
    expect(b[0] - 57).toBeCloseTo(a[2], 9);
    expect(b[1]).toBeCloseTo(a[1], 9);
    expect(b[2]).toBeCloseTo(-a[0], 9);
  });

  test('speed and acceleration are those of its path', () => {
    // y = 3 t², by keys on every frame.
    const keys = Array.from({ length: 25 }, (_, f) => [f, 3 * (f / 24) ** 2]).flat();
    const shot = withCurves({ ...puppet(), curves: [] }, null, new Map([['hips.ty', curve(keys)]]));
    const path = centrePath(shot, 'puppet', { start: 0, end: 24 })!;
    for (const [k, [, y]] of path.accelerations.entries()) {
      expect(y).toBeCloseTo(6, 6);
      if (k > 0 && k < 24) expect(path.speeds[k]![1]).toBeCloseTo((6 * k) / 24, 9);
    }
  });

  test('of nobody there is none', () => {
    expect(centreOfMass(puppet(), 'nobody', 0)).toBeNull();
  });
});

describe('free flight', () => {
  // Galileo, Two New Sciences: 1 : 3 : 5 : 7; closed forms; CGPM 1901.
  test('falls as the books say', () => {
    const fall = parabolaThrough([0, 100, 0], [0, 0, 0], leapSeconds(0, 100, GRAVITY), GRAVITY);
    expect(fall.speed[1]).toBeCloseTo(0, 9);
    expect(leapSeconds(0, 100, GRAVITY)).toBeCloseTo(0.451601, 6);
    expect(leapSeconds(0, 100, GRAVITY) * 24).toBeCloseTo(10.84, 2);
    expect(leapSeconds(50, 50, GRAVITY)).toBeCloseTo(0.638659914, 8);
    expect(leapSeconds(50, 50, GRAVITY) * 24).toBeCloseTo(15.33, 2);
    const way = [0, 1, 2, 3, 4].map((k) => 100 - placeOn(fall, k / 10)[1]);
    const steps = way.slice(1).map((end, k) => (end - way[k]!) / (way[1]! - way[0]!));
    [1, 3, 5, 7].forEach((odd, k) => expect(steps[k]).toBeCloseTo(odd, 9));
  });

  test('top, height and time belong together', () => {
    const leap = parabolaThrough([0, 20, 0], [140, 55, 3], 0.6, GRAVITY);
    expect(placeOn(leap, 0.6)).toEqual([140, expect.closeTo(55, 9), expect.closeTo(3, 9)]);
    const top = topAt(leap);
    const rise = placeOn(leap, top)[1] - 20;
    expect(riseOf(0.6, 20 - 55, GRAVITY)).toBeCloseTo(rise, 9);
    expect(leapSeconds(rise, rise - 35, GRAVITY)).toBeCloseTo(0.6, 9);
  });

  test('a motion that falls is known by its gravity, one that does not by how far it is off', () => {
    const fall = parabolaThrough([1, 2, 3], [70, 40, 9], 0.7, 600);
    const places = Array.from({ length: 18 }, (_, k) => placeOn(fall, k / 24));
    expect(fallOf(places, 24).gravity).toBeCloseTo(600, 6);
    expect(fallOf(places, 24).explained).toBeCloseTo(1, 9);
    const own = parabolaThrough(places[0]!, places[17]!, 17 / 24, 600);
    expect(freeFlightOf(places, 24, 600).greatest).toBeCloseTo(0, 9);
    expect(own.speed[0]).toBeCloseTo(fall.speed[0], 9);
    // Straight across: off by g T² / 8 in the middle.
    const straight = Array.from({ length: 25 }, (_, k) => [k, 0, 0] as [number, number, number]);
    const { greatest, worst } = freeFlightOf(straight, 24, GRAVITY);
    expect(greatest).toBeCloseTo(GRAVITY / 8, 6);
    expect(worst).toBe(12);
  });
});

/** Spans of balls of feet, read by eye off pictures of height and speed before the finder was written; what begins or ends beyond the picture is left out. */
const MARKS: readonly (readonly [Shot, string, readonly (readonly [number | null, number | null])[]])[] = [
  [
    jumps,
    'RightToeBase',
    [
      [null, 217],
      [276, 417],
      [475, null],
    ],
  ],
  [
    jumps,
    'LeftToeBase',
    [
      [null, 219],
      [277, 418],
      [474, null],
    ],
  ],
  [
    jumps,
    'RightToeBase',
    [
      [null, 1041],
      [1078, 1128],
      [1186, null],
    ],
  ],
  [
    jumps,
    'LeftToeBase',
    [
      [null, 1070],
      [1122, null],
    ],
  ],
  [
    walk,
    'RightToeBase',
    [
      [52, 128],
      [204, 297],
    ],
  ],
  [
    walk,
    'LeftToeBase',
    [
      [null, 50],
      [128, 207],
      [283, null],
    ],
  ],
  [
    boxing,
    'RightToes',
    [
      [null, 328],
      [351, 406],
      [445, 489],
      [509, 518],
      [553, null],
    ],
  ],
  [
    boxing,
    'LeftToes',
    [
      [324, 338],
      [352, null],
      // It turns in place from about 375 to 390: one span or two, the ends are these.
      [null, 448],
      [488, 507],
      [529, 536],
      [556, 598],
    ],
  ],
];

describe('contacts', () => {
  test.each(MARKS.map(([shot, joint, spans]) => [shot.name, joint, spans, shot] as const))(
    '%s, %s: within two frames, of 24 a second, of marks made by hand',
    (_, joint, spans, shot) => {
      const { points, stands } = findContacts(shot, 'figure');
      const row = rigOf(shot).indexOf(joint);
      const found = stands[points.findIndex(({ node, name }) => node === row && name === 'ball')]!;
      const near = (2 * framesPerSecond(shot.rate)) / 24;
      for (const [start, end] of spans) {
        const mark = start ?? end!;
        const of = found.find((one) => Math.abs((start === null ? one.end : one.start) - mark) <= near);
        expect([joint, mark, of !== undefined]).toEqual([joint, mark, true]);
        if (end !== null) expect(Math.abs(of!.end - end)).toBeLessThanOrEqual(near);
      }
    },
  );

  // Perry, Gait Analysis; Winter: a foot stands for about 60 % of a walk's cycle.
  test('a foot of a walk stands for about 60 % of its cycle', () => {
    const { points, stands } = findContacts(walk, 'figure', { start: 20, end: 330 });
    const of = (joint: string) => {
      const row = rigOf(walk).indexOf(joint);
      return points.flatMap(({ node }, k) => (node === row ? [stands[k]!] : []))[0]!;
    };
    // From the heel's landing to the ball's leaving, against from landing to landing: the right foot has both.
    const [heel, ball] = [of('RightFoot'), of('RightToeBase')];
    const share = (ball[0]!.end - heel[0]!.start) / (heel[1]!.start - heel[0]!.start);
    expect(share).toBeGreaterThan(0.5);
    expect(share).toBeLessThan(0.68);
  });

  // The data set's published unit: 1/0.45 inch.
  test('the leaps of 01_01 say how large a unit is', () => {
    const { stands } = findContacts(jumps, 'figure');
    const flights = flightsOf(jumps, 'figure', stands.flat());
    expect(flights.length).toBeGreaterThanOrEqual(8);
    for (const { start, end } of flights)
      expect(stands.flat().some((one) => one.start < end && one.end > start)).toBe(false);
    const unit = unitByFlights(jumps, flights)!;
    expect(Math.abs(unit / (2.54 / 0.45) - 1)).toBeLessThan(0.1);
    // A walk has no leap that says anything.
    const walked = findContacts(walk, 'figure');
    expect(unitByFlights(walk, flightsOf(walk, 'figure', walked.stands.flat()))).toBeNull();
  });

  test('a height that is said makes a unit count, and flights and slides with it', () => {
    const { stands } = bodyOf(jumps, 'figure');
    const taller = runEdit('motion.setHeight', jumps, NOTHING, { height: 5.644 * stands });
    expect(taller.report.findings.map(({ code }) => code)).toEqual(['standsTall', 'sizeByFlights']);
    expect(bodyOf(taller.shot, 'figure').unit).toBeCloseTo(5.644, 9);
    const found = runEdit('contacts.find', jumps, NOTHING, {}).shot;
    const of = (shot: Shot) => measureContacts(shot, contactsOf(found)).map(({ greatest }) => greatest);
    const ratio = of(taller.shot)[3]! / of(jumps)[3]!;
    expect(ratio).toBeCloseTo(5.644, 6);
    // Or he is made that tall: then a unit is a centimetre again.
    const made = runEdit('motion.setHeight', taller.shot, NOTHING, { height: 170, how: 'rescale' }).shot;
    expect(bodyOf(made, 'figure').stands).toBeCloseTo(170, 6);
    expect(bodyOf(made, 'figure').unit).toBe(1);
  });

  test('the same span whatever the size, and wherever the floor is', () => {
    const far = withCurves(doughToss(), null, new Map());
    const made = runEdit('clean.rescale', far, NOTHING, { factor: 3.7, character: 'bram' }).shot;
    expect(findContacts(made, 'bram').stands).toEqual(findContacts(far, 'bram').stands);
  });

  test('a foot that is raised and stays up for a moment does not stand', () => {
    const heights = [
      ...Array<number>(12).fill(0),
      5,
      10,
      15,
      ...Array<number>(7).fill(20),
      15,
      10,
      5,
      ...Array<number>(12).fill(0),
    ];
    const stands = standsOf(
      heights.map((y) => [3, y, 0] as [number, number, number]),
      80,
      24,
    );
    expect(stands.map(({ first, last }) => [first, last])).toEqual([
      [0, 11],
      [25, 36],
    ]);
  });

  test('a foot that stands on a crate stands, one at the top of a leap does not', () => {
    const { shot } = runEdit('contacts.find', jumps, NOTHING, {});
    const before = contactsOf(shot).length;
    const up = { ...jumps, curves: jumps.curves };
    const hips = rigOf(up).indexOf('Hips');
    const lifted = Object.fromEntries(
      Object.entries(up.curves[hips]!).map(([name, of]) => [
        name,
        name === 'ty'
          ? { ...of, values: of.values.map((value, k) => value + (of.times[k]! > 1000 ? 9 : 0)) }
          : of,
      ]),
    );
    const crate = { ...up, curves: up.curves.map((row, k) => (k === hips ? lifted : row)) };
    const found = contactsOf(runEdit('contacts.find', crate, NOTHING, {}).shot);
    // But for the frame on which he is lifted all is as it was.
    expect(Math.abs(found.length - before)).toBeLessThanOrEqual(4);
    expect(found.some(({ start }) => start > 1100)).toBe(true);
  });
});

describe('contacts by hand', () => {
  const found = runEdit('contacts.find', walk, NOTHING, {}).shot;
  const [first] = contactsOf(found);

  test('keep what was set by hand when they are found anew', () => {
    const moved = runEdit('contacts.set', found, NOTHING, { contact: first!.id, end: first!.end + 5 }).shot;
    const again = runEdit('contacts.find', moved, NOTHING, {});
    expect(contactsOf(again.shot).find(({ id }) => id === first!.id)).toMatchObject({
      end: first!.end + 5,
      byHand: true,
    });
    expect(again.report.findings.map(({ code }) => code)).toContain('contactsKept');
    expect(runEdit('contacts.find', found, NOTHING, {}).report.status).toBe('unchanged');
  });

  test('are cut in two, and become one again where they overlap', () => {
    const middle = Math.round((first!.start + first!.end) / 2);
    const cut = runEdit('contacts.set', found, NOTHING, { contact: first!.id, split: middle }).shot;
    expect(contactsOf(cut)).toHaveLength(contactsOf(found).length + 1);
    const parts = contactsOf(cut).filter(
      ({ node, point, start }) => node === first!.node && point === first!.point && start <= middle,
    );
    expect(parts.map(({ start, end }) => [start, end])).toEqual([
      [first!.start, middle - 1],
      [middle, first!.end],
    ]);
    const one = runEdit('contacts.set', cut, NOTHING, { contact: parts[0]!.id, end: middle + 1 });
    expect(one.report.findings.map(({ code }) => code)).toContain('contactsJoined');
    expect(contactsOf(one.shot)).toHaveLength(contactsOf(found).length);
  });

  test('go through time: held they last longer, reversed and repeated they stand where they show', () => {
    const spans = (shot: Shot) => contactsOf(shot).map(({ start, end }) => [start, end]);
    const shot = {
      ...puppet({ 'hips.ty': curve([0, 0, 8, 4, 24, 2]) }),
      contacts: [
        { id: 'c', node: 'hand_l', point: 'palm', at: [0, 0, 0] as const, start: 4, end: 9, byHand: false },
      ],
    };
    const at = (start: number, end: number) => ({ ...NOTHING, range: { start, end } });
    expect(spans(runEdit('timing.addHold', shot, NOTHING, { frame: 6, frames: 5 }).shot)).toEqual([[4, 14]]);
    expect(spans(runEdit('timing.reverse', shot, at(0, 24), {}).shot)).toEqual([[15, 20]]);
    expect(spans(runEdit('timing.stretch', shot, at(0, 24), { factor: 1.5 }).shot)).toEqual([[6, 13.5]]);
    const twice = runEdit('timing.reverse', shot, at(0, 24), { append: true }).shot;
    expect(spans(twice)).toEqual([
      [4, 9],
      [39, 44],
    ]);
    expect(new Set(contactsOf(twice).map(({ id }) => id)).size).toBe(2);
  });

  test('a flip takes them to the other side, a flip of a part only there', () => {
    const shot = {
      ...puppet({ 'arm_l.rz': curve([0, 0, 8, 40, 24, 2]), 'hips.ty': curve([0, 1, 24, 3]) }),
      contacts: [
        { id: 'c', node: 'hand_l', point: 'palm', at: [2, -3, 1] as const, start: 4, end: 12, byHand: true },
      ],
    };
    const flipped = (range: { start: number; end: number }, options = {}) =>
      contactsOf(
        runEdit(
          'poses.flipRange',
          shot,
          { ...NOTHING, channels: rigOf(shot).channels.map(({ id }) => id), range },
          options,
        ).shot,
      ).map(({ node, start, end, at }) => [node, start, end, ...at]);
    expect(flipped({ start: 0, end: 24 })).toEqual([['hand_r', 4, 12, -2, -3, 1]]);
    expect(flipped({ start: 8, end: 24 })).toEqual([
      ['hand_l', 4, 7, 2, -3, 1],
      ['hand_r', 8, 12, -2, -3, 1],
    ]);
    expect(flipped({ start: 0, end: 24 }, { append: true })).toEqual([
      ['hand_l', 4, 12, 2, -3, 1],
      ['hand_r', 28, 36, -2, -3, 1],
    ]);
  });
});

test('what is asked of a pose is what is asked of a frame', () => {
  const shot = nightRound();
  const { segments } = bodyOf(shot, 'bram');
  expect(centreIn(worldAt(shot, 7), segments)).toEqual(centreOfMass(shot, 'bram', 7));
});
