/** Placements: a block is what its keys would be, wherever it lies, and nothing else changes. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { evaluate } from '../../curve/evaluate.ts';
import type { Curve } from '../../curve/curve.ts';
import { partOf } from '../../curve/part.ts';
import { nightRound } from '../../demo/night-round.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { envelopeAt } from '../../layers/weight.ts';
import { angleBetween, multiply } from '../../math/quaternion.ts';
import { valuesAt, worldAt, placeIn } from '../../evaluation/evaluation.ts';
import { curveOf, layerOf, rigOf, withCurves, withLayer } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { solve } from '../../evaluation/solve.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, keysOf, pass, puppet } from '../../testing/shot-literals.ts';
import { actionOf, block, codes, placed, run } from '../../testing/placed-actions.ts';

const still = puppet({
  'arm_l.rz': curve([0, 10, 24, -20]),
  'hips.tx': curve([0, 3, 24, 40]),
  'hand_r.rx': curve([0, 1, 24, 9]),
});
const sharp = { rampIn: 0, rampOut: 0 };
const at = (shot: Shot, id: ChannelId, frame: number) => valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;
const fifths = (from: number, to: number) =>
  Array.from({ length: Math.round((to - from) * 5) + 1 }, (_, i) => from + i / 5);

describe('what a block shows', () => {
  test('whole and alone it is its keys, at fifths of frames, within 1e-9; beyond its range nothing differs to the bit', () => {
    fc.assert(
      fc.property(
        anyCurve({ weighted: true }),
        fc.double({ min: -4, max: 30, noNaN: true }),
        (own, frame) => {
          // As saving leaves it: with a key on each end.
          const action = actionOf({ 'arm_l.rz': partOf(own, { start: 0, end: 12 }) }, 12);
          const block = placed(still, action, frame);
          const keys = run(still, 'actions.apply', { action, frame }).shot;
          for (const time of fifths(0, 12).map((inside) => frame + inside))
            expect(Math.abs(at(block, 'arm_l.rz', time) - at(keys, 'arm_l.rz', time))).toBeLessThan(1e-9);
          for (const time of [frame - 7.3, frame - 0.01, frame + 12.01, frame + 30])
            expect(Object.is(at(block, 'arm_l.rz', time), at(still, 'arm_l.rz', time))).toBe(true);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('stretched it is f(t/k), cut a part of it, repeated that part again and again', () => {
    const own = curve([0, 0, 3, 25, 7, -8, 12, 0]);
    const shot = placed(still, actionOf({ 'arm_l.rz': own }, 12), 5);
    const set = (options: object) =>
      run(shot, 'actions.setPlacement', { placement: block(shot).id, ...options }).shot;
    const longer = set({ stretch: 1.5 });
    expect(block(longer).range).toEqual({ start: 5, end: 23, ...sharp });
    for (const time of fifths(5, 23))
      expect(at(longer, 'arm_l.rz', time)).toBeCloseTo(evaluate(own, (time - 5) / 1.5), 9);
    const part = set({ from: 2, to: 6, repeats: 3, stretch: 0.5 });
    expect(block(part).range).toEqual({ start: 5, end: 11, ...sharp });
    for (const time of fifths(5, 10.8))
      expect(at(part, 'arm_l.rz', time)).toBeCloseTo(evaluate(own, 2 + (((time - 5) / 0.5 + 1e-9) % 4)), 6);
    expect(at(part, 'arm_l.rz', 11)).toBe(evaluate(own, 6));
    const trimmed = set({ start: 9, end: 30 });
    expect(at(trimmed, 'arm_l.rz', 8.9)).toBe(at(still, 'arm_l.rz', 8.9));
    expect(at(trimmed, 'arm_l.rz', 9)).toBeCloseTo(evaluate(own, 4), 9);
    expect(at(trimmed, 'arm_l.rz', 29)).toBeCloseTo(0, 12);
  });

  test('stretched with its end staying, what is cut off ahead and the keys of its weight go along', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.3, max: 4, noNaN: true }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        fc.constantFrom('start', 'end'),
        (factor, cut, stays) => {
          const own = curve([0, 0, 3, 25, 7, -8, 12, 0]);
          // Nothing moves below it.
          const below = withCurves(still, null, new Map([['arm_l.rz', curve([0, 7])]]));
          const laid = placed(below, actionOf({ 'arm_l.rz': own }, 12), 5.5);
          const keyed = withLayer(laid, block(laid).id, (was) => ({
            ...was,
            range: { ...was.range!, start: was.range!.start + cut },
            weight: curve([6, 0.2, 9, 1, 16, 0.4]),
          }));
          const { id } = block(keyed);
          const after = run(keyed, 'actions.setPlacement', { placement: id, stretch: factor, stays }).shot;
          const [from, to] = [block(keyed).range, block(after).range];
          expect(to[stays]).toBeCloseTo(stays === 'start' ? 5.5 + cut * factor : 17.5, 9);
          expect(to.end - to.start).toBeCloseTo((from.end - from.start) * factor, 9);
          const pivot = stays === 'start' ? 5.5 : 17.5;
          for (const time of fifths(from.start + 0.1, 17.3))
            expect(at(after, 'arm_l.rz', pivot + (time - pivot) * factor)).toBeCloseTo(
              at(keyed, 'arm_l.rz', time),
              7,
            );
        },
      ),
      { numRuns: 40 },
    );
  });

  test('a block of less than a frame is refused alike, however it would come about', () => {
    const action = actionOf({ 'arm_l.rz': curve([0, 0, 12, 25]) }, 12);
    const laid = placed(still, action, 5);
    const { id } = block(laid);
    for (const [edit, options] of [
      ['actions.place', { action, frame: 2, stretch: 0.05 }],
      ['actions.place', { action, frame: 2, repeats: 0.02 }],
      ['actions.setPlacement', { placement: id, stretch: 0.05 }],
      ['actions.setPlacement', { placement: id, repeats: 0.07 }],
      ['actions.setPlacement', { placement: id, from: 2, to: 2.8 }],
      ['actions.setPlacement', { placement: id, start: 16.3 }],
      ['actions.setPlacement', { placement: id, end: 5.9 }],
    ] as const)
      expect([edit, options, codes(run(laid, edit, options))]).toEqual([edit, options, ['blockTooShort']]);
    // Less than a frame of the action, but not of the shot.
    expect(
      codes(run(laid, 'actions.setPlacement', { placement: id, from: 2, to: 2.8, stretch: 2 })),
    ).not.toContain('blockTooShort');
  });

  test('backward it is f(from its end), two and a half times it ends in the middle of the third; as keys the same, handles and all', () => {
    const own = curve([0, 0, 3, 25, 7, -8, 12, 4]);
    const shot = placed(still, actionOf({ 'arm_l.rz': own }, 12), 5, { backward: true, repeats: 2.5 });
    expect(block(shot).range.end).toBe(35);
    for (const time of fifths(5, 34.8))
      expect(at(shot, 'arm_l.rz', time)).toBeCloseTo(evaluate(own, 12 - ((time - 5 + 1e-9) % 12)), 6);
    expect(at(shot, 'arm_l.rz', 35)).toBeCloseTo(evaluate(own, 6), 9);
    const once = placed(still, actionOf({ 'arm_l.rz': own }, 12), 5, { backward: true });
    const keys = run(once, 'actions.toKeys', { placement: block(once).id }).shot;
    expect(keysOf(curveOf(keys, null, 'arm_l.rz'))).toContain('10:-8 14:25');
    for (const time of fifths(5, 17))
      expect(at(keys, 'arm_l.rz', time)).toBeCloseTo(at(once, 'arm_l.rz', time), 9);
    const swing = curve([0, 3, 5, 25, 12, 3]);
    const more = placed(still, actionOf({ 'arm_l.rz': swing }, 12), 2, { repeats: 1.75 });
    // Cut in the middle of a time round it holds that.
    const held = run(more, 'actions.setPlacement', { placement: block(more).id, end: 29 }).shot;
    const laid = run(held, 'actions.toKeys', { placement: block(more).id }).shot;
    expect(keysOf(curveOf(laid, null, 'arm_l.rz'))).toContain('7:25 14:3 19:25');
    for (const time of fifths(2, 29))
      expect(at(laid, 'arm_l.rz', time)).toBeCloseTo(at(held, 'arm_l.rz', time), 9);
  });

  test('of another rate it takes as many seconds', () => {
    const own = curve([0, 0, 10, 30, 20, 5]);
    const shot = placed(
      still,
      actionOf({ 'arm_l.rz': own }, 20, { rate: { numerator: 48, denominator: 1 } }),
      2,
    );
    expect(block(shot).range.end).toBe(12);
    expect(at(shot, 'arm_l.rz', 6.5)).toBeCloseTo(evaluate(own, 9), 9);
  });

  test('ramps, weight and adding', () => {
    const action = actionOf({ 'arm_l.rz': curve([0, 50, 10, 90]) }, 10);
    const soft = placed(still, action, 4, { rampIn: 4, rampOut: 2, weight: 0.5 });
    for (const time of fifths(4, 14)) {
      const share = 0.5 * envelopeAt(block(soft).range, time);
      const below = at(still, 'arm_l.rz', time);
      const own = evaluate(curve([0, 50, 10, 90]), time - 4);
      expect(at(soft, 'arm_l.rz', time)).toBeCloseTo(below + share * (own - below), 9);
    }
    const adds = placed(still, action, 4, { adds: true });
    expect(at(adds, 'arm_l.rz', 4)).toBe(at(still, 'arm_l.rz', 4));
    expect(at(adds, 'arm_l.rz', 14)).toBeCloseTo(at(still, 'arm_l.rz', 14) + 40, 9);
  });

  test('only what is selected, and nothing of the rest to the bit; locked channels stay', () => {
    const action = actionOf(
      { 'arm_l.rz': curve([0, 50, 10, 90]), 'hips.tx': curve([0, 9, 10, 4]), 'hips.ty': curve([0, 9]) },
      10,
    );
    const shot = { ...still, locked: ['hips.tx'] };
    const upper = run(
      shot,
      'actions.place',
      { action, frame: 4, ...sharp, onlySelected: true },
      choose({ nodes: ['arm_l'] }),
    ).shot;
    for (const time of fifths(0, 24)) expect(at(upper, 'hips.ty', time)).toBe(0);
    const all = run(shot, 'actions.place', { action, frame: 4, ...sharp });
    expect(codes(all)).toContain('lockedChannels');
    for (const time of fifths(0, 24)) expect(at(all.shot, 'hips.tx', time)).toBe(at(shot, 'hips.tx', time));
    expect(at(all.shot, 'hips.ty', 6)).toBe(9);
    // Placed twice the action stands once, and back again all parts count.
    const twice = run(upper, 'actions.place', { action, frame: 15, ...sharp }).shot;
    expect(twice.actions).toHaveLength(1);
    const whole = run(upper, 'actions.setPlacement', { placement: block(upper).id, parts: 'all' }).shot;
    expect(block(whole).members).toEqual(['hips', 'arm_l']);
  });
});

describe('crossing', () => {
  const one = actionOf({ 'arm_l.rz': curve([0, 70, 12, 70]), 'hips.ty': curve([0, 5, 12, 5]) }, 12);
  const two = actionOf({ 'arm_l.rz': curve([0, 30, 12, 30]) }, 12, { name: 'Two' });
  const both = () => placed(placed(still, one, 2, { rampOut: 3 }), two, 11, { rampIn: 1 });
  const crossed = (frames: number | null = null) =>
    run(both(), 'actions.cross', { placement: block(both()).id, frames }).shot;

  test('the weights of the two sum to one, and what only the first has goes out by its own ramp', () => {
    for (const frames of [null, 5, 9.5]) {
      const shot = crossed(frames);
      const { start, rampIn } = block(shot).range;
      expect(start + rampIn).toBe(14);
      for (const time of fifths(start, 14)) {
        const share = envelopeAt(block(shot).range, time);
        expect(at(shot, 'arm_l.rz', time)).toBeCloseTo(70 + share * (30 - 70), 9);
        expect(at(shot, 'hips.ty', time)).toBeCloseTo(5 * envelopeAt(block(shot, 0).range, time), 9);
      }
    }
    // As they were laid, what lies below shows through.
    expect(at(both(), 'arm_l.rz', 13)).not.toBeCloseTo(at(crossed(), 'arm_l.rz', 13), 3);
  });

  test('dragged, the crossing is as long as they overlap; apart it is undone, and said; the first above is put below', () => {
    const shot = crossed();
    const moved = run(shot, 'actions.movePlacement', { placement: block(shot).id, frame: 7 });
    expect(block(moved.shot).range).toMatchObject({ start: 7, end: 19, rampIn: 7 });
    const apart = run(moved.shot, 'actions.movePlacement', { placement: block(shot).id, frame: 15 });
    expect([codes(apart), block(apart.shot, 0).settings.crosses]).toEqual([
      expect.arrayContaining(['noLongerCross']),
      null,
    ]);
    const turned = { ...both(), layers: [...both().layers].reverse() };
    const back = run(turned, 'actions.cross', { placement: block(both()).id }).shot;
    expect(back.layers.map(({ name }) => name)).toEqual(['One', 'Two']);
    expect(codes(run(both(), 'actions.cross', { placement: block(both(), 0).id }))).toEqual([
      'nothingToCross',
    ]);
  });

  test('when the next is muted or gone the first goes out by its own ramp', () => {
    const shot = crossed();
    const muted = run(shot, 'filters.set', { filter: block(shot).id, muted: true }).shot;
    const gone = run(shot, 'filters.remove', { filter: block(shot).id }).shot;
    for (const after of [muted, gone])
      expect(at(after, 'arm_l.rz', 13.5)).toBeCloseTo(
        at(placed(still, one, 2, { rampOut: 3 }), 'arm_l.rz', 13.5),
        9,
      );
    expect(gone.actions!.map(({ name }) => name)).toEqual(['One']);
  });
});

describe('to keys', () => {
  const own = curve([0, 0, 3, 25, 7, -8, 12, 0]);
  const action = actionOf({ 'arm_l.rz': own, 'hips.ty': curve([0, 2, 12, 2]) }, 12);
  const shots = {
    'sharp ends': placed(still, action, 6),
    'ramps, stretched': placed(still, action, 4.5, { rampIn: 3, rampOut: 4, stretch: 1.3 }),
    'twice over, half of it': placed(still, action, -3, { repeats: 2, weight: 0.5, rampIn: 2 }),
    adding: placed(still, action, 5, { adds: true, rampIn: 2, rampOut: 2 }),
  };

  test.each(Object.entries(shots))('%s: what it showed, and beyond its range the same', (_, shot) => {
    for (const onto of ['base', 'pass']) {
      const result = run(shot, 'actions.toKeys', { placement: block(shot).id, onto });
      const { shot: after } = result;
      expect([after.actions, after.layers.length]).toEqual([undefined, onto === 'base' ? 0 : 1]);
      const { start, end } = block(shot).range;
      for (const id of ['arm_l.rz', 'hips.ty'] as const) {
        for (const time of fifths(start, end).slice(1, -1))
          expect(Math.abs(at(after, id, time) - at(shot, id, time))).toBeLessThan(2e-3);
        for (let time = 0; time <= 24; time += 1)
          if (time < start - 1 || time > end + 1)
            expect(at(after, id, time)).toBeCloseTo(at(shot, id, time), 9);
      }
    }
  });

  test('where all of it counts they are its own keys, handles and all; over another layer they go onto a pass', () => {
    const after = run(shots['ramps, stretched'], 'actions.toKeys', {
      placement: block(shots['ramps, stretched']).id,
    }).shot;
    expect(keysOf(curveOf(after, null, 'arm_l.rz'))).toContain('8.4:25 13.6:-8');
    const over = { ...still, layers: [pass('p', { members: ['arm_l'] })] };
    const lifted = withCurves(over, 'p', new Map([['arm_l.rz', curve([0, 5])]]));
    const block2 = placed(lifted, action, 6);
    const result = run(block2, 'actions.toKeys', { placement: block(block2).id });
    expect(codes(result)).toContain('bakedOver');
    expect(curveOf(result.shot, null, 'arm_l.rz')).toBe(curveOf(still, null, 'arm_l.rz'));
  });

  test('a locked key in its range, a muted block, a solo layer: refused, and nothing lost', () => {
    const shot = shots['sharp ends'];
    const { id } = block(shot);
    const locked = { ...shot, locked: ['arm_l.rz'] };
    expect(codes(run(locked, 'actions.toKeys', { placement: id }))).toEqual(['lockedInTheWay']);
    const muted = run(shot, 'filters.set', { filter: id, muted: true }).shot;
    expect(codes(run(muted, 'actions.toKeys', { placement: id }))).toEqual(['mutedPlacement']);
    const solo = run(shot, 'filters.set', { filter: id, solo: true }).shot;
    expect(codes(run(solo, 'actions.toKeys', { placement: id }))).toEqual(['soloFirst']);
  });
});

describe('over the ground', () => {
  const walk = actionOf(
    {
      'hips.tx': curve([0, 5, 10, 5]),
      'hips.tz': curve([0, 0, 10, 30]),
      'hips.ry': curve([0, 0, 10, 20]),
      'hips.rx': curve([0, 4, 10, 9]),
    },
    10,
  );
  /** Stands elsewhere, and faces +X. */
  const elsewhere = puppet({
    'hips.tx': curve([0, 200]),
    'hips.tz': curve([0, -80]),
    'hips.ry': curve([0, 90]),
  });
  const hips = (shot: Shot, frame: number) => placeIn(worldAt(shot, frame), 0);

  test('carried on it begins where the character stands and goes the way that it faces; placed and as keys alike', () => {
    const shot = placed(elsewhere, walk, 3, { carryOn: true });
    expect(hips(shot, 3)).toEqual([expect.closeTo(200, 6), 90, expect.closeTo(-80, 6)]);
    expect(hips(shot, 13)).toEqual([expect.closeTo(230, 6), 90, expect.closeTo(-80, 6)]);
    const turnOf = (of: Shot, frame: number) =>
      [...worldAt(of, frame).turns.slice(0, 4)] as [number, number, number, number];
    const quarter = [0, Math.SQRT1_2, 0, Math.SQRT1_2] as const;
    const plain = placed(puppet(), walk, 3);
    expect(angleBetween(turnOf(shot, 13), multiply(quarter, turnOf(plain, 13)))).toBeLessThan(1e-5);
    const keys = run(elsewhere, 'actions.apply', { action: walk, frame: 3, carryOn: true }).shot;
    for (const time of fifths(3, 13)) {
      for (const id of ['hips.tx', 'hips.tz', 'hips.rx', 'hips.ry', 'hips.rz'])
        expect(Math.abs(at(keys, id, time) - at(shot, id, time))).toBeLessThan(0.02);
    }
  });

  test('an action that does not turn it goes on as it faces: moved there, and not turned', () => {
    const { 'hips.tx': x, 'hips.tz': z } = walk.curves;
    const moves = { ...walk, curves: { 'hips.tx': x!, 'hips.tz': z! } };
    const shot = placed(elsewhere, moves, 3, { carryOn: true });
    expect(hips(shot, 3)).toEqual([expect.closeTo(200, 6), 90, expect.closeTo(-80, 6)]);
    expect(hips(shot, 13)).toEqual([expect.closeTo(200, 6), 90, expect.closeTo(-50, 6)]);
    expect(at(shot, 'hips.ry', 13)).toBeCloseTo(90, 6);
  });

  test('what adds goes on too: each time round adds to what the one before came to, in place and heading alone', () => {
    const shot = placed(elsewhere, walk, 3, { adds: true, repeats: 3 });
    for (const [round, frame] of [
      [0, 5.5],
      [1, 15.5],
      [2, 25.5],
    ] as const) {
      const once = placed(elsewhere, walk, 3, { adds: true });
      const added = (id: ChannelId) => at(once, id, 5.5) - at(elsewhere, id, 5.5);
      for (const [id, each] of [
        ['hips.tz', 30],
        ['hips.ry', 20],
        ['hips.rx', 0],
      ] as const)
        expect(at(shot, id, frame) - at(elsewhere, id, frame)).toBeCloseTo(added(id) + round * each, 6);
    }
    // Of an older file it begins anew each time, as it did, until that is said.
    const { sums: _, ...older } = block(shot).settings;
    const file = JSON.parse(writeShotFile(shot)) as { layers: { settings: object }[] };
    file.layers[0]!.settings = older;
    const read = readShotFile(JSON.stringify(file));
    expect(at(read, 'hips.tz', 15.5)).toBeCloseTo(at(read, 'hips.tz', 5.5), 6);
    const on = run(read, 'actions.setPlacement', { placement: block(read).id, goesOn: false }).shot;
    const again = run(on, 'actions.setPlacement', { placement: block(read).id, goesOn: true }).shot;
    expect(at(again, 'hips.tz', 25.5)).toBeCloseTo(at(shot, 'hips.tz', 25.5), 6);
  });

  test('backward it goes on too: each time round begins where the one before came to, and adds from its first pose', () => {
    const { 'hips.rx': _, ...level } = walk.curves;
    const shot = placed(puppet(), { ...walk, curves: level }, 0, { repeats: 2.5, backward: true });
    for (const seam of [10, 20]) {
      const [ahead, behind] = [hips(shot, seam - 1e-6), hips(shot, seam + 1e-6)];
      ahead.forEach((value, axis) => expect(behind[axis]).toBeCloseTo(value, 3));
    }
    expect(at(shot, 'hips.ry', 20)).toBeCloseTo(-20, 6);
    const adds = placed(elsewhere, walk, 3, { adds: true, backward: true });
    for (const id of ['hips.tz', 'hips.ry']) expect(at(adds, id, 3)).toBeCloseTo(at(elsewhere, id, 3), 9);
    expect(at(adds, 'hips.tz', 13)).toBeCloseTo(at(elsewhere, 'hips.tz', 13) - 30, 9);
  });

  test('each time round goes on from where the one before came to, turned as it came', () => {
    const level = {
      ...walk,
      curves: Object.fromEntries(Object.entries(walk.curves).filter(([id]) => id !== 'hips.rx')),
    };
    const shot = placed(puppet(), level, 0, { repeats: 3 });
    expect(block(shot).settings.goesOn).toBe(true);
    for (const seam of [10, 20]) {
      const [ahead, behind] = [hips(shot, seam - 1e-6), hips(shot, seam + 1e-6)];
      ahead.forEach((value, axis) => expect(behind[axis]).toBeCloseTo(value, 3));
    }
    expect(at(shot, 'hips.ry', 30)).toBeCloseTo(60, 6);
    const jumps = run(shot, 'actions.setPlacement', { placement: block(shot).id, goesOn: false }).shot;
    expect(hips(jumps, 20.01)[2]).toBeLessThan(1);
  });
});

describe('in the shot', () => {
  const action = actionOf({ 'arm_l.rz': curve([0, 0, 3, 25, 12, 0]), 'hips.ty': curve([0, 2, 12, 8]) }, 12);
  const shot = () => placed(still, action, 6, { rampIn: 3 });

  test('written and read it shows the same; the action stands once', () => {
    const again = readShotFile(writeShotFile(placed(shot(), action, 30)));
    expect(again.actions).toHaveLength(1);
    for (const time of fifths(0, 44))
      expect(at(again, 'arm_l.rz', time)).toBe(at(placed(shot(), action, 30), 'arm_l.rz', time));
  });

  test('it is named by its id, or by its name where no other has that', () => {
    const { name, id } = block(shot());
    expect(name).not.toBe(id);
    for (const [edit, options] of [
      ['actions.setPlacement', { stretch: 2 }],
      ['actions.movePlacement', { frame: 9 }],
      ['actions.toKeys', {}],
    ] as const)
      expect(run(shot(), edit, { placement: name, ...options }).shot).toEqual(
        run(shot(), edit, { placement: id, ...options }).shot,
      );
    const two = { ...shot(), layers: [...shot().layers, { ...block(shot()), id: 'other' }] };
    expect(codes(run(two, 'actions.movePlacement', { placement: name, frame: 9 }))).toEqual([
      'unknownPlacement',
    ]);
  });

  test('time that is stretched or put in takes the block along', () => {
    const longer = run(shot(), 'timing.stretch', { factor: 2 }, choose({ range: { start: 0, end: 24 } }));
    expect(longer.report.status).toBe('changed');
    expect(block(longer.shot)).toMatchObject({
      range: { start: 12, end: 36 },
      settings: { first: 12, factor: 2 },
    });
    expect(at(longer.shot, 'hips.ty', 30)).toBeCloseTo(at(shot(), 'hips.ty', 15), 9);
    const later = run(shot(), 'timing.addHold', { frame: 2, frames: 5 }).shot;
    expect(block(later).range.start).toBe(11);
    expect(at(later, 'hips.ty', 20)).toBeCloseTo(at(shot(), 'hips.ty', 15), 9);
  });

  test('a flip takes it over to the other side, with an action of its own; where it is cut it stays, and that is said', () => {
    const nodes = choose({ nodes: ['arm_l', 'hips'] });
    const whole = run(shot(), 'poses.flipRange', {}, nodes);
    expect(codes(whole)).not.toContain('placementsUnflipped');
    const [before, after] = [block(shot()), block(whole.shot)];
    expect([before.members.includes('arm_l'), after.members.includes('arm_r')]).toEqual([true, true]);
    expect(after.settings['action']).not.toBe(before.settings['action']);
    const { start } = before.range;
    const cut = run(shot(), 'poses.flipRange', {}, { ...nodes, range: { start: start + 2, end: 24 } });
    expect(codes(cut)).toContain('placementsUnflipped');
    expect(cut.shot.layers).toEqual(shot().layers);
  });

  test('what is posed below it shows through where part of it counts, and is refused where all of it does', () => {
    const half = run(shot(), 'actions.setPlacement', { placement: block(shot()).id, weight: 0.4 }).shot;
    const wish = { kind: 'values', values: { 'arm_l.rz': 33 } } as const;
    const { keys } = solve(half, null, 12, wish);
    const { frame, value } = keys.get('arm_l.rz')!;
    const posed = withCurves(half, null, new Map([['arm_l.rz', curve([frame, value])]]));
    expect(at(posed, 'arm_l.rz', 12)).toBeCloseTo(33, 6);
    expect(solve(shot(), null, 12, wish).hidden).toEqual(['arm_l.rz']);
  });

  test('at the same place twice, beyond the frames, a single pose, nothing of it here: refused with a sentence', () => {
    expect(codes(run(shot(), 'actions.place', { action, frame: 6 }))).toEqual(['placedTwice']);
    expect(codes(run(still, 'actions.place', { action, frame: 999995 }))).toEqual(['beyondFrames']);
    expect(codes(run(still, 'actions.place', { action: { ...action, length: 0 }, frame: 2 }))).toEqual([
      'tooShortToPlace',
    ]);
    const foreign = actionOf({ 'tail.rz': curve([0, 1, 9, 4]) }, 9);
    expect(codes(run(still, 'actions.place', { action: foreign, frame: 2 }))).toEqual(['unmatchedNodes']);
    expect(layerOf(shot(), block(shot()).id)!.locked).toBe(false);
    const locked = run(shot(), 'filters.set', { filter: block(shot()).id, locked: true }).shot;
    expect(codes(run(locked, 'actions.movePlacement', { placement: block(shot()).id, frame: 1 }))).toEqual([
      'lockedPass',
    ]);
  });

  test('in the night round: the upper body only, the feet untouched to the bit', () => {
    const round = nightRound();
    const legs = round.nodes
      .filter(({ id }) => /thigh|shin|foot|heel|ball|ankle|toe|root|hips|knee/.test(id))
      .map(({ id }) => id);
    const upper = round.nodes.map(({ id }) => id).filter((id) => !legs.includes(id));
    const made = run(
      round,
      'actions.save',
      { name: 'Upper' },
      choose({ nodes: upper, range: { start: 4, end: 14 } }),
    );
    const after = placed(round, made.made as object, 11, { rampIn: 3, rampOut: 3 });
    const rig = rigOf(round);
    for (const time of fifths(8, 24)) {
      const [was, is] = [worldAt(round, time), worldAt(after, time)];
      for (const id of legs) expect(placeIn(is, rig.indexOf(id))).toEqual(placeIn(was, rig.indexOf(id)));
    }
    expect(at(after, 'spine_low.ry', 16)).not.toBe(at(round, 'spine_low.ry', 16));
  });
});

describe('what moves the figure', () => {
  /** Hips that travel under a root that stays, a camera, and a prop beside. */
  const figure = (curves: Record<string, Curve> = {}): Shot => {
    const plain = puppet();
    const hips = plain.nodes.find(({ id }) => id === 'hips')!;
    const control = { ...hips, channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'], solids: [] };
    const rest = { ...hips.rest, translation: [0, 0, 0] as const };
    const nodes = [
      { ...control, id: 'root', parent: null, rest },
      ...plain.nodes.map((node) =>
        node.id === 'hips' ? { ...node, parent: 'root', channels: control.channels } : node,
      ),
      { ...control, id: 'eye', kind: 'camera' as const, parent: null, rest, character: null },
    ];
    return withCurves({ ...plain, nodes }, null, new Map(Object.entries(curves)));
  };
  const stride = {
    'root.tx': curve([0, 0]),
    'root.tz': curve([0, 0]),
    'hips.tx': curve([0, 0, 10, 1]),
    'hips.tz': curve([0, 0, 10, 60], 'linear'),
    'eye.tx': curve([0, 5, 10, 90]),
  };
  const action = actionOf(stride, 10, { roots: ['root', 'eye'] });
  const place = (shot: Shot, id: string, frame: number) =>
    placeIn(worldAt(shot, frame), rigOf(shot).indexOf(id));

  test('repeats that travel on hips under a root go on, the camera stays', () => {
    const shot = placed(figure(), action, 0, { repeats: 3 });
    const [first, second] = [place(shot, 'hips', 5)[2], place(shot, 'hips', 15)[2]];
    expect(second - first).toBeCloseTo(60, 6);
    expect(place(shot, 'hips', 29.9)[2]).toBeGreaterThan(170);
    expect(place(shot, 'eye', 15)[0]).toBeCloseTo(place(shot, 'eye', 5)[0], 6);
  });

  test('an arm that is moved on a body that stays goes nowhere', () => {
    const plain = figure();
    const nodes = plain.nodes.map((node) =>
      node.id === 'arm_l' ? { ...node, channels: ['tx', ...node.channels] } : node,
    );
    const reach = actionOf({ 'arm_l.tx': curve([0, 0, 10, 4]) }, 10);
    const shot = placed({ ...plain, nodes }, reach, 0, { repeats: 3 });
    expect(at(shot, 'arm_l.tx', 15)).toBeCloseTo(at(shot, 'arm_l.tx', 5), 9);
    expect(at(shot, 'arm_l.tx', 5)).toBeGreaterThan(1);
  });

  test.each(['actions.apply', 'actions.place'])(
    '%s carried on begins where the hips stand; the root stays where it stands',
    (edit) => {
      const elsewhere = figure({
        'root.tx': curve([0, 100]),
        'hips.tx': curve([0, 30]),
        'hips.tz': curve([0, -40]),
      });
      const { shot } = run(elsewhere, edit, {
        action,
        frame: 4,
        carryOn: true,
        ...(edit === 'actions.place' ? sharp : {}),
      });
      expect(place(shot, 'root', 9)).toEqual(place(elsewhere, 'root', 9));
      const [was, is] = [place(elsewhere, 'hips', 4), place(shot, 'hips', 4)];
      is.forEach((value, axis) => expect(value).toBeCloseTo(was[axis]!, 6));
      expect(place(shot, 'hips', 13.9)[2] - was[2]).toBeGreaterThan(55);
      expect(place(shot, 'eye', 4)[0]).toBeCloseTo(5, 6);
    },
  );
});
