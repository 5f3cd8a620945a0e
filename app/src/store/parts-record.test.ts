import { describe, expect, test } from '@jest/globals';
import { checkedSession, goTo, openSession, perform, select, writeShotFile } from '@kneader/core';
import type { Session } from '@kneader/core';
import { choose, curve, pass, puppet } from '../../../core/src/testing/shot-literals.ts';
import { PartsRecord, unpacked } from './parts-record.ts';
import type { StoredLot } from './parts-record.ts';

const lift = pass('lift', { members: ['arm_l'], curves: [undefined, { rz: curve([6, 0, 12, 20, 18, 0]) }] });
const opened = select(
  openSession({
    ...puppet({ 'hips.ty': curve([0, 1, 10, 5, 20, 2]), 'arm_l.rz': curve([0, 0, 24, 90]) }),
    layers: [lift],
  }),
  choose({ channels: ['hips.ty'] }),
);
const worked = goTo(
  perform(perform(opened, 'keys.move', { value: 3 }).session, 'keys.add', { frame: 7.5 }).session,
  1,
);

/** A place that clones what it is given, as the browser's storage does. */
function place() {
  const lots = new Map<number, StoredLot>();
  let record: ReturnType<PartsRecord['pack']>['record'] | null = null;
  return {
    lots,
    store(parts: PartsRecord, session: Session) {
      const packed = parts.pack(session);
      for (const lot of packed.fresh) lots.set(lot[0]![0], structuredClone(lot));
      record = structuredClone(packed.record);
      return packed;
    },
    read: () =>
      unpacked(
        record!,
        record!.lots.map((first) => lots.get(first)!),
      ),
  };
}

describe('a session in parts', () => {
  test('comes back as it was, shared where it was shared', () => {
    const at = place();
    at.store(new PartsRecord(), worked);
    const read = checkedSession(at.read());
    expect(read.steps.map(({ label }) => label)).toEqual(worked.steps.map(({ label }) => label));
    read.steps.forEach((step, i) =>
      expect(writeShotFile(step.shot)).toBe(writeShotFile(worked.steps[i]!.shot)),
    );
    expect(read.shot).toBe(read.steps[1]!.shot);
    expect(read.before).toBe(read.steps[0]!.shot);
    expect(read.steps[2]!.shot.nodes).toBe(read.steps[0]!.shot.nodes);
    expect(read.steps[2]!.shot.curves[1]!['rz']).toBe(read.steps[0]!.shot.curves[1]!['rz']);
    expect(read.steps[2]!.selection).toEqual(worked.steps[2]!.selection);
  });

  test('an edit stores what it changed, and no more; nothing changed stores no part', () => {
    const parts = new PartsRecord();
    parts.pack(worked);
    expect(parts.pack(worked).fresh).toEqual([]);
    const next = perform(worked, 'keys.move', { value: -2 }).session;
    expect(
      parts
        .pack(next)
        .fresh.flat()
        .map(([, part]) => part),
    ).toEqual([next.shot.curves[0]!['ty']]);
  });

  test('what was read is known: it is not stored again, and new parts get new numbers', () => {
    const at = place();
    at.store(new PartsRecord(), worked);
    const parts = new PartsRecord();
    parts.learn([...at.lots.values()]);
    const session = unpacked(new PartsRecord().pack(worked).record, [...at.lots.values()]) as Session;
    expect(parts.pack(session).fresh).toEqual([]);
    const next = perform(session, 'keys.move', { value: 9 }).session;
    const [[number]] = parts.pack(next).fresh[0]! as [[number, object]];
    expect([...at.lots.values()].flat().map(([known]) => known)).not.toContain(number);
  });

  test('lots are small, and those that nothing names any more are told', () => {
    const many = openSession(
      puppet(
        Object.fromEntries(
          ['hips', 'arm_l', 'arm_r', 'hand_l', 'hand_r'].flatMap((node) =>
            ['tx', 'ty', 'tz', 'rx'].map((name) => [
              `${node}.${name}`,
              curve(Array.from({ length: 20_000 }, (_, i) => [i, i % 7]).flat()),
            ]),
          ),
        ),
      ),
    );
    const parts = new PartsRecord();
    const first = parts.pack(many);
    expect(first.fresh.length).toBeGreaterThan(4);
    const stored = first.fresh.map((lot) => lot[0]![0]);
    expect(first.record.lots).toEqual(stored);
    const bare = openSession({ ...many.shot, curves: [] });
    expect(parts.unused(stored, parts.pack(bare).record).length).toBe(stored.length - 1);
  });

  test('when it is not known what was stored everything is stored anew, under other numbers', () => {
    const parts = new PartsRecord();
    const first = parts
      .pack(worked)
      .fresh.flat()
      .map(([number]) => number);
    parts.startAgain();
    const second = parts
      .pack(worked)
      .fresh.flat()
      .map(([number]) => number);
    expect(second.length).toBe(first.length);
    expect(Math.min(...second)).toBeGreaterThan(Math.max(...first));
  });

  test('a part that is not there does not read, and is not taken for something else', () => {
    const packed = new PartsRecord().pack(worked);
    expect(() => checkedSession(unpacked(packed.record, []))).toThrow();
  });
});
