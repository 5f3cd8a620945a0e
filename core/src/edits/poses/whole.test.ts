/** A hand's pose is keyed as a whole or not at all: no stray key where part of it cannot show. */
import { expect, test } from '@jest/globals';
import { choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const base = puppet({ 'hips.ty': curve([0, 1, 24, 5]), 'arm_l.rz': curve([0, 10, 24, 40]) });
/** Covers what the base says of the arm. */
const covered = {
  ...base,
  layers: [
    pass('cover', { kind: 'replace', members: ['arm_l'], curves: [{}, { rz: curve([0, 70]) }] }),
    pass('lift', { members: ['hips'] }),
  ],
};
const values = { 'hips.ty': 9, 'arm_l.rz': 33 };
const paste = (options: object) =>
  runEdit('poses.paste', covered, choose({}), { pose: { name: '', values }, frame: 12, ...options });

test('on the base, under a pass that covers part of it', () => {
  const part = paste({});
  expect([part.report.status, part.report.touched]).toEqual(['changed', ['hips.ty']]);
  const none = paste({ whole: true });
  expect([none.report.status, none.shot]).toEqual(['refused', covered]);
  expect(none.report.findings.map(({ sentence }) => sentence).join(' ')).toMatch(/arm_l\.rz/);
  expect(none.report.findings.map(({ sentence }) => sentence).join(' ')).not.toMatch(/hips\.ty/);
});

test('on a pass; and what can all be shown is keyed', () => {
  const pose = (options: object) =>
    runEdit('passes.pose', covered, choose({ layer: 'lift' }), {
      pass: 'lift',
      frame: 12,
      values,
      ...options,
    });
  const { report } = pose({ whole: true });
  expect(report.status).toBe('changed');
  expect(report.touched).toEqual(expect.arrayContaining(['hips.ty', 'arm_l.rz']));
  const muted = { ...covered, layers: covered.layers.map((one) => ({ ...one, weight: curve([0, 0]) })) };
  const nowhere = runEdit('passes.pose', muted, choose({ layer: 'lift' }), {
    ...{ pass: 'lift', frame: 12, values, whole: true },
  });
  expect([nowhere.report.status, nowhere.shot]).toEqual(['refused', muted]);
});

test('a locked channel is left on purpose, and keeps nothing else from being keyed', () => {
  const locked = { ...base, locked: ['arm_l.rz'] };
  const { report } = runEdit('poses.paste', locked, choose({}), {
    ...{ pose: { name: '', values }, frame: 12, whole: true },
  });
  expect([report.status, report.touched]).toEqual(['changed', ['hips.ty']]);
});
