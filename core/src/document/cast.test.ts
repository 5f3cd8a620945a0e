import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InputError } from '../base/finding.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { runEdit } from '../edits/run-edit.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { readShotFile } from '../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../interchange/shot-file/write-shot.ts';
import { AT_REST } from '../rig/node.ts';
import { anyCrowd, crowdedShot } from '../testing/crowded-shot.ts';
import { openData } from '../testing/open-data.ts';
import { bareNode, choose, RATE } from '../testing/shot-literals.ts';
import { castShot } from './cast.ts';
import type { Cast } from './cast.ts';
import { constantCurve, curveOf, keyCount, newShot, rigOf, withCurves } from './shot.ts';
import type { Shot } from './shot.ts';

const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();
const everybody = (shot: Shot): Cast => ({ shot, characters: shot.characters.map(({ id }) => id) });
const reopened = (shot: Shot) => readShotFile(writeShotFile(shot));
const said = (cast: readonly Cast[]) => {
  try {
    castShot('None', cast, RATE, 24);
  } catch (error) {
    return error instanceof InputError ? error.finding.code : error;
  }
  return null;
};
/** Where every node of one lies in the other too, with nothing keyed, cm. */
function farthest(one: Shot, other: Shot): number {
  const bare = ({ nodes, relations }: Shot) => newShot('Bare', nodes, relations, RATE, { start: 0, end: 1 });
  const [a, b] = [bare(one), bare(other)];
  const [poseA, poseB] = [worldAt(a, 0), worldAt(b, 0)];
  return Math.max(
    ...a.nodes.map(({ id }, row) =>
      Math.hypot(...placeIn(poseA, row).map((cm, i) => cm - placeIn(poseB, rigOf(b).indexOf(id))[i]!)),
    ),
  );
}

describe('a shot of characters', () => {
  test('stands as they rest, reads back from its file, and has nothing of the shots that they come from', () => {
    const cast = [
      { shot: demo('night-round'), characters: ['bram'] },
      { shot: demo('oven-door'), characters: ['nib'] },
    ];
    const shot = castShot('Two', cast, RATE, 48);
    expect(reopened(shot).curves).toEqual(shot.curves);
    expect([shot.range, shot.characters.map(({ name }) => name), shot.layers]).toEqual([
      { start: 0, end: 47 },
      ['Bram', 'Nib'],
      [],
    ]);
    expect(shot.nodes.some(({ part, kind }) => part === 'prop' || kind === 'camera')).toBe(false);
    // What looked at the tray does so no more: the tray stayed behind.
    expect(shot.relations.map(({ kind }) => kind)).toEqual(Array(8).fill('reach'));
    expect(keyCount(shot)).toBe(4);
    const bare = { ...shot, curves: [] };
    const [now, rest] = [worldAt(shot, 20), worldAt(bare, 20)];
    for (const [row] of shot.nodes.entries())
      placeIn(now, row).forEach((cm, axis) => expect(cm).toBeCloseTo(placeIn(rest, row)[axis]!, 1));
  });

  test('feet stay where they stand when the hips are moved', () => {
    const shot = castShot('One', [{ shot: demo('night-round'), characters: ['bram'] }], RATE, 24);
    const down = withCurves(shot, null, new Map([['hips.ty', constantCurve(-12)]]));
    const row = rigOf(shot).indexOf('foot_l');
    const [before, after] = [shot, down].map((one) => placeIn(worldAt(one, 5), row));
    expect(Math.hypot(...before!.map((cm, i) => cm - after![i]!))).toBeLessThan(0.1);
    expect(curveOf(shot, null, 'hand_goal_l.ik').times).toHaveLength(0);
  });

  test('of captures that call everything alike each has its own character and its own goals', () => {
    const text = new TextDecoder().decode(openData('BVH/01_01.bvh')).split('\n');
    const at = text.findIndex((line) => line.startsWith('Frames:'));
    const take = (name: string) => {
      const short = [...text.slice(0, at), 'Frames: 2', ...text.slice(at + 1, at + 4)].join('\n');
      const own = short.replace(/(ROOT|JOINT) (\w+)/g, `$1 ${name}$2`);
      return runEdit('spaces.addGoals', readBvh(own, name).shot, choose({}), {}).shot;
    };
    const [one, other] = [take('one_'), take('two_')];
    const shot = castShot('Two takes', [everybody(one), everybody(other)], RATE, 24);
    expect(reopened(shot).nodes).toHaveLength(one.nodes.length + other.nodes.length);
    expect(new Set(shot.nodes.map(({ character }) => character)).size).toBe(2);
    expect(new Set(shot.characters.map(({ name }) => name)).size).toBe(2);
    expect(new Set(shot.relations.map(({ id }) => id)).size).toBe(8);
    expect(Math.max(farthest(one, shot), farthest(other, shot))).toBeLessThan(1e-9);
  });

  test('what a character hangs on comes along, mirrored and uneven, once for two; partners that stay behind are none', () => {
    const node = (id: string, parent: string | null, more: Parameters<typeof bareNode>[2]) =>
      bareNode(id, parent, more);
    const nodes = [
      node('cart', null, {
        ...{ part: 'prop', rest: { ...AT_REST, translation: [40, 3, 0], scale: [-2, 1, 0.5] } },
      }),
      node('a', 'cart', { character: 'a', pair: 'b', rest: { ...AT_REST, translation: [5, 9, 2] } }),
      node('b', 'cart', { character: 'b', pair: 'a', rest: { ...AT_REST, translation: [-5, 9, 2] } }),
      node('crate', null, { part: 'prop' }),
    ];
    const shot: Shot = {
      ...newShot('Cart', nodes, [], RATE, { start: 0, end: 9 }),
      characters: [
        { id: 'a', name: 'A' },
        { id: 'b', name: 'B' },
      ],
    };
    const both = castShot('Both', [everybody(shot)], RATE, 24);
    expect(both.nodes.map(({ id }) => id)).toEqual(['cart', 'a', 'b']);
    expect(farthest(both, shot)).toBe(0);
    const alone = castShot('Alone', [{ shot, characters: ['a'] }], RATE, 24);
    expect(alone.nodes.map(({ id, pair }) => [id, pair])).toEqual([
      ['cart', null],
      ['a', null],
    ]);
    expect(reopened(alone).nodes).toEqual(alone.nodes);
  });

  test('a figure of a shot without characters comes as it is; what is related in an unknown way stays behind with what it names', () => {
    const nodes = [bareNode('a', null), bareNode('b', 'a'), bareNode('box', null, { part: 'prop' })];
    const strange = {
      id: 'x',
      kind: 'magnet',
      node: 'b',
      targets: [{ node: 'box', offset: null, share: null }],
    };
    const shot = {
      ...newShot('Bare', nodes, [], RATE, { start: 0, end: 9 }),
      relations: [{ ...strange, weight: null, switch: null, settings: {} } as never],
    };
    const made = castShot('One', [{ shot, characters: [null] }], RATE, 24);
    expect([made.nodes.map(({ id }) => id), made.relations]).toEqual([['a', 'b'], []]);
  });

  test('out of the crowded shot each figure reads back from its file', () => {
    let made = 0;
    for (const shot of fc.sample(anyCrowd, { numRuns: 12, seed: 5 }).map(crowdedShot))
      for (const characters of [
        ...shot.characters.map(({ id }) => [id]),
        shot.characters.map(({ id }) => id),
      ]) {
        const cast = castShot('Some', [{ shot, characters }], RATE, 24);
        expect(reopened(cast)).toEqual({ ...cast, extras: reopened(cast).extras });
        made += 1;
      }
    expect(made).toBeGreaterThan(12);
  });

  test('nobody, or two with controls of one name, is said', () => {
    const bram = { shot: demo('night-round'), characters: ['bram'] };
    expect([said([]), said([{ ...bram, characters: [] }]), said([bram, bram])]).toEqual([
      'noCast',
      'noCast',
      'castTwice',
    ]);
  });
});
