/** Actions held against each other, and drawn by themselves. */
import { expect, test } from '@jest/globals';
import { shelf } from '../demo/shelf.ts';
import { rebuild } from '../curve/rebuild.ts';
import { curve } from '../testing/shot-literals.ts';
import { curvesToJson, readAction } from '../document/action.ts';
import type { ActionJson } from '../document/action.ts';
import { shotOfAction } from '../interchange/action-shot.ts';
import { compareActions, contentOf } from './compare-actions.ts';
import { valuesAt } from '../evaluation/evaluation.ts';
import { rigOf } from '../document/shot.ts';

const [blink, nod] = shelf().map(({ action }) => action) as [ActionJson, ActionJson];
const changed = (json: ActionJson, id: string, by: ReturnType<typeof curve>): ActionJson => ({
  ...json,
  curves: { ...json.curves, ...curvesToJson(new Map([[id, by]])) },
});

test('the same motion under another name, in another order, with other ids is the same; another key is not', () => {
  const other: ActionJson = {
    ...structuredClone(nod),
    name: 'Yes',
    tags: ['else'],
    source: 'elsewhere',
    curves: Object.fromEntries(Object.entries(structuredClone(nod.curves)).reverse()),
  };
  const first = Object.keys(other.curves)[0]!;
  other.curves[first] = { ...other.curves[first]!, ids: other.curves[first]!.times.map((_, i) => i + 40) };
  expect(contentOf(readAction(other))).toBe(contentOf(readAction(nod)));
  const off = structuredClone(nod);
  off.curves['head.rx']!.values[2]! += 1e-9;
  expect(contentOf(readAction(off))).not.toBe(contentOf(readAction(nod)));
  expect(contentOf(readAction({ ...nod, length: 21 }))).not.toBe(contentOf(readAction(nod)));
});

test('differences are found where they are, in the frames of the first, whatever the rates are', () => {
  expect(compareActions(readAction(nod), readAction(nod))).toEqual({
    longer: 0,
    channels: [],
    same: Object.keys(nod.curves).length,
  });
  const apart = compareActions(readAction(blink), readAction(nod));
  expect(apart.longer).toBe(12);
  expect(apart.channels.find(({ channel }) => channel === 'head.rx')!.only).toBe('second');
  const flat = compareActions(readAction(nod), readAction(changed(nod, 'head.rx', curve([0, 0, 20, 0]))));
  expect(flat.channels).toEqual([
    { channel: 'head.rx', only: null, greatest: expect.closeTo(14, 6), frame: 7 },
  ]);
  const twice = {
    ...nod,
    rate: { numerator: 48, denominator: 1 },
    length: nod.length * 2,
    curves: curvesToJson(
      new Map(
        [...readAction(nod).curves].map(([id, one]) => [
          id,
          rebuild(one, null, ({ times }) => times.forEach((time, i) => (times[i] = time * 2))),
        ]),
      ),
    ),
  };
  expect(compareActions(readAction(nod), readAction(twice)).longer).toBe(0);
  expect(compareActions(readAction(nod), readAction(twice)).channels).toEqual([]);
});

test('drawn by itself it stands on its own skeleton, bones and all; without one there is nothing to draw', () => {
  const shot = shotOfAction(readAction(nod))!;
  expect(shot.nodes.filter(({ solids }) => solids.length > 0).length).toBeGreaterThan(20);
  expect(valuesAt(shot, 7)[rigOf(shot).channelIndex('head.rx')]).toBeCloseTo(14, 9);
  const { skeleton: _, ...older } = nod;
  expect(shotOfAction(readAction(older))).toBeNull();
});
