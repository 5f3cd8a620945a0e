/** Feet of captured motion on a figure of another build: what stood there stands here, and how far it slid is said. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import type { Finding } from '../../base/finding.ts';
import { nightRound } from '../../demo/night-round.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { standsOf, slideOf } from '../../motion/contacts.ts';
import type { Stand } from '../../motion/contacts.ts';
import type { Triple } from '../../math/euler.ts';
import { choose } from '../../testing/shot-literals.ts';
import { withZUp } from '../../testing/z-up-bvh.ts';
import type { Outcome } from '../edit.ts';
import { runEdit } from '../run-edit.ts';

const LAST = 320;
const captureOf = (name: string) =>
  readBvh(readFileSync(`/usr/share/assimp/models/BVH/${name}.bvh`, 'utf8'), name).shot;
const actionOf = (shot: Shot) => {
  const all = choose({ range: { start: 1, end: LAST }, nodes: shot.nodes.map(({ id }) => id) });
  return runEdit('actions.save', shot, all, { name: 'Walk' }).made;
};
const captured = captureOf('01_01');
const action = actionOf(captured);
const bram = (ik: number): Shot => {
  const { nodes, relations, characters } = nightRound();
  const bare = { ...newShot('Empty', nodes, relations, captured.rate, { start: 0, end: LAST }), characters };
  const weights = relations.flatMap(({ kind, weight }) =>
    kind === 'reach' && weight !== null ? [weight] : [],
  );
  return withCurves(bare, null, new Map(weights.map((id) => [id, constantCurve(ik)])));
};
const track = (shot: Shot, id: string, from = 0) =>
  Array.from(
    { length: LAST },
    (_, k) => [...placeIn(worldAt(shot, from + k), rigOf(shot).indexOf(id))] as Triple,
  );
const known = new Map<string, Outcome>();
/** Laid once for all that look at it. */
function laid(ik: number, feet: boolean): Outcome {
  const name = `${ik} ${feet}`;
  const made =
    known.get(name) ??
    runEdit('actions.apply', bram(ik), choose({}), { action, match: 'both', frame: 0, feet });
  known.set(name, made);
  return made;
}

const source = track(captured, 'LeftFoot', 1);
const stands = standsOf(source, 16, 120);
const others = standsOf(track(captured, 'RightFoot', 1), 16, 120);

test('the stands that are found are stands: low and slow, and most of a slow walk', () => {
  const frames = stands.reduce((sum, { first, last }) => sum + last - first, 0);
  expect(frames / LAST).toBeGreaterThan(0.5);
  const { speed } = slideOf(source, stands, 120);
  // Units of 5.6 cm: a foot that stands moves by some cm a second, one that swings by a metre and more.
  expect(speed).toBeLessThan(2);
  expect(stands.every(({ first, last }, k) => last > first && (k === 0 || first > stands[k - 1]!.last))).toBe(
    true,
  );
});

const slid = (shot: Shot, id = 'foot_l', when = stands) => slideOf(track(shot, id), when, 120).greatest;

test.each([
  ['goals', 1, 0.001],
  ['the joints of their legs', 0, 0.001],
])('held by %s they stand within 2 mm; without it they slide', (_, ik, most) => {
  const [held, free] = [laid(ik, true), laid(ik, false)];
  expect(slid(free.shot)).toBeGreaterThan(3);
  expect(slid(held.shot)).toBeLessThan(most);
  const said = held.report.findings.find(({ code }) => code === 'feetHeld');
  const [, before, after] = /by up to ([\d.]+) mm; held, by ([\d.]+) mm: .*foot_l/.exec(said!.sentence)!;
  const worst = (shot: Shot) => Math.max(slid(shot), slid(shot, 'foot_r', others)) * 10;
  expect(Number(before)).toBeCloseTo(worst(free.shot), 1);
  expect(Number(after)).toBeCloseTo(worst(held.shot), 1);
  expect(free.report.findings.some(({ code }) => code.startsWith('feet'))).toBe(false);
  // Between stands a foot goes where it went, as high over the floor on which it stands now.
  const swing = Math.round((stands[0]!.last + stands[1]!.first) / 2);
  const [a, b] = [held, free].map(({ shot }) => track(shot, 'foot_l')[swing]!);
  expect(b![1] - a![1]).toBeCloseTo(solesSaid(held.report.findings)!, 2);
});

/** cm over the floor, as it is said. */
function solesSaid(findings: readonly Finding[]): number | undefined {
  const said = findings.find(({ code }) => code === 'solesSet' || code === 'solesOff')?.sentence;
  const found = said && /stand ([\d.]+) mm (over|under) the floor/.exec(said);
  return found ? (Number(found[1]) / 10) * (found[2] === 'over' ? 1 : -1) : undefined;
}

describe('soles stand on the floor', () => {
  /** How far the lowest joint of a foot lies over where it lies at rest, over frames of a stand. */
  const soles = (shot: Shot, side: 'l' | 'r', { first, last }: Stand) => {
    const { nodes } = nightRound();
    const rest = newShot('', nodes, [], captured.rate, { start: 0, end: 1 });
    const heights = ['foot', 'toe'].map((joint) => {
      const flat = placeIn(worldAt(rest, 0), rigOf(rest).indexOf(`${joint}_${side}`))[1];
      return track(shot, `${joint}_${side}`).map((at) => at[1] - flat);
    });
    return heights[0]!.map((height, k) => Math.min(height, heights[1]![k]!)).slice(first, last + 1);
  };
  const lowest = (shot: Shot) =>
    Math.min(
      ...stands.map((stand) => middleOf(soles(shot, 'l', stand))),
      ...others.map((stand) => middleOf(soles(shot, 'r', stand))),
    );
  const middleOf = (values: readonly number[]) => {
    const [a, b] = [(values.length - 1) >> 1, values.length >> 1];
    const sorted = [...values].sort((p, q) => p - q);
    return (sorted[a]! + sorted[b]!) / 2;
  };

  test.each([1, 0])('led by goals or by joints (%s), whose build would leave them in the air', (ik) => {
    const [held, free] = [laid(ik, true), laid(ik, false)];
    expect(lowest(free.shot)).toBeGreaterThan(3);
    expect(lowest(free.shot)).toBeCloseTo(solesSaid(held.report.findings)!, 2);
    expect(lowest(held.shot)).toBeCloseTo(0, 2);
    // No stand is farther from the floor than stands are from each other.
    const all = (shot: Shot) => stands.map((stand) => middleOf(soles(shot, 'l', stand)));
    const spread = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
    expect(spread(all(held.shot))).toBeCloseTo(spread(all(free.shot)), 2);
  });

  /** The capture on a floor that lies so much higher, in its own units. */
  const onFloor = (height: number) =>
    actionOf({
      ...captured,
      nodes: captured.nodes.map((node) =>
        node.parent === null
          ? { ...node, rest: { ...node.rest, translation: [0, height, 0] as Triple } }
          : node,
      ),
    });

  test.each([0.6, -0.3, -1.7])(
    'a floor that lies %s units higher in the capture makes no difference',
    (height) => {
      const [moved, plain] = [onFloor(height), action].map(
        (one) => runEdit('actions.apply', bram(0), choose({}), { action: one, match: 'both', frame: 0 }).shot,
      ) as [Shot, Shot];
      expect(lowest(moved)).toBeCloseTo(0, 2);
      expect(Math.abs(lowest(moved) - lowest(plain))).toBeLessThan(0.01);
    },
  );

  test.each([4, -4])(
    'who stands %s units from the floor stands on something: it is said, and left',
    (height) => {
      const high = onFloor(height);
      const apply = (feet: boolean) =>
        runEdit('actions.apply', bram(0), choose({}), { action: high, match: 'both', frame: 0, feet });
      const [held, free] = [apply(true), apply(false)];
      expect(held.report.findings.some(({ code }) => code === 'solesOff')).toBe(true);
      expect(lowest(held.shot)).toBeCloseTo(solesSaid(held.report.findings)!, 1);
      expect(Math.abs(lowest(held.shot) - lowest(free.shot))).toBeLessThan(0.5);
    },
  );

  test('of a figure whose rest is on no floor nothing is known, and nothing is moved', () => {
    const walking = laid(0, true).shot;
    const all = choose({ range: walking.range, nodes: walking.nodes.map(({ id }) => id) });
    const { made } = runEdit('actions.save', walking, all, { name: 'Back' });
    const { report } = runEdit('actions.apply', captured, choose({}), {
      action: made,
      match: 'both',
      frame: 0,
    });
    expect(report.status).toBe('changed');
    expect(report.findings.filter(({ code }) => code.startsWith('soles'))).toEqual([]);
  });
});

test('flipped, the other foot stands when this one did', () => {
  const { shot } = runEdit('actions.apply', bram(0), choose({}), {
    ...{ action, match: 'both', frame: 0, flipped: true },
  });
  expect(slid(shot, 'foot_r')).toBeLessThan(0.001);
  expect(slid(shot, 'foot_l', others)).toBeLessThan(0.001);
});

test('a block and an action of the figure’s own stand too', () => {
  const block = runEdit('actions.place', bram(0), choose({}), {
    ...{ action, match: 'both', frame: 0, rampIn: 0, rampOut: 0 },
  });
  expect(slid(block.shot)).toBeLessThan(0.001);
  const { made } = runEdit('actions.map', bram(0), choose({}), { action, match: 'both' });
  expect(slid(runEdit('actions.apply', bram(0), choose({}), { action: made, frame: 0 }).shot)).toBeLessThan(
    0.001,
  );
});

test('a locked leg is left, and the slide is said', () => {
  const shot = { ...bram(0), locked: ['thigh_l.rx', 'thigh_r.rx'] };
  const { report } = runEdit('actions.apply', shot, choose({}), { action, match: 'both', frame: 0 });
  expect(report.findings.find(({ code }) => code === 'feetSlide')?.sentence).toMatch(/foot_l/);
  expect(report.findings.find(({ code }) => code === 'solesOff')?.sentence).toMatch(/over the floor: foot_l/);
});

test('where a leg does not reach the hips give way, smoothly, and it is said by how much', () => {
  const strides = actionOf(captureOf('01_03'));
  const apply = (feet: boolean) =>
    runEdit('actions.apply', bram(0), choose({}), { action: strides, match: 'both', frame: 0, feet });
  const [held, free] = [apply(true), apply(false)];
  expect(held.report.findings.find(({ code }) => code === 'feetHeld')?.sentence).toMatch(/held, by 0 mm/);
  const given = track(held.shot, 'hips').map((p, k) => {
    const q = track(free.shot, 'hips')[k]!;
    return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
  });
  const said = held.report.findings.find(({ code }) => code === 'hipsGive')!;
  expect(Number(/by up to ([\d.]+) mm/.exec(said.sentence)![1])).toBeCloseTo(Math.max(...given) * 10, 0);
  const step = given.slice(1).map((value, k) => Math.abs(value - given[k]!));
  expect(Math.max(...step)).toBeLessThan(Math.max(...given) / 6);
});

test('onto the same figure nothing is held', () => {
  const again = runEdit('actions.apply', captured, choose({}), { action, frame: 1 });
  expect(again.report.findings.some(({ code }) => code.startsWith('feet'))).toBe(false);
});

test('a capture with z up, stood upright, comes onto him as the one with y up does', () => {
  const text = withZUp(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'));
  const upright = runEdit('clean.standUp', readBvh(text, 'lying').shot, choose({}), {}).shot;
  const options = { match: 'both', frame: 0, feet: false };
  const [mine, plain] = [actionOf(upright), action].map(
    (one) => runEdit('actions.apply', bram(0), choose({}), { ...options, action: one }).shot,
  ) as [Shot, Shot];
  for (const id of ['hips', 'foot_l', 'hand_r', 'head']) {
    const [a, b] = [track(mine, id), track(plain, id)];
    const off = a.map((at, k) => Math.hypot(...at.map((value, axis) => value - b[k]![axis]!)));
    expect([id, Math.max(...off) < 1e-6]).toEqual([id, true]);
  }
});
