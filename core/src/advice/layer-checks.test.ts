import { expect, test } from '@jest/globals';
import { curve, filter, pass, puppet } from '../testing/shot-literals.ts';
import { layerChecks, layerMarks } from './layer-checks.ts';

const loop = puppet({ 'hips.ty': curve([0, 1, 12, 6, 24, 1]), 'arm_l.rz': curve([0, 10, 12, 20, 24, 10]) });
const over = (more: Parameters<typeof pass>[1], of = loop) => {
  const layer = pass('p', { members: ['hips', 'arm_l'], ...more });
  return [{ ...of, layers: [layer] }, layer] as const;
};
const codes = (...given: Parameters<typeof layerChecks>) => layerChecks(...given).map(({ code }) => code);

test('an offset that is not the same at both ends of a loop pops, and names its channels', () => {
  const [shot, layer] = over({ curves: [{ ty: curve([0, 0, 24, 3]) }] });
  expect(
    layerMarks(shot, layer)
      .map(({ sentence }) => sentence)
      .join(),
  ).toMatch(/loop will pop: hips\.ty/);
  const closing = over({ curves: [{ ty: curve([0, 3, 12, 5, 24, 3]) }] });
  expect(layerMarks(...closing)).toEqual([]);
  // Where the motion below does not close either, nothing is said.
  const open = puppet({ 'hips.ty': curve([0, 1, 24, 9]) });
  expect(layerMarks(...over({ curves: [{ ty: curve([0, 0, 24, 3]) }] }, open))).toEqual([]);
});

test('a replace pass that covers all through says what it hides; one that comes in by its weight does not', () => {
  const covering = { kind: 'replace', curves: [{ ty: curve([0, 3]) }, undefined] };
  expect(layerMarks(...over(covering)).map(({ code }) => code)).toEqual(['hidesBelow']);
  expect(layerMarks(...over({ ...covering, weight: curve([0, 0, 5, 1, 20, 1, 24, 0]) }))).toEqual([]);
});

test('an offset that makes joints go faster and farther than the motion below says by how much', () => {
  const wild = over({ curves: [undefined, { rz: curve([0, 0, 10, 0, 12, 120, 14, 0, 24, 0]) }] });
  expect(codes(...wild)).toEqual(['goesFaster', 'goesFarther']);
  expect(layerChecks(...wild)[0]!.sentence).toMatch(/hand_l/);
  expect(codes(...over({ curves: [undefined, { rz: curve([0, 0, 12, 1, 24, 0]) }] }))).toEqual([]);
});

test('a muted pass, and a filter, are not checked', () => {
  expect(codes(...over({ muted: true, curves: [{ ty: curve([0, 0, 24, 3]) }] }))).toEqual([]);
  const layer = filter('shift', ['hips']);
  expect(codes({ ...loop, layers: [layer] }, layer)).toEqual([]);
});
