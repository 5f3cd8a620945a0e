/** Actions beyond laying them: a single pose, the same for another figure, flipped, and renewed where they are placed. */
import { describe, expect, test } from '@jest/globals';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { ovenDoor } from '../../demo/oven-door.ts';
import { shelf } from '../../demo/shelf.ts';
import { ACTION_VERSION, curvesToJson, readAction } from '../../document/action.ts';
import type { ActionJson } from '../../document/action.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const at = (shot: Shot, id: ChannelId, frame: number) => valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;
const actionOf = (curves: Readonly<Record<ChannelId, Curve>>, length: number): ActionJson => ({
  ...{
    format: 'kneader-action',
    version: ACTION_VERSION,
    name: 'One',
    tags: [],
    notes: '',
    source: 'a test',
  },
  ...{ rate: { numerator: 24, denominator: 1 }, length, roots: [] },
  curves: curvesToJson(new Map(Object.entries(curves))),
});
const run = (shot: Shot, edit: string, options: object, selection = choose({})) => {
  const result = runEdit(edit, shot, selection, options);
  expect([edit, result.report.findings.map(({ code }) => code)]).not.toEqual([
    edit,
    expect.arrayContaining(['badOption']),
  ]);
  return result;
};

describe('a single pose', () => {
  const shot = {
    ...puppet({ 'arm_l.rz': curve([0, 10, 24, -20]) }),
    layers: [pass('p', { members: ['arm_l'], curves: [undefined, { rx: curve([0, 0, 24, 48]) }] })],
  };

  test('is what shows, on passes too, and comes back as that', () => {
    const { made, shot: after } = run(
      shot,
      'actions.savePose',
      { name: 'Half', frame: 12 },
      choose({ nodes: ['arm_l'] }),
    );
    expect(after).toBe(shot);
    const action = readAction(made);
    expect([action.json.length, action.curves.size]).toEqual([0, 6]);
    const elsewhere = puppet({ 'arm_l.rz': curve([0, 3, 24, 3]) });
    const posed = run(elsewhere, 'actions.blendPose', { action: made, frame: 7 }).shot;
    for (const id of ['arm_l.rx', 'arm_l.rz']) expect(at(posed, id, 7)).toBeCloseTo(at(shot, id, 12), 9);
    expect(run(elsewhere, 'actions.place', { action: made, frame: 7 }).report.findings[0]!.code).toBe(
      'tooShortToPlace',
    );
  });
});

describe('flipped', () => {
  const one = curve([0, 5, 4, 40, 12, 5]);
  const shot = puppet({
    'arm_l.rz': curve([0, 1, 24, 9]),
    'arm_r.rz': curve([0, -2, 24, 7]),
    'hips.tx': curve([0, 3]),
  });

  test('what one arm does the other does, mirrored, and the one that did it is left alone', () => {
    const action = actionOf(
      { 'arm_l.rz': one, 'arm_l.ry': curve([0, 0, 12, 30]), 'hips.tx': curve([0, 0, 12, 8]) },
      12,
    );
    const { shot: after, report } = run(shot, 'actions.apply', { action, frame: 0, flipped: true });
    expect([...report.touched].sort()).toEqual(['arm_r.ry', 'arm_r.rz', 'hips.tx']);
    expect(curveOf(after, null, 'arm_l.rz')).toBe(curveOf(shot, null, 'arm_l.rz'));
    for (const frame of [0, 2.6, 4, 9.2, 12]) {
      expect(at(after, 'arm_r.rz', frame)).toBeCloseTo(-evaluate(one, frame), 9);
      expect(at(after, 'hips.tx', frame)).toBeCloseTo(-evaluate(curve([0, 0, 12, 8]), frame), 9);
    }
  });

  test('twice it is what it was; placed it shows the same as its keys', () => {
    const action = actionOf({ 'arm_l.rz': one, 'arm_r.ry': curve([0, 0, 5, -20, 12, 3]) }, 12);
    const once = run(shot, 'actions.map', { action, flipped: true }).made as ActionJson;
    const twice = readAction(run(shot, 'actions.map', { action: once, flipped: true }).made);
    for (const [id, own] of readAction(action).curves)
      for (const frame of [0, 3.3, 7, 12])
        expect(evaluate(twice.curves.get(id)!, frame)).toBeCloseTo(evaluate(own, frame), 9);
    expect(twice.curves.size).toBe(2);
    const keys = run(shot, 'actions.apply', { action, frame: 2, flipped: true }).shot;
    const block = run(shot, 'actions.place', { action, frame: 2, flipped: true, rampIn: 0, rampOut: 0 }).shot;
    for (const frame of [2, 5.4, 11, 14])
      expect(at(block, 'arm_r.rz', frame)).toBeCloseTo(at(keys, 'arm_r.rz', frame), 9);
  });
});

describe('mapped', () => {
  test('a sneeze of Bram becomes one of Nib, that fits him by name from then on', () => {
    const shot = ovenDoor();
    const sneeze = shelf().find(({ action }) => action.name === 'Sneeze')!.action;
    const { made, shot: after } = run(shot, 'actions.map', {
      action: sneeze,
      match: 'both',
      character: 'nib',
    });
    expect(after).toBe(shot);
    const nibs = made as ActionJson;
    expect(nibs.name).toBe('Sneeze on Nib');
    expect(Object.keys(nibs.curves)).toContain('skull.rx');
    const bare = { ...shot, curves: shot.curves.map(() => undefined) };
    const here = run(bare, 'actions.apply', {
      action: sneeze,
      frame: 3,
      match: 'both',
      character: 'nib',
    }).shot;
    const there = run(bare, 'actions.apply', { action: nibs, frame: 3 }).shot;
    for (const id of Object.keys(nibs.curves))
      for (const frame of [3, 15.5, 22]) expect(at(there, id, frame)).toBeCloseTo(at(here, id, frame), 6);
  });
});

test('what goes onto two characters is called after neither, but after the shot', () => {
  const bare = puppet({ 'hips.ty': curve([0, 4]) });
  const shot = {
    ...bare,
    characters: [
      { id: 'one', name: 'One' },
      { id: 'two', name: 'Two' },
    ],
    nodes: bare.nodes.map((node, i) => ({ ...node, character: i === 0 ? 'one' : 'two' })),
  };
  const nameOf = (curves: Readonly<Record<ChannelId, Curve>>) =>
    (run(shot, 'actions.map', { action: actionOf(curves, 12) }).made as ActionJson).name;
  const swing = curve([0, 0, 12, 9]);
  expect(nameOf({ 'arm_l.rz': swing })).toBe('One on Two');
  expect(nameOf({ 'hips.ty': swing, 'arm_l.rz': swing })).toBe(`One on ${shot.name}`);
});

describe('renewed', () => {
  const before = actionOf({ 'arm_l.rz': curve([0, 0, 6, 30, 12, 0]) }, 12);
  const now = actionOf({ 'arm_l.rz': curve([0, 0, 6, 80, 18, 0]), 'arm_l.rx': curve([0, 0, 18, 9]) }, 18);
  const shot = () => {
    const one = run(puppet({ 'hips.ty': curve([0, 4]) }), 'actions.place', {
      action: before,
      frame: 2,
      stretch: 2,
      rampIn: 0,
    }).shot;
    const two = run(one, 'actions.place', { action: before, frame: 40 }).shot;
    return run(two, 'actions.setPlacement', { placement: two.layers[1]!.id, to: 7 }).shot;
  };

  test('every placement shows it as it is now: whole ones all of it, parts their part', () => {
    const { shot: after, report } = run(shot(), 'actions.renew', { action: now, stored: 'action-1' });
    expect(report.status).toBe('changed');
    expect(after.layers.map(({ range }) => [range!.start, range!.end])).toEqual([
      [2, 38],
      [40, 47],
    ]);
    expect(at(after, 'arm_l.rz', 14)).toBeCloseTo(80, 9);
    expect(after.actions).toHaveLength(1);
  });

  test('nothing new changes nothing; a locked placement, one that is not there: a sentence', () => {
    const same = run(shot(), 'actions.renew', { action: before, stored: 'action-1' });
    expect(same.report.status).toBe('unchanged');
    const locked = run(shot(), 'filters.set', { filter: shot().layers[0]!.id, locked: true }).shot;
    expect(run(locked, 'actions.renew', { action: now, stored: 'action-1' }).report.findings[0]!.code).toBe(
      'lockedPass',
    );
    expect(run(shot(), 'actions.renew', { action: now, stored: 'gone' }).report.findings[0]!.code).toBe(
      'unknownAction',
    );
  });

  const sides = puppet({ 'arm_l.rz': curve([0, 1, 24, 9]), 'arm_r.rz': curve([0, -2, 24, 7]) });
  const [one, two] = [
    actionOf({ 'arm_l.rz': curve([0, 5, 4, 40, 12, 5]) }, 12),
    actionOf({ 'arm_l.rz': curve([0, -9, 7, 22, 15, 3]), 'hand_l.rx': curve([0, 0, 15, 31]) }, 15),
  ];
  const kept = { id: 'wave', print: 'a' };
  const place = (shot: Shot, action: object, frame: number, more: object = {}) =>
    run(shot, 'actions.place', { action, frame, kept, rampIn: 0, rampOut: 0, ...more }).shot;
  const sameShown = (a: Shot, b: Shot) => {
    for (let frame = 0; frame <= 40; frame += 0.5)
      expect([frame, ...valuesAt(a, frame)]).toEqual([
        frame,
        ...[...valuesAt(b, frame)].map((value) => expect.closeTo(value, 9)),
      ]);
  };

  test('mapped as when it was placed: flipped it stays flipped, what was added to it appears, and all that come from it go along', () => {
    const twice = (action: object) =>
      place(place(sides, action, 2, { flipped: true }), action, 22, { weight: 0.6 });
    const before = twice(one);
    expect(before.actions!.map(({ from }) => from!.mapping.flipped)).toEqual([true, false]);
    const { shot: after, report } = run(before, 'actions.renew', { action: two, stored: 'action-1' });
    expect(report.measures).toContainEqual({ name: 'placements renewed', value: 2, unit: '' });
    sameShown(after, twice(two));
    expect(after.layers[0]!.members).toContain('hand_r');
    // Mapped anew by what is said now.
    const plain = run(before, 'actions.renew', { action: two, stored: 'action-1', asPlaced: false }).shot;
    sameShown(plain, place(place(sides, two, 2), two, 22, { weight: 0.6 }));
  });

  test('flipped in the shot it stays flipped', () => {
    const flip = (shot: Shot) =>
      run(shot, 'poses.flipRange', {}, choose({ nodes: ['arm_l', 'arm_r', 'hand_l', 'hand_r'] })).shot;
    const before = flip(place(sides, one, 2));
    const flipped = before.layers[0]!.settings['action'];
    const after = run(before, 'actions.renew', { action: two, stored: flipped }).shot;
    sameShown(after, flip(place(sides, two, 2)));
    expect(after.actions!.find(({ id }) => id === flipped)!.name).toBe('One (flipped)');
  });

  test('what counted for some controls alone still does; where it comes from is written and read', () => {
    const only = run(
      sides,
      'actions.place',
      { action: two, frame: 2, kept, onlySelected: true, pairs: { tail: null } },
      choose({ nodes: ['arm_l'] }),
    ).shot;
    const again = readShotFile(writeShotFile(only));
    expect(again.actions![0]!.from).toEqual({
      kept,
      mapping: {
        ...{
          match: 'names',
          character: null,
          heights: true,
          times: null,
          flipped: false,
          feet: true,
          path: 'mirrored',
        },
        pairs: { tail: null },
      },
    });
    const print = { id: 'wave', print: 'b' };
    const after = run(again, 'actions.renew', { action: one, stored: 'action-1', kept: print }).shot;
    expect([after.layers[0]!.members, after.actions![0]!.from!.kept]).toEqual([['arm_l'], print]);
  });
});
