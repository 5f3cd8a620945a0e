/** Edits of other kinds on a shot with relations: what they promise still holds for whatever is led. */
import { describe, expect, test } from '@jest/globals';
import { ovenDoor } from '../../demo/oven-door.ts';
import { angleBetween, mirrorX } from '../../math/quaternion.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose } from '../../testing/shot-literals.ts';
import { targetAt } from './switch-curve.ts';
import { runEdit } from '../run-edit.ts';
import { done } from '../../testing/spaces.ts';

const carried = done(
  done(ovenDoor(), 'spaces.switch', { relation: 'relation-1', frame: 34, to: 1 }),
  'spaces.switch',
  { relation: 'relation-1', frame: 71, to: 2 },
);

/** The farthest that a node lies from where it lay, cm, frame by frame. */
function farthest(
  before: Shot,
  after: Shot,
  pairs: readonly (readonly [number, number])[],
): [number, string] {
  let [far, where] = [0, ''];
  for (const [was, is] of pairs) {
    const [a, b] = [worldAt(before, was), worldAt(after, is)];
    before.nodes.forEach(({ id }, row) => {
      const now = placeIn(b, rigOf(after).indexOf(id));
      const away = Math.hypot(...placeIn(a, row).map((value, axis) => value - now[axis]!));
      if (away > far) [far, where] = [away, `${id} at ${is}`];
    });
  }
  return [far, where];
}
const frames = Array.from({ length: 97 }, (_, i) => i);

describe('time', () => {
  test('stretched, all of it is where it was at its time', () => {
    const long = done(carried, 'timing.stretch', { factor: 2 });
    const [far, where] = farthest(
      carried,
      long,
      frames.map((frame) => [frame, 2 * frame]),
    );
    expect([far < 1e-6, where]).toEqual([true, expect.anything()]);
  });
  test('with time put in, what comes later comes later', () => {
    const held = done(carried, 'timing.addHold', { frame: 50, frames: 7 });
    expect(
      farthest(
        carried,
        held,
        frames.map((frame) => [frame, frame > 50 ? frame + 7 : frame]),
      )[0],
    ).toBeLessThan(1e-6);
  });
  test('turned round it runs backward', () => {
    const back = done(carried, 'timing.reverse', {});
    const [far, where] = farthest(
      carried,
      back,
      frames.map((frame) => [frame, 96 - frame]),
    );
    expect([far < 1e-6, where]).toEqual([true, expect.anything()]);
  });
  test('the steps that are held in the camera move with the keys', () => {
    const steady = done(
      carried,
      'spaces.steady',
      { from: 'pattern', pattern: [4], first: 20 },
      choose({ nodes: ['tray'], range: { start: 20, end: 60 } }),
    );
    const held = done(steady, 'timing.addHold', { frame: 5, frames: 7 });
    const pairs = frames.filter((frame) => frame > 5).map((frame) => [frame, frame + 7] as const);
    expect(farthest(steady, held, pairs)[0]).toBeLessThan(1e-6);
  });
});

test('thinned in space, nothing that is led strays by more than was asked', () => {
  const dense = done(
    carried,
    'clean.resample',
    {},
    choose({ nodes: ['hand_goal_l', 'hand_goal_r', 'hips'] }),
  );
  const thin = done(
    dense,
    'clean.thin',
    { measure: 'space', space: 3 },
    choose({ nodes: ['hand_goal_l', 'hand_goal_r', 'hips'] }),
  );
  expect(
    farthest(
      dense,
      thin,
      frames.map((frame) => [frame, frame]),
    )[0],
  ).toBeLessThanOrEqual(0.3);
});

test('a character that is scaled keeps its shape about the world’s origin, and what it carries goes along', () => {
  const half = done(carried, 'clean.rescale', { factor: 0.5, character: 'bram' });
  const row = (id: string) => rigOf(carried).indexOf(id);
  for (const frame of [0, 30, 33]) {
    const [was, is] = [worldAt(carried, frame), worldAt(half, frame)];
    for (const id of ['hand_l', 'head', 'foot_r'])
      placeIn(is, row(id)).forEach((value, axis) =>
        expect(value).toBeCloseTo(placeIn(was, row(id))[axis]! / 2, 6),
      );
  }
});

test('saved as an action and laid on a bare copy, all of it shows as it did', () => {
  const everything = choose({ nodes: carried.nodes.map(({ id }) => id) });
  const { made } = runEdit('actions.save', carried, everything, { name: 'All' });
  const bare = { ...carried, curves: carried.curves.map(() => undefined) };
  const laid = done(bare, 'actions.apply', { action: made, frame: 0 });
  expect(
    farthest(
      carried,
      laid,
      frames.map((frame) => [frame, frame]),
    )[0],
  ).toBeLessThan(1e-6);
});

test('flipped, what is carried goes over to the partners of what carries it, and lies where its mirror image lay', () => {
  const range = { start: 20, end: 60 };
  const nodes = carried.nodes.filter(({ character }) => character === 'bram').map(({ id }) => id);
  const chosen = choose({ nodes: [...nodes, 'tray'], range });
  const flipped = done(carried, 'poses.flipRange', { plane: 'world' }, chosen);
  const { switch: by } = carried.relations.find(({ id }) => id === 'relation-1')!;
  const [was, is] = [carried, flipped].map((shot) => curveOf(shot, null, by!));
  // It lay in the left hand up to 34: it lies in the right one up to there, and outside the range where it lay.
  expect([19, 20, 33, 34, 60].map((frame) => targetAt(was!, frame))).toEqual([0, 0, 0, 1, 1]);
  expect([19, 20, 33, 34, 60, 61].map((frame) => targetAt(is!, frame))).toEqual([0, 1, 1, 0, 0, 1]);
  const row = (id: string) => rigOf(carried).indexOf(id);
  for (let frame = 20; frame <= 60; frame += 1) {
    const [a, b] = [worldAt(carried, frame), worldAt(flipped, frame)];
    for (const [id, pair] of [
      ['tray', 'tray'],
      ['hand_l', 'hand_r'],
    ] as const) {
      const [x, y, z] = placeIn(a, row(id));
      const [u, v, w] = placeIn(b, row(pair));
      expect(Math.hypot(u + x, v - y, w - z)).toBeLessThan(1e-6);
    }
    const [turned, image] = [a, b].map(({ turns }) => turns.slice(row('tray') * 4, row('tray') * 4 + 4));
    expect(angleBetween(image!, mirrorX(turned!))).toBeLessThan(1e-4);
  }
  for (const frame of [10, 15, 19, 61, 62, 66, 80, 90])
    expect(farthest(carried, flipped, [[frame, frame]])[0]).toBeLessThan(1e-6);
});

test('flipped and placed after, what was there stays, and what is carried lies in its hand as its mirror image does', () => {
  const range = { start: 0, end: 48 };
  const nodes = [
    ...carried.nodes.filter(({ character }) => character === 'bram').map(({ id }) => id),
    'tray',
  ];
  const options = { append: true, plane: 'world', carry: false };
  const after = done(carried, 'poses.flipRange', options, choose({ nodes, range }));
  const row = (id: string) => rigOf(carried).indexOf(id);
  const far = (a: readonly number[], b: readonly number[]) =>
    Math.hypot(...a.map((value, axis) => value - b[axis]!));
  for (const frame of [0, 20, 34, 47, 48])
    expect(
      far(placeIn(worldAt(carried, frame), row('tray')), placeIn(worldAt(after, frame), row('tray'))),
    ).toBeLessThan(1e-6);
  for (const frame of [3, 12, 33, 34, 47]) {
    const [was, is] = [worldAt(carried, frame), worldAt(after, frame + 48)];
    const [from, to] = frame < 34 ? ['hand_l', 'hand_r'] : ['hand_r', 'hand_l'];
    expect(far(placeIn(was, row(from)), placeIn(was, row('tray')))).toBeCloseTo(
      far(placeIn(is, row(to)), placeIn(is, row('tray'))),
      5,
    );
  }
});

test('flipped with the tray locked, the tray’s switch stays, and that is said', () => {
  const by = carried.relations.find(({ id }) => id === 'relation-1')!.switch!;
  const held = { ...carried, locked: [by] };
  const { shot: after, report } = runEdit(
    'poses.flipRange',
    held,
    choose({ range: { start: 20, end: 60 } }),
    {},
  );
  expect(report.status).toBe('changed');
  expect(curveOf(after, null, by)).toBe(curveOf(held, null, by));
  expect(report.findings.map(({ code }) => code)).toContain('lockedChannels');
});
