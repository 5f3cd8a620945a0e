import { describe, expect, test } from '@jest/globals';
import { NodeIO } from '@gltf-transform/core';
import fc from 'fast-check';
import { AnimationMixer } from 'three';
import { bodyOf } from '../../bodies/body-of.ts';
import { centreOfMass } from '../../bodies/centre-of-mass.ts';
import { nightRound } from '../../demo/night-round.ts';
import { overThePuddle } from '../../demo/over-the-puddle.ts';
import { contactsOf } from '../../document/contacts.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { NOTHING } from '../../document/selection.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { GRAVITY, leapSeconds, parabolaThrough, placeOn } from '../../motion/flight.ts';
import { filter, curve, puppet } from '../../testing/shot-literals.ts';
import { writePose } from '../poses/write-pose.ts';
import { runEdit } from '../run-edit.ts';

const leap = runEdit('contacts.find', overThePuddle(), NOTHING, {}).shot;
const CRATE: [number, number, number] = [0, 122, 196];
const fly = (shot: Shot, options: object) => runEdit('motion.flight', shot, NOTHING, options);
const centre = (shot: Shot, frame: number) => centreOfMass(shot, 'bram', frame)!;
const codes = (outcome: ReturnType<typeof fly>) => outcome.report.findings.map(({ code }) => code);
const measure = (outcome: ReturnType<typeof fly>, of: string) =>
  outcome.report.measures.find(({ name }) => name === of)!;
/** How far the centre of mass is from the parabola between its own ends, mm. */
function offParabola(shot: Shot, start: number, end: number, step = 1): number {
  const rate = 24;
  const ideal = parabolaThrough(centre(shot, start), centre(shot, end), (end - start) / rate, GRAVITY);
  let most = 0;
  for (let frame = start; frame <= end + 1e-9; frame += step) {
    const [at, on] = [centre(shot, frame), placeOn(ideal, (frame - start) / rate)];
    most = Math.max(most, 10 * Math.hypot(at[0] - on[0], at[1] - on[1], at[2] - on[2]));
  }
  return most;
}

describe('a leap', () => {
  test('is known by its contacts, and how far it is from free flight is said', () => {
    const told = fly(leap, {});
    expect(codes(told)[0]).toBe('flightBefore');
    expect(told.report.findings[0]!.sentence).toMatch(
      /from 18 to 30, Bram was up to \d+.* mm off free flight/,
    );
    expect(measure(told, 'off the parabola').before).toBeCloseTo(offParabola(leap, 18, 30), 6);
  });

  test('keys moved: none added, and each of the body’s columns lies on the parabola', () => {
    const told = fly(leap, { to: CRATE, top: 160 });
    const { shot } = told;
    for (const channel of ['root.ty', 'root.tz', 'hips.ty', 'foot_goal_l.ty'])
      expect(curveOf(shot, null, channel).times.length).toBe(curveOf(leap, null, channel).times.length);
    const landing = 18 + measure(told, 'frames in the air').value;
    expect(landing).toBeGreaterThan(30);
    expect(centre(shot, landing)).toEqual(CRATE.map((at) => expect.closeTo(at, 6)));
    expect(centre(shot, 18)).toEqual(centre(leap, 18).map((at) => expect.closeTo(at, 6)));
    const ideal = parabolaThrough(centre(shot, 18), CRATE, (landing - 18) / 24, GRAVITY);
    const columns = curveOf(shot, null, 'root.ty').times.filter((time) => time >= 18 && time <= landing);
    expect(columns).toHaveLength(3);
    for (const frame of columns) {
      const on = placeOn(ideal, (frame - 18) / 24);
      expect(centre(shot, frame).map((at, k) => at - on[k]!)).toEqual([
        // To the side there were no keys to move.
        expect.closeTo(0, 0),
        expect.closeTo(0, 6),
        expect.closeTo(0, 6),
      ]);
    }
    // Before it all stays; after it, all goes on from the new place.
    expect(centre(shot, 7)).toEqual(centre(leap, 7).map((at) => expect.closeTo(at, 9)));
    const later = landing - 30;
    for (const frame of [33.4, 40, 54]) {
      const [now, was] = [centre(shot, frame + later), centre(leap, frame)];
      const by = CRATE.map((at, k) => at - centre(leap, 30)[k]!);
      expect(now.map((at, k) => at - was[k]!)).toEqual(by.map((way) => expect.closeTo(way, 6)));
    }
    expect(shot.range.end).toBe(leap.range.end + later);
    // Contacts go along, and what stood stands.
    const spans = (of: Shot) => contactsOf(of).map(({ node, start, end }) => [node, start, end]);
    expect(spans(shot)).toEqual(
      spans(leap).map(([node, start, end]) => [
        node,
        Number(start) >= 30 ? Number(start) + later : start,
        Number(end) >= 30 ? Number(end) + later : end,
      ]),
    );
  });

  test.each(['base', 'passes'] as const)(
    'as needed on %s: within the tolerance, between frames too',
    (on) => {
      const told = fly(leap, { to: CRATE, top: 160, keys: 'needed', on });
      const landing = 18 + measure(told, 'frames in the air').value;
      expect(offParabola(told.shot, 18, landing, 0.25)).toBeLessThan(1);
      expect(codes(told)).not.toContain('flightStrays');
      const every = fly(leap, { to: CRATE, top: 160, keys: 'every', on });
      expect(offParabola(every.shot, 18, landing)).toBeLessThan(0.01);
    },
  );

  test('on passes: both muted, he leaps as before, at the old frames', () => {
    const { shot } = fly(leap, { to: CRATE, top: 160, keys: 'needed', on: 'passes' });
    expect(shot.layers.map(({ kind }) => kind)).toEqual(['retime', 'offset']);
    expect(shot.curves).toBe(leap.curves);
    const muted = { ...shot, layers: shot.layers.map((one) => ({ ...one, muted: true })) };
    for (const frame of [0, 12.5, 24, 30, 50])
      expect(worldAt(muted, frame).matrices).toEqual(worldAt(leap, frame).matrices);
    // What follows ripples.
    const later = shot.range.end - leap.range.end;
    expect(later).toBeGreaterThan(0);
    const turn = (of: Shot, frame: number) => worldAt(of, frame).turns.slice(0, 40);
    turn(shot, 48 + later).forEach((value, k) => expect(value).toBeCloseTo(turn(leap, 48)[k]!, 9));
  });

  test('where the body turns as nothing in the air can is said, with the frame', () => {
    const flat = fly(leap, {});
    const jerked = withCurves(leap, null, new Map([['hips.rx', curve([18, 0, 24, 0, 25, 60, 30, 60])]]));
    const said = fly(jerked, {}).report.findings.find(({ code }) => code === 'turningChanges')!;
    expect(said.sentence).toMatch(/most at 2[3-6], by \d+ %/);
    expect(said.where.frame).toBeGreaterThanOrEqual(23);
    expect(said.where.frame).toBeLessThanOrEqual(26);
    // Of a ball alone nothing is said of its turning.
    const ball = fly(jerked, { control: 'root', takeOff: 18, landing: 30 });
    expect([codes(flat).length > 0, codes(ball).includes('turningChanges')]).toEqual([true, false]);
  });

  test('exported and read by an independent reader the centre lies on the parabola within 1 mm on frames', async () => {
    const told = fly(leap, { to: CRATE, top: 160, keys: 'needed', on: 'passes' });
    const landing = 18 + measure(told, 'frames in the air').value;
    const { writeGlb } = await import('../../interchange/gltf/write-gltf.ts');
    const bytes = await writeGlb(told.shot);
    const document = await new NodeIO().readBinary(bytes);
    expect(document.getRoot().listAnimations()).toHaveLength(1);
    const { GLTFLoader } = await import('three/examples/jsm/loaders/GLTFLoader.js');
    const buffer = bytes.slice().buffer;
    const gltf = await new GLTFLoader().parseAsync(buffer, '');
    const mixer = new AnimationMixer(gltf.scene);
    mixer.clipAction(gltf.animations[0]!).play();
    const { segments } = bodyOf(told.shot, 'bram');
    const there = (frame: number) => {
      mixer.setTime(frame / 24);
      gltf.scene.updateMatrixWorld(true);
      let sum = [0, 0, 0];
      for (const { points } of segments)
        for (const { row, at, share } of points) {
          const m = gltf.scene.getObjectByName(told.shot.nodes[row]!.id.replace(/[.:[\]/]/g, ''))!.matrixWorld
            .elements;
          sum = sum.map(
            (value, axis) =>
              value +
              share * (100 * m[12 + axis]! + m[axis]! * at[0] + m[4 + axis]! * at[1] + m[8 + axis]! * at[2]),
          );
        }
      return sum;
    };
    const ideal = parabolaThrough(centre(leap, 18), CRATE, (landing - 18) / 24, GRAVITY);
    for (let frame = 18; frame <= landing; frame += 1) {
      const [at, on] = [there(frame), placeOn(ideal, (frame - 18) / 24)];
      expect(10 * Math.hypot(at[0]! - on[0], at[1]! - on[1], at[2]! - on[2])).toBeLessThan(1);
    }
  });

  test('what comes before comes over, what comes after comes back, where that is asked', () => {
    const from = centre(leap, 18).map((at, k) => at - (k === 2 ? 30 : 0));
    const { shot } = fly(leap, { from, before: 'eased', after: 'back', ease: 12, keys: 'every' });
    expect(centre(shot, 0)[2]).toBeCloseTo(centre(leap, 0)[2], 6);
    expect(centre(shot, 18)[2]).toBeCloseTo(centre(leap, 18)[2] - 30, 6);
    const along = fly(leap, { from, keys: 'every' }).shot;
    expect(centre(along, 0)[2]).toBeCloseTo(centre(leap, 0)[2] - 30, 6);
    const back = fly(leap, { to: CRATE, after: 'back', ease: 12 }).shot;
    expect(centre(back, 54)[2]).toBeCloseTo(centre(leap, 54)[2], 6);
  });

  test('seeded: wherever it lands and however high, the centre falls as gravity says at the height that he is said to have', () => {
    fc.assert(
      fc.property(
        fc.record({
          z: fc.double({ min: 40, max: 260, noNaN: true }),
          x: fc.double({ min: -60, max: 60, noNaN: true }),
          up: fc.double({ min: 0, max: 60, noNaN: true }),
          height: fc.double({ min: 40, max: 400, noNaN: true }),
          gravity: fc.double({ min: 0.15, max: 3, noNaN: true }),
        }),
        ({ z, x, up, height, gravity }) => {
          const said = runEdit('motion.setHeight', leap, NOTHING, { height }).shot;
          const { unit } = bodyOf(said, 'bram');
          const to = [x, 90 + up, z];
          const told = fly(said, { to, gravity, keys: 'every' });
          if (told.report.status === 'refused') return false;
          const landing = 18 + measure(told, 'frames in the air').value;
          const [a, b, c] = [20, 22, 24].map((frame) => centre(told.shot, frame)[1]);
          const falls = (-(a! - 2 * b! + c!) * 24 * 24) / 4;
          expect(falls / ((gravity * GRAVITY) / unit)).toBeCloseTo(1, 3);
          return Math.abs(centre(told.shot, landing)[2] - z) < 1e-3;
        },
      ),
      { numRuns: 12, seed: 4 },
    );
  });
});

describe('a ball', () => {
  const ball = (keys: Record<string, ReturnType<typeof curve>>): Shot => ({
    ...puppet(),
    nodes: puppet().nodes.map((node) => (node.id === 'hips' ? { ...node, character: null } : node)),
    curves: puppet(keys).curves,
  });

  // Closed form; CGPM 1901.
  test('two keys for each channel follow to 1e-6', () => {
    const shot = ball({ 'hips.tx': curve([0, 0, 12, 80]), 'hips.ty': curve([0, 0, 12, -20]) });
    const { shot: after, report } = fly(shot, { control: 'hips', takeOff: 0, landing: 12 });
    expect(report.findings.map(({ code }) => code)).toEqual(['flightBefore']);
    const row = rigOf(after).indexOf('hips');
    const ideal = parabolaThrough([0, 90, 0], [80, 70, 0], 0.5, GRAVITY);
    for (let frame = 0; frame <= 12; frame += 0.2) {
      const [at, on] = [placeIn(worldAt(after, frame), row), placeOn(ideal, frame / 24)];
      at.forEach((value, k) => expect(Math.abs(value - on[k]!)).toBeLessThan(1e-6));
    }
    expect(curveOf(after, null, 'hips.ty').times).toHaveLength(2);
    expect(curveOf(after, null, 'hips.tz').times).toHaveLength(0);
  });

  test('a drop of a metre takes 10.84 frames at 24, and the frames say so', () => {
    const shot = ball({ 'hips.ty': curve([0, 100, 20, 0]) });
    const told = fly(shot, { control: 'hips', takeOff: 0, landing: 20, top: 190 });
    expect(leapSeconds(0, 100, GRAVITY) * 24).toBeCloseTo(10.84, 2);
    expect(measure(told, 'frames in the air').value).toBe(11);
    expect(codes(told)).toContain('heightRounded');
  });

  test('carried by what turns, it flies in the world all the same', () => {
    const shot = withCurves(
      puppet({ 'hips.ry': curve([0, 0, 24, 130]), 'arm_l.tx': curve([0, 0, 12, 60]) }),
      null,
      new Map(),
    );
    const told = fly(shot, { control: 'arm_l', takeOff: 2, landing: 11, keys: 'every' });
    const row = rigOf(shot).indexOf('arm_l');
    const place = (frame: number) => placeIn(worldAt(told.shot, frame), row);
    const { unit } = bodyOf(shot, 'puppet');
    const ideal = parabolaThrough(
      placeIn(worldAt(shot, 2), row),
      placeIn(worldAt(shot, 11), row),
      9 / 24,
      GRAVITY / unit,
    );
    for (let frame = 2; frame <= 11; frame += 1)
      place(frame).forEach((at, k) => expect(at).toBeCloseTo(placeOn(ideal, (frame - 2) / 24)[k]!, 3));
  });
});

describe('what cannot fly', () => {
  test.each([
    [{ takeOff: 20, landing: 20 }, 'landsBefore'],
    [{ takeOff: 20, landing: 900 }, 'rangeOutsideShot'],
    [{ top: 40 }, 'topBelowEnds'],
    [{ top: 160, gravity: 0 }, 'noGravity'],
    [{ control: 'foot_r' }, 'cannotMove'],
    [{ control: 'nobody' }, 'unknownNode'],
    [{ character: 'nobody' }, 'whichCharacter'],
    [{ frames: 0 }, 'badOption'],
  ])('%j is refused with a sentence', (options, code) => {
    const told = fly(leap, options);
    expect(told.report.status).toBe('refused');
    expect(codes(told)).toEqual([code]);
    expect(told.shot).toBe(leap);
  });

  test('a walk without a flight, a locked carrier', () => {
    expect(codes(fly(nightRound(), {}))).toEqual(['whenItFlies']);
    expect(codes(fly({ ...leap, locked: ['root.ty'] }, {}))).toEqual(['lockedMotion']);
  });

  test('gravity off, it goes straight', () => {
    const told = fly(leap, { gravity: 0, keys: 'every' });
    const [a, b, c] = [18, 24, 30].map((frame) => centre(told.shot, frame)[1]);
    expect(b).toBeCloseTo((a! + c!) / 2, 6);
  });
});

describe('the retime filter', () => {
  const moving = puppet({ 'hips.ty': curve([0, 0, 6, 12, 13, -4, 24, 8]), 'arm_l.rz': curve([0, 1, 9, 40]) });
  const under = (settings: object): Shot => ({
    ...moving,
    layers: [filter('retime', ['hips', 'arm_l'], settings)],
  });
  const at = (shot: Shot, frame: number) => placeIn(worldAt(shot, frame), 0)[1];

  test('shows at each frame what it says, straight between, evenly beyond', () => {
    const shot = under({ at: [4, 10, 20], shows: [4, 16, 18] });
    for (const [here, there] of [
      [4, 4],
      [7, 10],
      [10, 16],
      [15, 17],
      [20, 18],
      [23.5, 21.5],
      [1, 1],
    ] as const)
      expect(at(shot, here)).toBe(at(moving, there));
  });

  test('smooth: the pairs are met, time never runs backward, and its pace does not jump', () => {
    const ramp = { ...moving, curves: puppet({ 'hips.ty': curve([0, 0, 40, 40], 'linear') }).curves };
    const shot: Shot = {
      ...ramp,
      layers: [filter('retime', ['hips'], { at: [4, 10, 20], shows: [4, 16, 18], between: 'smooth' })],
    };
    for (const [here, there] of [
      [4, 4],
      [10, 16],
      [20, 18],
    ] as const)
      expect(at(shot, here)).toBeCloseTo(at(ramp, there), 9);
    for (let frame = 4; frame < 20; frame += 0.1)
      expect(at(shot, frame + 0.1)).toBeGreaterThanOrEqual(at(shot, frame));
    for (const key of [10, 12]) {
      const [before, after] = [at(shot, key) - at(shot, key - 1e-4), at(shot, key + 1e-4) - at(shot, key)];
      expect(before / 1e-4).toBeCloseTo(after / 1e-4, 2);
    }
  });

  test('pairs that say nothing are refused where they are set, and change nothing where a file has them', () => {
    const odd = under({ at: [4, 10], shows: [4, 8, 9] });
    expect(at(odd, 7)).toBe(at(moving, 7));
    const said = runEdit('filters.set', under({}), NOTHING, {
      filter: odd.layers[0]!.id,
      settings: { at: [4, 2], shows: [0, 1] },
    });
    expect(said.report.findings.map(({ code }) => code)).toEqual(['pairsOfTime']);
  });

  test('posed through it, the key lands where that frame shows', () => {
    const shot: Shot = under({ at: [4, 10, 20], shows: [4, 16, 18] });
    const { shot: posed } = writePose(shot, null, new Map([['hips.ty', 3]]), 7);
    expect(posed.layers).toBe(shot.layers);
    expect(Array.from(curveOf(posed, null, 'hips.ty').times)).toContain(10);
    expect(at(posed, 7)).toBeCloseTo(93, 9);
  });
});
