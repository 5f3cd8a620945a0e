/** Limbs under scaled parents, and with joints between their three: the goal is reached as exactly as by a plain one. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { shownValues } from '../evaluation/solve.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import { constantCurve, newShot, withCurves } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { writePose } from '../edits/poses/write-pose.ts';
import { AT_REST } from './node.ts';
import type { Node } from './node.ts';
import { reachOf } from './relations/reach.ts';

const CHANNELS = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sx', 'sy', 'sz'];

const node = (
  id: string,
  parent: string | null,
  translation: [number, number, number],
  more: Partial<Node> = {},
): Node => ({
  id,
  parent,
  kind: 'joint',
  rest: { ...AT_REST, translation },
  order: 'xyz',
  channels: CHANNELS,
  side: 'centre',
  pair: null,
  part: 'arm',
  character: null,
  solids: [],
  ...more,
});

/** body > shoulder > (twist >) elbow > (twist >) hand, and a goal and a pole in the world. */
function limb(values: Readonly<Record<string, number>>, twisted: boolean): Shot {
  const nodes = [
    node('body', null, [0, 100, 0]),
    node('shoulder', 'body', [15, 40, 0]),
    ...(twisted ? [node('twist_up', 'shoulder', [12, 1, 2]), node('twist_low', 'elbow', [10, 0, -3])] : []),
    node('elbow', twisted ? 'twist_up' : 'shoulder', twisted ? [18, 0, 1] : [30, 0, 0]),
    node('hand', twisted ? 'twist_low' : 'elbow', twisted ? [15, 1, 0] : [26, 0, 0]),
    node('goal', null, [60, 120, 10], { kind: 'goal', channels: [...CHANNELS, 'ik'] }),
    node('pole', null, [30, 110, -60], { kind: 'control' }),
  ];
  const chain = {
    id: 'arm',
    root: 'shoulder',
    middle: 'elbow',
    end: 'hand',
    target: 'goal',
    pole: 'pole',
    blend: 'goal.ik',
    tip: null,
  };
  const shot = newShot(
    'Limb',
    nodes,
    [reachOf(chain)],
    { numerator: 24, denominator: 1 },
    { start: 0, end: 1 },
  );
  const keyed = Object.entries({ ...values, 'goal.ik': 1 }).filter(([id]) =>
    nodes.some(({ id: known }) => id.startsWith(`${known}.`)),
  );
  return withCurves(shot, null, new Map(keyed.map(([id, value]) => [id, constantCurve(value)])));
}

const turn = fc.double({ min: -70, max: 70, noNaN: true });
const scale = fc.double({ min: 0.6, max: 1.6, noNaN: true });
const distance = (shot: Shot, a: string, b: string) => {
  const pose = worldAt(shot, 0);
  const at = (id: string) =>
    placeIn(
      pose,
      shot.nodes.findIndex((one) => one.id === id),
    );
  return Math.hypot(...at(a).map((value, axis) => value - at(b)[axis]!));
};

describe.each([false, true])('with joints between: %s', (twisted) => {
  test('under any turn and scale of its parent the hand is on the goal, if that is near enough', () => {
    fc.assert(
      fc.property(turn, turn, scale, scale, scale, turn, turn, (rx, rz, sx, sy, sz, twist, bend) => {
        const shot = limb(
          {
            'body.rx': rx / 3,
            'body.rz': rz / 3,
            'body.sx': sx,
            'body.sy': sy,
            'body.sz': sz,
            'goal.tx': (-rx - 30) / 4,
            'goal.ty': rz / 5,
            'twist_up.rx': twist,
            'twist_low.rx': -twist,
            'twist_low.ry': bend / 10,
            'shoulder.ry': bend,
          },
          twisted,
        );
        const stretched = distance(
          limb({ 'body.sx': sx, 'body.sy': sy, 'body.sz': sz }, twisted),
          'shoulder',
          'goal',
        );
        if (distance(shot, 'shoulder', 'goal') > 0.6 * 40 * Math.min(sx, sy, sz) + 0.01 * stretched) return;
        expect(distance(shot, 'hand', 'goal')).toBeLessThan(1e-6);
      }),
      { numRuns: 300 },
    );
  });

  test('scaled by its own joints it gets there too', () => {
    for (const s of [0.7, 1, 1.4]) {
      const shot = limb(
        { 'shoulder.sx': s, 'shoulder.sy': 1.1, 'elbow.sx': 1 / s, 'goal.tx': -24, 'goal.ty': 12 },
        twisted,
      );
      expect(distance(shot, 'hand', 'goal')).toBeLessThan(1e-6);
    }
  });

  test('pulled to a place under a scaled body, the goal is moved so that it lies there', () => {
    const shot = limb({ 'body.sx': 1.3, 'body.sy': 0.8, 'body.rz': 20 }, twisted);
    const after = writePose(
      shot,
      null,
      new Map(Object.entries(shownValues(shot, 0, { kind: 'place', node: 'hand', place: [38, 128, 12] }))),
      0,
    ).shot;
    const pose = worldAt(after, 0);
    placeIn(
      pose,
      after.nodes.findIndex(({ id }) => id === 'hand'),
    ).forEach((value, axis) => expect(value).toBeCloseTo([38, 128, 12][axis]!, 6));
  });
});

test('turned toward a place under uneven scale a joint points there', () => {
  const plain = limb({ 'body.sx': 1.5, 'body.sy': 0.7, 'body.rx': 25 }, false);
  const shot = { ...plain, relations: [] };
  const after = writePose(
    shot,
    null,
    new Map(Object.entries(shownValues(shot, 0, { kind: 'place', node: 'elbow', place: [70, 150, 40] }))),
    0,
  ).shot;
  const pose = worldAt(after, 0);
  const at = (id: string) =>
    placeIn(
      pose,
      after.nodes.findIndex((one) => one.id === id),
    );
  const [from, elbow] = [at('shoulder'), at('elbow')];
  const [a, b] = [elbow.map((v, k) => v - from[k]!), [70, 150, 40].map((v, k) => v - from[k]!)];
  const cosine = a.reduce((sum, v, k) => sum + v * b[k]!, 0) / (Math.hypot(...a) * Math.hypot(...b));
  expect(cosine).toBeCloseTo(1, 9);
});
