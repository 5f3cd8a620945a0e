import { describe, expect, test } from '@jest/globals';
import { puppet, puppetNodes } from '../testing/shot-literals.ts';
import { FLIP_LIMIT, flipTest, oddOnes } from './flip-test.ts';
import type { Shot } from '../document/shot.ts';

const withNodes = (change: (node: Shot['nodes'][number]) => Partial<Shot['nodes'][number]>): Shot => ({
  ...puppet(),
  nodes: puppetNodes().map((node) => ({ ...node, ...change(node) })),
});
const resultOf = (shot: Shot, node: string) => flipTest(shot).find((one) => one.node === node)!;
const ARMS = new Set(['arm_l', 'arm_r']);

describe('the flip test', () => {
  test('of an even rig every control is the mirror image of its partner', () => {
    const results = flipTest(puppet());
    expect(results.map(({ node, state }) => `${node} ${state}`)).toEqual(
      ['hips', 'arm_l', 'hand_l', 'arm_r', 'hand_r'].map((node) => `${node} mirror`),
    );
    for (const { distanceMm, angle, twice } of results) {
      expect(distanceMm).toBeLessThan(1e-9);
      expect(angle).toBeLessThan(1e-9);
      expect(twice).toBeLessThan(1e-9);
    }
    expect(oddOnes(puppet(), ARMS)).toEqual([]);
  });

  test('a partner that stands elsewhere is uneven, by how much in mm; it can be flipped', () => {
    const shot = withNodes((node) =>
      node.id === 'arm_r' ? { rest: { ...node.rest, translation: [-20, 50, 3] } } : {},
    );
    expect(resultOf(shot, 'arm_l')).toMatchObject({ state: 'uneven', pair: 'arm_r' });
    expect(resultOf(shot, 'arm_l').distanceMm).toBeCloseTo(30, 6);
    expect(oddOnes(shot, ARMS)).toEqual([]);
  });

  test('just within a millimetre it is a mirror image', () => {
    const off = (cm: number) =>
      withNodes((node) =>
        node.id === 'arm_r' ? { rest: { ...node.rest, translation: [-20, 50, cm] } } : {},
      );
    expect(FLIP_LIMIT.mm).toBe(1);
    expect(resultOf(off(0.099), 'arm_l').state).toBe('mirror');
    expect(resultOf(off(0.101), 'arm_l').state).toBe('uneven');
  });

  test('a wrong sign by hand is off, and is among the odd ones that are asked for', () => {
    const shot = withNodes((node) =>
      node.id === 'arm_l' ? { flipSigns: { rx: -1, ry: 1, rz: 1, tx: 1, ty: 1, tz: 1 } } : {},
    );
    expect(resultOf(shot, 'arm_l').state).toBe('off');
    expect(resultOf(shot, 'arm_l').angle).toBeGreaterThan(FLIP_LIMIT.degrees);
    expect(oddOnes(shot, new Set(['arm_l']))).toEqual(['arm_l']);
    expect(oddOnes(shot, new Set(['hips', 'hand_r']))).toEqual([]);
  });

  test('a partner that names another is not mutual, one that there is not is none', () => {
    const shot = withNodes((node) => (node.id === 'arm_r' ? { pair: 'hand_l' } : {}));
    expect(resultOf(shot, 'arm_l').state).toBe('not mutual');
    expect(oddOnes(shot, ARMS)).toEqual(['arm_l', 'arm_r']);
    const alone = withNodes((node) => (node.id === 'hips' ? { pair: null } : {}));
    expect(resultOf(alone, 'hips')).toMatchObject({ state: 'no partner', pair: null });
  });

  test('controls without channels are left out; a result is kept while nodes and characters are the same', () => {
    const shot = withNodes((node) => (node.id === 'hand_l' ? { channels: [] } : {}));
    expect(flipTest(shot).map(({ node }) => node)).not.toContain('hand_l');
    expect(flipTest({ ...shot, name: 'other' })).toBe(flipTest(shot));
    const turned = { ...shot, characters: [{ id: 'puppet', name: 'Puppet', facing: 90 }] };
    expect(flipTest(turned)).not.toBe(flipTest(shot));
  });
});
