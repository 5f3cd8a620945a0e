import { describe, expect, test } from '@jest/globals';
import { InputError } from '../base/finding.ts';
import { seededRandom } from '../base/random.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { EDITS } from '../edits/catalogue.ts';
import { brokenRule } from '../curve/validate.ts';
import { writeShotFile } from '../interchange/shot-file/write-shot.ts';
import { curvesIn, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { EXAMPLES } from '../testing/edit-examples.ts';
import { choose, curve, pass, puppet } from '../testing/shot-literals.ts';
import { beginGesture, commitGesture, updateGesture } from './gesture.ts';
import { checkedSession } from './checked-session.ts';
import { goTo, openSession, perform, redo, select, undo, undoes } from './session.ts';
import type { Session } from './session.ts';

const swing = curve([0, 10, 4, 12, 8, -6, 12, 3, 16, 8, 20, 10, 24, 10]);
const shot = {
  ...puppet({ 'hips.ty': swing, 'arm_l.rz': swing }),
  layers: [pass('lift', { members: ['arm_l'], curves: [undefined, { rz: curve([6, 0, 12, 20]) }] })],
};

/** A selection of anything, the way a hand selects: controls, channels or keys, with or without a range or a pass. */
function anySelection(of: Shot, random: ReturnType<typeof seededRandom>) {
  const rig = rigOf(of);
  const channel = rig.channels[random.whole(0, rig.channels.length - 1)]!.id;
  const node = of.nodes[random.whole(0, of.nodes.length - 1)]!.id;
  const start = random.whole(0, 20);
  const layer =
    of.layers.length > 0 && random.whole(0, 2) === 0
      ? of.layers[random.whole(0, of.layers.length - 1)]!.id
      : null;
  return choose({
    ...[
      { nodes: [node] },
      { channels: [channel] },
      { keys: { [channel]: [1, 2, 5, 9] } },
      { nodes: of.nodes.map(({ id }) => id) },
    ][random.whole(0, 3)]!,
    range: random.whole(0, 2) === 0 ? { start, end: start + random.whole(0, 10) } : null,
    layer,
  });
}

describe('seeded sequences of edits', () => {
  const starts: [string, () => Shot][] = [
    ['the puppet', () => shot],
    ['Night round', () => DEMO_SHOTS[1]!.make()],
  ];
  test.each(starts.flatMap(([name, make]) => [1, 2, 3, 4, 5].map((seed) => [name, seed, make] as const)))(
    'on %s, seed %i: every step valid, undone to the very start, redone to the very end',
    (_, seed, make) => {
      const random = seededRandom(seed);
      let session = openSession(make());
      const first = writeShotFile(session.shot);
      for (let i = 0; i < 75; i += 1) {
        const edit = EDITS[random.whole(0, EDITS.length - 1)]!;
        const examples = EXAMPLES[edit.id]!;
        const options = { ...examples[random.whole(0, examples.length - 1)] };
        if ('pass' in options) options['pass'] = session.shot.layers[0]?.id ?? 'gone';
        session = perform(select(session, anySelection(session.shot, random)), edit.id, options).session;
        for (const table of [session.shot.curves, ...session.shot.layers.map((one) => one.curves)])
          for (const [, one] of curvesIn(table, session.shot.nodes)) expect(brokenRule(one)).toBeNull();
      }
      const last = writeShotFile(session.shot);
      expect(session.steps.length).toBeGreaterThan(10);
      let back: Session = session;
      while (back.at > 0) back = undo(back);
      expect(writeShotFile(back.shot)).toBe(first);
      while (back.at < back.steps.length - 1) back = redo(back);
      expect(writeShotFile(back.shot)).toBe(last);
    },
  );
});

describe('history', () => {
  const moved = (session: Session, value: number) =>
    perform(select(session, choose({ nodes: ['hips'] })), 'keys.move', { value }).session;

  test('going back keeps later steps until something new is done', () => {
    const three = moved(moved(moved(openSession(shot), 1), 2), 3);
    const back = goTo(three, 1);
    expect([back.steps.length, back.at]).toEqual([4, 1]);
    expect(moved(back, 9).steps.map(({ options }) => options)).toEqual([null, { value: 1 }, { value: 9 }]);
    expect(goTo(three, 99).at).toBe(3);
    expect(goTo(three, -4).at).toBe(0);
  });

  test('a marked range comes back with the step that moved it, forward too; one that was marked since stays', () => {
    const marked = select(openSession(shot), choose({ nodes: ['hips'], range: { start: 2, end: 8 } }));
    const { session: longer } = perform(marked, 'timing.stretch', { factor: 2 });
    const after = longer.selection.range!;
    expect(after).not.toEqual({ start: 2, end: 8 });
    expect(undo(longer).selection.range).toEqual({ start: 2, end: 8 });
    expect(redo(undo(longer)).selection.range).toEqual(after);
    const other = select(longer, { ...longer.selection, range: { start: 3, end: 4 } });
    expect(undo(other).selection.range).toEqual({ start: 3, end: 4 });
    const none = select(longer, { ...longer.selection, range: null });
    expect(undo(none).selection.range).toBeNull();
  });

  test('controls that a step selected give way to those of before when it is undone, and come back; others that were selected since stay', () => {
    const chosen = select(openSession(shot), choose({ nodes: ['hand_l'], channels: ['hand_l.rx'] }));
    const { session: carried } = perform(chosen, 'spaces.addParent', { frame: 4 });
    const made = carried.selection.nodes;
    expect(made).not.toEqual(['hand_l']);
    const back = undo(carried);
    expect([back.selection.nodes, back.selection.channels]).toEqual([['hand_l'], ['hand_l.rx']]);
    expect(redo(back).selection.nodes).toEqual(made);
    expect(redo(select(back, choose({ nodes: ['hips'] }))).selection.nodes).toEqual(['hips']);
    const other = select(carried, choose({ nodes: ['arm_r'] }));
    expect(undo(other).selection.nodes).toEqual(['arm_r']);
    // A step that left the selection as it was brings back nothing.
    const elsewhere = select(moved(chosen, 3), choose({ nodes: ['arm_l'] }));
    expect(undo(elsewhere).selection.nodes).toEqual(['arm_l']);
  });

  test('keys and passes that are gone leave the selection', () => {
    const chosen = select(openSession(shot), choose({ keys: { 'hips.ty': [1, 2] } }));
    const deleted = perform(chosen, 'keys.delete', {}).session;
    const back = select(undo(deleted), choose({ keys: { 'hips.ty': [1, 3] } }));
    expect(redo(back).selection.keys).toEqual({ 'hips.ty': [3] });
    const onPass = select(openSession(shot), choose({ nodes: ['arm_l'], layer: 'lift' }));
    expect(perform(onPass, 'passes.remove', { pass: 'lift' }).session.selection.layer).toBeNull();
  });

  test('undo brings back the chosen keys, but not over others that were chosen since', () => {
    const chosen = select(openSession(shot), choose({ nodes: ['hips'], keys: { 'hips.ty': [1, 2] } }));
    const deleted = perform(chosen, 'keys.delete', {}).session;
    expect(deleted.selection.keys).toEqual({});
    expect(undo(deleted).selection.keys).toEqual({ 'hips.ty': [1, 2] });
    const others = select(deleted, choose({ nodes: ['hips'], keys: { 'hips.ty': [4] } }));
    expect(undo(others).selection.keys).toEqual({ 'hips.ty': [4] });
    const elsewhere = select(deleted, choose({ nodes: ['arm_l'] }));
    expect(undo(elsewhere).selection).toEqual(choose({ nodes: ['arm_l'] }));
    expect(redo(undo(deleted)).selection.keys).toEqual({});
  });

  test('an action that was saved is a step, which undo and redo pass over', () => {
    const save = (session: Session) => perform(session, 'actions.save', { name: 'Hop' }).session;
    const saved = save(save(moved(openSession(shot), 1)));
    expect(saved.steps.map(({ edit }) => edit)).toEqual([null, 'keys.move', 'actions.save', 'actions.save']);
    expect([saved.at, undoes(saved), saved.shot === saved.steps[1]!.shot]).toEqual([3, 1, true]);
    const undone = undo(saved);
    expect([undone.at, undone.shot === shot]).toEqual([0, true]);
    expect(redo(undone).at).toBe(3);
    const only = save(select(openSession(shot), choose({ nodes: ['hips'] })));
    expect([only.at, undoes(only), undo(only).shot === shot]).toEqual([1, 0, true]);
    // What was undone is not lost by saving.
    const between = save(undone);
    expect([between.at, between.steps.map(({ edit }) => edit)]).toEqual([
      1,
      [null, 'actions.save', 'keys.move', 'actions.save', 'actions.save'],
    ]);
    expect(redo(between).shot).toBe(saved.shot);
    expect(undo(redo(between)).at).toBe(1);
  });

  test('a gesture runs from where it began, commits once, or leaves no trace', () => {
    const session = select(openSession(shot), choose({ channels: ['hips.ty'] }));
    let gesture = beginGesture(session, 'keys.move');
    for (const value of [1, 2, 7, 3]) gesture = updateGesture(gesture, { value });
    const done = commitGesture(gesture, 'Drag');
    expect([done.steps.length, done.steps[1]!.label, done.steps[1]!.options]).toEqual([
      2,
      'Drag',
      { value: 3 },
    ]);
    expect(commitGesture(beginGesture(session, 'keys.move'))).toBe(session);
    expect(commitGesture(updateGesture(gesture, { value: 0 }))).toBe(session);
  });
});

describe('a session from storage', () => {
  test('that is whole comes back as it is', () => {
    const session = perform(select(openSession(shot), choose({ nodes: ['hips'] })), 'keys.move', {
      value: 2,
    }).session;
    expect(checkedSession(session).steps.length).toBe(2);
  });

  test.each<[string, (session: Session) => unknown]>([
    ['nothing', () => null],
    ['another record', () => ({ steps: 4 })],
    ['no shot', (session) => ({ ...session, shot: undefined })],
    [
      'a curve with a short column',
      (session) => ({
        ...session,
        shot: { ...shot, curves: [{ ty: { ...swing, values: swing.values.slice(1) } }] },
      }),
    ],
    [
      'a curve with a number that is none',
      (session) => ({
        ...session,
        before: { ...shot, curves: [{ ty: { ...swing, values: swing.values.map(() => NaN) } }] },
      }),
    ],
    ['a step without a shot', (session) => ({ ...session, steps: [{ label: 'x' }] })],
  ])('%s is refused with a sentence', (_, damage) => {
    expect(() => checkedSession(damage(openSession(shot)))).toThrow(InputError);
    expect(() => checkedSession(damage(openSession(shot)))).toThrow(
      /^The stored record no longer reads: .+\.$/,
    );
  });
});
