/** Drift in space, held against comparing joints one by one. */
import { describe, expect, test } from '@jest/globals';
import { nightRound } from '../demo/night-round.ts';
import { runEdit } from '../edits/run-edit.ts';
import { choose } from '../testing/shot-literals.ts';
import { driftBetween } from './drift.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import { matchesWords, wordsOf } from '../document/find-channels.ts';

describe('drift', () => {
  const before = nightRound();
  const after = runEdit('keys.setValue', before, choose({ channels: ['chest.ry', 'spine_low.rx'] }), {
    value: 4,
    relative: true,
  }).shot;

  test('the greatest is the one that joints show, on its frame', () => {
    const drift = driftBetween(before, after, before.range, { perFrame: 2 });
    let greatest = 0;
    for (let frame = 0; frame <= 16; frame += 0.5) {
      const [a, b] = [worldAt(before, frame), worldAt(after, frame)];
      before.nodes.forEach((_, i) => {
        const [p, q] = [placeIn(a, i), placeIn(b, i)];
        greatest = Math.max(greatest, Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]));
      });
    }
    expect(drift.greatest).toBeCloseTo(greatest, 9);
    const row = before.nodes.findIndex(({ id }) => id === drift.node);
    const [p, q] = [placeIn(worldAt(before, drift.frame), row), placeIn(worldAt(after, drift.frame), row)];
    expect(Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])).toBeCloseTo(greatest, 9);
    expect(drift.rms).toBeLessThan(drift.greatest);
    // Far ends hang on longer levers.
  });

  test('nothing watched, or nothing changed: no drift', () => {
    const none = new Uint8Array(before.nodes.length);
    expect(driftBetween(before, after, before.range, { watched: none })).toMatchObject({
      greatest: 0,
      rms: 0,
    });
    expect(driftBetween(before, before, before.range).greatest).toBe(0);
  });
});

describe('finding channels by words', () => {
  const { nodes } = nightRound();
  const node = (name: string) => nodes.find(({ id }) => id === name)!;

  test.each([
    ['ry', 'hips', 'ry', true],
    ['ry', 'hips', 'rx', false],
    ['hand', 'hand_goal_l', 'tx', true],
    ['left rot', 'hand_goal_l', 'rx', true],
    ['left rot', 'hand_goal_r', 'rx', false],
    ['LEFT pos', 'foot_goal_l', 'ty', true],
    ['leg', 'thigh_r', 'rz', true],
    ['', 'jaw', 'rx', true],
    ['  ', 'jaw', 'rx', true],
    ['nobody', 'jaw', 'rx', false],
  ] as const)('“%s” and %s %s: %s', (sought, name, channel, found) => {
    expect(matchesWords(node(name), channel, wordsOf(sought))).toBe(found);
  });
});
