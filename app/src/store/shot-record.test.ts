import { describe, expect, test } from '@jest/globals';
import { goTo, InputError, openSession, perform, select } from '@kneader/core';
import type { Session } from '@kneader/core';
import { choose, curve, puppet } from '../../../core/src/testing/shot-literals.ts';
import { readRecord, recordOf, STORED_STEPS } from './shot-record.ts';

function worked(steps: number): Session {
  let session = select(
    openSession(puppet({ 'hips.ty': curve([0, 1, 10, 5]) })),
    choose({ channels: ['hips.ty'] }),
  );
  for (let i = 0; i < steps; i += 1) session = perform(session, 'keys.move', { value: 1 }).session;
  return session;
}
const view = { frame: 3, from: 0, to: 24 };

describe('what is stored of a shot', () => {
  test('a short history whole, the session as it is', () => {
    const session = worked(5);
    const record = readRecord(recordOf('one', session, view));
    expect(record.session.steps).toEqual(session.steps);
    expect([record.session.at, record.id, record.view]).toEqual([5, 'one', view]);
  });

  test('of a long one the newest steps, at the same step', () => {
    const session = worked(60);
    const { steps, at } = recordOf('one', session, null).session;
    expect(steps).toHaveLength(STORED_STEPS);
    expect(steps[at]).toBe(session.steps[session.at]);
    expect(steps[steps.length - 1]).toBe(session.steps[60]);
  });

  test('after undoing far back, from the step that it is at', () => {
    const session = goTo(worked(60), 7);
    const { steps, at, shot } = recordOf('one', session, null).session;
    expect([at, steps[0], shot]).toEqual([0, session.steps[7], session.steps[7]!.shot]);
    expect(steps).toHaveLength(54);
  });
});

test('a record that is damaged is refused', () => {
  const record = recordOf('one', worked(2), null);
  expect(() => readRecord({ ...record, session: { ...record.session, at: 'two' } })).toThrow(InputError);
  expect(() => readRecord({ ...record, version: 99 })).toThrow();
  expect(() => readRecord(null)).toThrow();
});
