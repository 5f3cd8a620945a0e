import { expect, test } from '@jest/globals';
import { choose, curve, pass, puppet } from '../../../core/src/testing/shot-literals.ts';
import { runEdit, shotToJson } from '@kneader/core';
import { SharedParts } from './shared-parts.ts';

const shot = {
  ...puppet({ 'hips.ty': curve([0, 1, 10, 5]), 'arm_r.rz': curve([0, 3, 24, 9]) }),
  layers: [pass('lift', { members: ['arm_l'], curves: [undefined, { rz: curve([4, 4]) }] })],
};

test('a shot arrives whole; then only what changed is sent, and comes back as the same objects', () => {
  const [page, worker] = [new SharedParts('page'), new SharedParts('worker')];
  const first = page.pack(shot);
  const there = worker.unpack(first);
  expect(shotToJson(there)).toEqual(shotToJson(shot));
  const edited = runEdit('keys.move', shot, choose({ channels: ['hips.ty'] }), { value: 2 }).shot;
  const second = page.pack(edited);
  expect(second.fresh.length).toBe(1);
  expect(shotToJson(worker.unpack(second))).toEqual(shotToJson(edited));
  // The worker answers with one new curve; all else is what the page has.
  const answer = runEdit('keys.move', worker.unpack(second), choose({ channels: ['arm_r.rz'] }), {
    value: 1,
  }).shot;
  const back = worker.pack(answer);
  expect(back.fresh.length).toBe(1);
  const home = page.unpack(back);
  expect(home.curves[0]!['ty']).toBe(edited.curves[0]!['ty']);
  expect(home.nodes).toBe(shot.nodes);
});

test('a part that the other side does not know is an error, never a hole', () => {
  const page = new SharedParts('page');
  page.pack(shot);
  expect(() => new SharedParts('worker').unpack(page.pack(shot))).toThrow(/disagree about part/);
});

test('tables are counted in bytes, and an answer is read with the table that its call was written with', () => {
  const [page, worker] = [new SharedParts('page'), new SharedParts('worker')];
  const asked = page.pack(shot);
  expect(page.bytes).toBeGreaterThan(0);
  const before = page.bytes;
  page.pack(shot);
  expect(page.bytes).toBe(before);
  const answer = runEdit('keys.move', worker.unpack(asked), choose({ channels: ['hips.ty'] }), {
    value: 2,
  }).shot;
  const packed = worker.pack(answer);
  // The page has emptied its tables meanwhile: a new one cannot read the answer, the old one can.
  expect(() => new SharedParts('page').unpack(packed)).toThrow(/disagree/);
  expect(shotToJson(page.unpack(packed))).toEqual(shotToJson(answer));
});
