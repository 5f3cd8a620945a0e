import { describe, expect, test } from '@jest/globals';
import { curve, puppet } from '../testing/shot-literals.ts';
import { columnsOfNode, poseColumns } from './pose-columns.ts';
import type { Shot } from './shot.ts';

const dense = (step: number, count: number) =>
  curve(Array.from({ length: count }, (_, i) => [i * step, i % 3]).flat());

describe('the rule', () => {
  const shot = puppet({ 'hips.ty': curve([0, 1, 6.4, 2, 12, 3]), 'arm_l.rz': curve([0, 1, 12, 5, 18, 2]) });

  test('a frame counts where enough of the keyed controls have a key; keys between frames count for the nearest', () => {
    const at = (share: number) =>
      poseColumns({ ...shot, poseColumns: { share, added: [], removed: [] } }).frames;
    expect(at(0.5)).toEqual([0, 6, 12, 18]);
    expect(at(0.51)).toEqual([0, 12]);
    expect(at(0)).toEqual([0, 6, 12, 18]);
  });

  test('a curve of one key says nothing of when', () => {
    expect(poseColumns(puppet({ 'hips.ty': curve([0, 1, 12, 3]), 'hips.tx': curve([7, 1]) })).frames).toEqual(
      [0, 12],
    );
  });

  test('frames set by hand stand in order with the others, those taken out are gone', () => {
    const byHand = { ...shot, poseColumns: { share: 0.5, added: [15, 3], removed: [6, 15] } };
    expect(poseColumns(byHand).frames).toEqual([0, 3, 12, 18]);
    expect(poseColumns(byHand).byCharacter.get('puppet')).toEqual([0, 3, 12, 18]);
  });

  test('of chosen channels only', () => {
    expect(poseColumns(shot, new Set(['arm_l.rz'])).frames).toEqual([0, 12, 18]);
  });
});

describe('captured motion', () => {
  test('has no columns but those set by hand, and is said to be dense', () => {
    const shot = puppet({ 'hips.ty': dense(1, 25) });
    expect(poseColumns(shot)).toMatchObject({ frames: [], dense: true });
    const byHand = { ...shot, poseColumns: { share: 0.5, added: [4, 20], removed: [] } };
    expect(poseColumns(byHand).frames).toEqual([4, 20]);
  });

  test('it is dense by its share of the shot: keys on ones in a part of it are not, nor are a few', () => {
    const part = { ...puppet({ 'hips.ty': dense(1, 25) }), range: { start: 0, end: 60 } };
    expect(poseColumns(part).dense).toBe(false);
    const late = { ...puppet({ 'hips.ty': dense(1, 25) }), range: { start: -12, end: 26 } };
    expect(poseColumns(late).dense).toBe(true);
    const short = { ...puppet({ 'hips.ty': dense(1, 12) }), range: { start: 0, end: 11 } };
    expect(poseColumns(short)).toMatchObject({ dense: false });
    expect(poseColumns(short).frames).toHaveLength(12);
  });
});

describe('whose columns', () => {
  const named = (shot: Shot, id: string, character: string | null): Shot => ({
    ...shot,
    nodes: shot.nodes.map((node) => (node.id === id ? { ...node, character } : node)),
  });
  const shot = named(
    named(puppet({ 'hips.ty': curve([0, 1, 8, 2]), 'arm_l.rz': curve([3, 1, 9, 5]) }), 'arm_l', null),
    'arm_r',
    'other',
  );

  test('a prop makes none where there is a character, and alone makes its own', () => {
    expect(poseColumns(shot).frames).toEqual([0, 8]);
    const alone = { ...shot, curves: [undefined, shot.curves[1]] };
    expect(poseColumns(alone).frames).toEqual([3, 9]);
  });

  test('each character has its own; who has none keeps to all', () => {
    const two = { ...shot, curves: [shot.curves[0], undefined, undefined, { rz: curve([5, 1, 8, 2]) }] };
    const columns = poseColumns(two);
    expect(columns.frames).toEqual([0, 5, 8]);
    expect(columnsOfNode(columns, 'other')).toEqual([5, 8]);
    expect(columnsOfNode(columns, 'puppet')).toEqual([0, 8]);
    expect(columnsOfNode(columns, null)).toEqual([0, 5, 8]);
  });
});
