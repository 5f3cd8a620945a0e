/** Routines: recorded from a history, they do elsewhere what was done; all of it, or nothing. */
import { describe, expect, test } from '@jest/globals';
import { finish } from '../base/work.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { doughToss } from '../demo/dough-toss.ts';
import { openSession, perform, select } from '../session/session.ts';
import type { Session } from '../session/session.ts';
import { valuesAt } from '../evaluation/evaluation.ts';
import { NOTHING } from '../document/selection.ts';
import type { Shot } from '../document/shot.ts';
import { choose, curve, pass, puppet } from '../testing/shot-literals.ts';
import { ROUTINE_EXAMPLES } from './examples.ts';
import { readRoutine } from './routine.ts';
import type { Routine } from './routine.ts';
import { repeatableSteps, routineFromHistory } from './routine-from-history.ts';
import { asksOf, runRoutine } from './run-routine.ts';

const shot = puppet({ 'arm_l.rz': curve([0, 0, 3, 350, 9, 20]), 'hips.ty': curve([0, 1, 6, 9, 12, 3]) });
const did = (of: Session, edit: string, options: object, selection = of.selection): Session => {
  const { session, outcome } = perform(select(of, selection), edit, options);
  expect([edit, outcome.report.status]).toEqual([edit, 'changed']);
  return session;
};
const recorded = (session: Session): Routine => routineFromHistory(session, repeatableSteps(session), 'One');
const run = (routine: Routine, on: Shot, selection = NOTHING) => finish(runRoutine(routine, on, selection));
/** As it is read from a file. */
const again = (routine: Routine) => readRoutine(JSON.parse(JSON.stringify(routine)));
const values = (of: Shot) => [0, 2.4, 7, 11.5].map((frame) => [...valuesAt(of, frame)]);

describe('recorded and run', () => {
  const arm = choose({ nodes: ['arm_l'] });
  /** A pass is made, weighed and posed on: later steps name what an earlier one made. */
  const layered = () => {
    let session = did(openSession(shot), 'clean.unwrap', {}, arm);
    session = did(session, 'passes.addOffset', { name: 'Lift' });
    const { id } = session.shot.layers[0]!;
    session = did(
      session,
      'passes.pose',
      { pass: id, values: { 'arm_l.rz': 70 }, frame: 6 },
      session.selection,
    );
    return did(session, 'passes.setWeight', { pass: id, weight: 0.5 });
  };

  test('on the shot that it came from it makes the same', () => {
    const session = layered();
    const { status, shot: after, steps } = run(again(recorded(session)), shot, arm);
    expect([status, steps.length]).toEqual(['changed', 4]);
    expect(values(after)).toEqual(values(session.shot));
  });

  test('where another layer has that id already, the one that it makes is meant', () => {
    const other = { ...shot, layers: [pass('layer-1', { members: ['hips'] }), pass('layer-7')] };
    const { shot: after } = run(recorded(layered()), other, arm);
    expect(after.layers.map(({ name, weight }) => [name, weight.values[0]])).toEqual([
      ['layer-1', 1],
      ['layer-7', 1],
      ['Lift', 0.5],
    ]);
    expect(values(after)).toEqual(values(layered().shot));
  });

  test('on what is selected, on everything, on what it was recorded with', () => {
    const routine = recorded(layered());
    const only = (on: 'selection' | 'everything' | 'recorded', selection = NOTHING) => {
      const [first] = routine.steps;
      return run({ ...routine, steps: [{ ...first!, on }] }, shot, selection).steps[0]!.selection;
    };
    expect(only('selection', choose({ nodes: ['hips'] })).nodes).toEqual(['hips']);
    // Nothing selected: the arm of the left, as when it was recorded.
    expect(only('selection').nodes).toEqual(['arm_l', 'hand_l']);
    expect(only('everything', choose({ nodes: ['hips'] })).channels.length).toBe(30);
    expect(only('recorded', choose({ nodes: ['hips'] })).nodes).toEqual(['arm_l']);
    const range = { start: 2, end: 7.5 };
    expect(only('selection', choose({ keys: { 'hips.ty': [1] } })).channels).toEqual([]);
    expect(only('everything', choose({ nodes: ['hips'], range })).range).toEqual(range);
    expect(only('everything', choose({ keys: { 'hips.ty': [1] } })).keys).toEqual({});
  });

  test('channels, keys and the range that were chosen are those that are meant again', () => {
    const range = { start: 3, end: 9 };
    const session = did(
      openSession(shot),
      'keys.move',
      { value: 4 },
      choose({ channels: ['arm_l.rz'], keys: { 'hips.ty': [2] }, range }),
    );
    const { recorded: meant } = again(recorded(session)).steps[0]!;
    expect(meant).toEqual({
      ...{ nodes: [], channels: ['arm_l.rz', 'hips.ty'], range, pass: null },
      ...{
        roles: [
          { part: 'arm', side: 'centre' },
          { part: 'arm', side: 'left' },
        ],
        names: ['rz', 'ty'],
      },
    });
    const [done] = run(
      again({ ...recorded(session), steps: [{ ...recorded(session).steps[0]!, on: 'recorded' }] }),
      shot,
    ).steps;
    expect(done!.selection).toEqual({ ...NOTHING, channels: meant.channels, range });
  });

  test('what it was recorded on and is not here is said, with the step', () => {
    const session = did(
      openSession(shot),
      'keys.move',
      { value: 4 },
      choose({ nodes: ['arm_l'], channels: ['hips.ty'] }),
    );
    const routine = recorded(session);
    const [step] = routine.steps;
    const elsewhere = {
      ...step!,
      on: 'recorded' as const,
      recorded: { ...step!.recorded, nodes: ['arm_q'], channels: ['hips.ty', 'leg.rx'] },
    };
    const { findings } = run({ ...routine, steps: [elsewhere] }, shot).steps[0]!.outcome.report;
    expect(findings.at(-1)!.sentence).toBe(
      '2 controls that it was recorded on are not in this shot: arm_q, leg.rx.',
    );
    const known = run({ ...routine, steps: [{ ...step!, on: 'recorded' }] }, shot).steps[0]!.outcome.report
      .findings;
    expect(known.map(({ code }) => code)).not.toContain('unknownRecorded');
  });

  test('what a step leaves selected is what the next one works on', () => {
    const chosen = choose({ nodes: ['hips', 'arm_l'], range: { start: 0, end: 6 } });
    const session = did(did(openSession(shot), 'timing.stretch', { factor: 2 }, chosen), 'keys.move', {
      value: 1,
    });
    const routine = recorded(session);
    const steps = routine.steps.map((step) => ({ ...step, on: 'selection' as const }));
    const { steps: done } = run({ ...routine, steps }, shot, chosen);
    expect(done.map(({ selection }) => selection.range)).toEqual([chosen.range, { start: 0, end: 12 }]);
  });

  test('the capture’s: unwrapped, low-passed, thinned, flipped, saved as an action', () => {
    const toss = doughToss();
    let session = did(
      openSession(toss),
      'clean.unwrap',
      {},
      choose({ nodes: toss.nodes.map(({ id }) => id) }),
    );
    for (const [edit, options] of [
      ['clean.smooth', { method: 'lowPass' }],
      ['clean.thin', { measure: 'channels' }],
      ['poses.flipRange', {}],
    ] as const)
      session = did(session, edit, options);
    const base = recorded(session);
    const save = {
      ...base.steps[0]!,
      edit: 'actions.save',
      options: { name: 'Toss', tags: ['flour'] },
      made: [],
    };
    const { status, made, steps } = run(again({ ...base, steps: [...base.steps, save] }), toss);
    expect([status, steps.length, made.length]).toEqual(['changed', 5, 1]);
    expect(made[0]).toMatchObject({ name: 'Toss', format: 'kneader-action' });
  });
});

describe('what cannot be run', () => {
  const step = {
    edit: 'clean.unwrap',
    options: {},
    on: 'selection',
    recorded: { nodes: [], channels: [], range: null, pass: null },
  };
  const routine = (steps: readonly object[]): Routine =>
    readRoutine({ format: 'kneader-routine', version: 1, name: 'One', steps });

  test('a step that is refused ends it, and nothing is changed', () => {
    const {
      status,
      shot: after,
      refusal,
    } = run(routine([step, { ...step, edit: 'clean.thin', options: { position: -4 } }]), shot);
    expect([status, after === shot]).toEqual(['refused', true]);
    expect(refusal!.sentence).toMatch(/^Step 2, Thin, was refused, and nothing was changed: .*position/);
  });

  test('what it asks for is asked once, by the names of its edits; on everything it asks for nothing', () => {
    const steps = (on: string, ...edits: string[]) =>
      asksOf(
        readRoutine({
          format: 'kneader-routine',
          version: 1,
          name: 'One',
          steps: edits.map((edit) => ({ edit, options: {}, on })),
        }),
      );
    expect(steps('everything', 'clean.unwrap', 'keys.move')).toEqual([]);
    expect(steps('selection', 'tangents.set', 'actions.save').map(({ sentence }) => sentence)).toEqual([
      'What is selected counts for Set tangents, Save as action; where nothing is, the body parts on which it was recorded, or all.',
    ]);
    expect(steps('selection', 'shot.rename')).toEqual([]);
  });

  test('what was recorded is asked for where a step is on it, and nowhere else', () => {
    const file = (on: string) => ({
      format: 'kneader-routine',
      version: 1,
      name: 'One',
      steps: [{ edit: 'clean.unwrap', options: {}, on }],
    });
    expect(readRoutine(file('everything')).steps[0]!.recorded).toEqual({
      nodes: [],
      channels: [],
      range: null,
      pass: null,
    });
    expect(() => readRoutine(file('recorded'))).toThrow('it is on what was recorded, and nothing is');
  });

  test('an edit that is not known is said before it is run, and when', () => {
    const odd = routine([
      { ...step, edit: 'clean.polish' },
      { ...step, edit: 'keys.delete' },
    ]);
    expect(asksOf(odd).map(({ code }) => code)).toEqual(['routineUnknown', 'routineNeedsRange']);
    expect(run(odd, shot).refusal!.sentence).toMatch(/clean\.polish/);
  });

  test('a file that is none, of a newer version, without steps: a sentence', () => {
    for (const [value, words] of [
      [{ format: 'kneader-action' }, /not a usable routine/],
      [{ format: 'kneader-routine', version: 99, name: 'One', steps: [step] }, /version 99/],
      [{ format: 'kneader-routine', version: 1, name: 'One', steps: [] }, /steps/],
      [null, /not a usable routine/],
    ] as const)
      expect(() => readRoutine(value)).toThrow(words);
  });

  test('of an older version its edits and options are called what they are called since', () => {
    const changes = [
      { before: 3, edit: 'clean.curl', to: 'clean.unwrap', change: () => ({}) },
      {
        before: 2,
        edit: 'clean.twist',
        to: 'clean.curl',
        change: ({ how }: Readonly<Record<string, unknown>>) => ({ way: how }),
      },
    ];
    const file = (version: number, edit: string) =>
      readRoutine(
        { format: 'kneader-routine', version, name: 'One', steps: [{ ...step, edit, options: { how: 1 } }] },
        changes,
      );
    expect([1, 2, 3].map((version) => file(version, 'clean.twist').steps[0]!.edit)).toEqual([
      'clean.unwrap',
      'clean.twist',
      'clean.twist',
    ]);
    expect(file(2, 'clean.curl').steps[0]).toMatchObject({ edit: 'clean.unwrap', options: {} });
    expect(file(1, 'clean.twist').version).toBe(3);
  });
});

describe('by body parts', () => {
  const session = did(openSession(shot), 'clean.unwrap', {}, choose({ nodes: ['arm_l'] }));
  const routine = again(recorded(session));
  /** The same figure under other names: ids say nothing, sides and parts do. */
  const named = (of: Shot, name: (id: string) => string): Shot => ({
    ...of,
    nodes: of.nodes.map((node) => ({
      ...node,
      id: name(node.id),
      parent: node.parent && name(node.parent),
      pair: node.pair && name(node.pair),
    })),
  });
  const other = named(shot, (id) => `x${id.length}${[...id].reverse().join('')}`);

  test('a step of one arm is done to the arm of the same side on a figure of other names, and to nothing else', () => {
    const still = {
      ...other.nodes.find(({ part, side }) => part === 'arm' && side === 'left')!,
      id: 'end',
      channels: [],
    };
    const { status, shot: after, steps } = run(routine, { ...other, nodes: [...other.nodes, still] });
    expect(status).toBe('changed');
    expect(steps[0]!.selection.nodes).not.toContain('end');
    expect(steps[0]!.selection.nodes.map((id) => other.nodes.find((node) => node.id === id))).toEqual(
      other.nodes.filter(({ part, side }) => part === 'arm' && side === 'left'),
    );
    expect(values(after)).toEqual(values(session.shot));
  });

  test('what is selected goes first, unless the step says body parts', () => {
    const hips = choose({ nodes: ['hips'] });
    expect(run(routine, shot, hips).steps[0]!.selection.nodes).toEqual(['hips']);
    const byRoles = { ...routine, steps: [{ ...routine.steps[0]!, on: 'roles' as const }] };
    expect(run(byRoles, shot, hips).steps[0]!.selection.nodes).toContain('arm_l');
    expect(run(byRoles, shot, hips).steps[0]!.selection.nodes).not.toContain('hips');
  });

  test('of channels those of the same names', () => {
    const one = did(openSession(shot), 'clean.unwrap', {}, choose({ channels: ['arm_l.rz'] }));
    const [first] = run(again(recorded(one)), other).steps;
    expect(first!.selection.channels.map((id) => id.slice(id.lastIndexOf('.')))).toEqual(['.rz', '.rz']);
  });

  test('where nobody has the part nothing is done, which is said; where some are missing, those are named', () => {
    const armless = { ...other, nodes: other.nodes.map((node) => ({ ...node, part: 'torso' as const })) };
    const none = run(routine, armless);
    expect([none.status, none.shot]).toEqual(['refused', armless]);
    expect(none.refusal!.sentence).toMatch(/left arm, which nobody has here/);
    const two = {
      ...routine,
      steps: routine.steps.map((one) => ({
        ...one,
        recorded: {
          ...one.recorded,
          roles: [...one.recorded.roles!, { part: 'prop' as const, side: 'centre' as const }],
        },
      })),
    };
    expect(run(two, other).steps[0]!.outcome.report.findings.map(({ sentence }) => sentence)).toContain(
      'Nobody has these body parts here: prop.',
    );
  });
});

describe('the routines that ship', () => {
  const ON: Readonly<Record<string, string>> = {
    'Clean a capture': 'dough-toss',
    'Calm the arms': 'dough-toss',
    'Blocking to spline on twos': 'first-tray',
    'Close a loop': 'kneading-loop',
    'Feet that stand': 'late-round',
    'Tidy up': 'first-tray',
  };
  test.each(ROUTINE_EXAMPLES)(
    '$name: it reads, and does each of its steps to a shot that it is for',
    (example) => {
      expect(again(example)).toEqual(example);
      const demo = DEMO_SHOTS.find(({ id }) => id === ON[example.name])!.make();
      // With an empty pass, as work leaves them behind.
      const worn = { ...demo, layers: [pass('empty', { members: ['hips'] })] };
      const { status, refusal, steps } = run(example, worn);
      expect([refusal, status]).toEqual([null, 'changed']);
      expect(steps.map(({ outcome }) => outcome.report.status)).not.toContain('refused');
    },
  );

  test('there are six, each of another name', () => {
    expect(new Set(ROUTINE_EXAMPLES.map(({ name }) => name)).size).toBe(6);
  });
});
