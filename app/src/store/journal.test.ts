import { describe, expect, test } from '@jest/globals';
import { goTo, openSession, perform, select, writeShotFile } from '@kneader/core';
import type { Session } from '@kneader/core';
import { choose, curve, puppet } from '../../../core/src/testing/shot-literals.ts';
import { actBetween, JournalKeeper, journalSchema, replay } from './journal.ts';
import type { Act, Journal } from './journal.ts';
import { STORED_STEPS } from './shot-record.ts';

const opened = select(
  openSession(puppet({ 'hips.ty': curve([0, 1, 10, 5, 20, 2]), 'arm_l.rz': curve([0, 0, 24, 90]) })),
  choose({ channels: ['hips.ty'] }),
);
/** A way of work: edits, steps back, an edit over what was undone. */
const WAY: readonly ((session: Session) => Session)[] = [
  (now) => perform(now, 'keys.move', { value: 3 }).session,
  (now) => perform(now, 'keys.add', { frame: 7.5 }).session,
  (now) => select(now, choose({ nodes: ['arm_l'], range: { start: 0, end: 12 } })),
  (now) => perform(now, 'timing.reverse', {}).session,
  (now) => goTo(now, 1),
  (now) => perform(now, 'clean.thin', { position: 2 }).session,
  (now) => goTo(now, 1),
  // Saved while something is undone: that is not lost.
  (now) => perform(now, 'actions.save', { name: 'Half' }).session,
  (now) => goTo(now, 3),
];

function walked() {
  const acts: Act[] = [];
  let now = opened;
  for (const step of WAY) {
    const next = step(now);
    const done = actBetween(now, next);
    if (done !== null) acts.push(done);
    now = next;
  }
  return { now, acts };
}

describe('what was done', () => {
  test('as text and back gives the same history when it is done again', () => {
    const { now, acts } = walked();
    const read = journalSchema.parse(
      JSON.parse(JSON.stringify(acts.map((act, number) => ({ number, act })))),
    );
    const again = replay(
      opened,
      read.map(({ act }) => act),
    );
    expect(acts.some(({ kind }) => kind === 'gap')).toBe(false);
    expect([again.at, again.steps.map(({ label }) => label)]).toEqual([
      now.at,
      now.steps.map(({ label }) => label),
    ]);
    again.steps.forEach((step, i) =>
      expect(writeShotFile(step.shot)).toBe(writeShotFile(now.steps[i]!.shot)),
    );
  });

  test('choosing is no act; what no edit did is said to be something else', () => {
    expect(actBetween(opened, select(opened, choose({})))).toBeNull();
    expect(actBetween(opened, openSession(opened.shot))).toEqual({ kind: 'gap' });
  });

  test('an edit that no longer does anything is passed over', () => {
    const { acts } = walked();
    const gone: Act = { ...(acts[0] as Act & { kind: 'edit' }), edit: 'keys.gone' };
    expect(replay(opened, [gone]).steps.length).toBe(1);
  });
});

describe('what cannot be done again', () => {
  test('ends it, and the shot opens with what came before: a gap, an edit that fails', () => {
    const { acts } = walked();
    const broken: Act = {
      ...(acts[0] as Act & { kind: 'edit' }),
      selection: { ...choose({}), nodes: 7 } as never,
    };
    for (const bad of [{ kind: 'gap' } as Act, broken])
      expect(replay(opened, [acts[0]!, bad, acts[1]!]).steps.map(({ label }) => label)).toEqual([
        'Opened',
        'Move keys',
      ]);
  });

  test('a step back beyond what a record holds is a gap', () => {
    let session = opened;
    for (let i = 0; i < STORED_STEPS + 5; i += 1)
      session = perform(session, 'keys.move', { value: 1 }).session;
    expect(actBetween(session, goTo(session, 10))).toEqual({ kind: 'go', back: STORED_STEPS - 5 });
    expect(actBetween(session, goTo(session, 5))).toEqual({ kind: 'gap' });
  });
});

describe('the journal', () => {
  const keep = (last = 0) => {
    const written: (Journal | null)[] = [];
    const place = { full: false, refused: 0 };
    const keeper = new JournalKeeper(
      {
        write: (journal) =>
          place.full ? Promise.reject(new Error('full')) : Promise.resolve(written.push(journal)),
        clear: () => written.push(null),
      },
      last,
      () => (place.refused += 1),
    );
    return { keeper, written, place };
  };
  const go: Act = { kind: 'go', back: 0 };

  test('holds what is not stored, and is empty when all is', () => {
    const { keeper, written } = keep(4);
    keeper.note(go);
    keeper.note(go);
    const stored = keeper.number;
    keeper.note(go);
    expect(written.at(-1)!.map(({ number }) => number)).toEqual([5, 6, 7]);
    keeper.stored(stored);
    expect(written.at(-1)!.map(({ number }) => number)).toEqual([7]);
    keeper.stored(7);
    expect(written.at(-1)).toBeNull();
  });

  test('that is full says so at once, until what it refused is stored or noted after all', async () => {
    const { keeper, place } = keep();
    const settled = () => new Promise((resolve) => setTimeout(resolve, 0));
    keeper.note(go);
    await settled();
    expect([keeper.isRefused, place.refused]).toEqual([false, 0]);
    place.full = true;
    keeper.note(go);
    await settled();
    expect([keeper.isRefused, place.refused]).toEqual([true, 1]);
    keeper.stored(1);
    await settled();
    expect(keeper.isRefused).toBe(true);
    keeper.stored(2);
    expect(keeper.isRefused).toBe(false);
    keeper.note(go);
    await settled();
    place.full = false;
    keeper.note(go);
    await settled();
    expect(keeper.isRefused).toBe(false);
  });
});
