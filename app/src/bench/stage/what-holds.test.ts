import { describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS, runEdit } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { choose } from '../../../../core/src/testing/shot-literals.ts';
import { whatHolds } from './what-holds.ts';

const demo = (id: string): Shot => DEMO_SHOTS.find((one) => one.id === id)!.make();
const words = (shot: Shot, nodes: string[], frame: number) =>
  whatHolds(shot, nodes, frame).map((hold) => hold.words);

describe('what else has a say in what is selected', () => {
  const oven = demo('oven-door');

  test('a relation that holds there, by its target; nothing of others', () => {
    expect(words(oven, ['tray'], 0)).toEqual([expect.stringMatching(/: hand_l$/)]);
    expect(words(oven, ['hips'], 0)).toEqual([]);
    expect(words(oven, [], 0)).toEqual([]);
  });

  test('another one after a switch', () => {
    const relation = oven.relations.find(({ node, switch: by }) => node === 'tray' && by)!.id;
    const after = runEdit('spaces.switch', oven, choose({ nodes: ['tray'] }), {
      ...{ relation, frame: 30, to: 1 },
    }).shot;
    expect(words(after, ['tray'], 29)[0]).toMatch(/hand_l$/);
    expect(words(after, ['tray'], 30)[0]).toMatch(/hand_r$/);
  });

  test('filters over it that sound, and locks by their number', () => {
    const filtered = runEdit('filters.add', oven, choose({ nodes: ['chest'] }), { kind: 'spring' }).shot;
    expect(words(filtered, ['chest'], 0)).toEqual([filtered.layers[0]!.name]);
    const muted = { ...filtered, layers: [{ ...filtered.layers[0]!, muted: true }] };
    expect(words(muted, ['chest'], 0)).toEqual([]);
    const locked = { ...oven, locked: ['chest.rx', 'chest.ry', 'hips.ty'] };
    expect(words(locked, ['chest'], 0)).toEqual([expect.stringMatching(/^2 of \d+ channels locked$/)]);
  });
});
