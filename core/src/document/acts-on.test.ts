import { expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { choose, curve, pass, puppet } from '../testing/shot-literals.ts';
import { actsOn } from './acts-on.ts';

const shot = {
  ...puppet({
    'hips.ty': curve([0, 1, 6, 2, 12, 3]),
    'arm_l.rz': curve([0, 5, 9, 2]),
    'hand_l.rx': curve([4, 1]),
  }),
  layers: [pass('lift', { members: ['hips'], curves: [{ ty: curve([3, 4, 9, 1]) }] })],
};

test.each<[Parameters<typeof choose>[0], Partial<ReturnType<typeof actsOn>>]>([
  [{ nodes: ['hips'] }, { keys: 3, channels: 1, controls: 1, chosen: false, whose: 'hips', layer: 'base' }],
  [{ nodes: ['arm_l', 'hand_l'] }, { keys: 3, channels: 2, whose: 'the left arm' }],
  [{ nodes: ['arm_l', 'hips'] }, { keys: 5, whose: '2 controls' }],
  [{ keys: { 'hips.ty': [2], 'arm_l.rz': [] } }, { keys: 1, channels: 1, chosen: true, whose: 'hips' }],
  [
    { nodes: ['hips'], range: { start: 5, end: 20 } },
    { keys: 2, chosen: false },
  ],
  [
    { nodes: ['hips'], layer: 'lift' },
    { keys: 2, layer: 'lift' },
  ],
  [{ nodes: ['arm_r'] }, { keys: 0, channels: 6, controls: 1, whose: 'arm_r' }],
  [{}, { keys: 0, channels: 0, controls: 0 }],
])('%j', (selection, said) => {
  expect(actsOn(shot, choose(selection))).toMatchObject(said);
});

test('parts of a body by their names', () => {
  const walk = DEMO_SHOTS[1]!.make();
  const whose = (has: (node: (typeof walk.nodes)[number]) => boolean) =>
    actsOn(walk, choose({ nodes: walk.nodes.filter(has).map(({ id }) => id) })).whose;
  expect(whose(({ part, side }) => part === 'leg' && side === 'right')).toBe('the right leg');
  expect(whose(({ part }) => part === 'leg')).toBe('both legs');
  expect(whose(({ part }) => part === 'torso')).toBe('the torso');
});
