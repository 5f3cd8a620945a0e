/** What is measured when a relation is set up: a target more changes nothing on its frame, also when it is switched to; other settings say what they move. */
import { describe, expect, test } from '@jest/globals';
import { constantCurve, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { curve, choose } from '../../testing/shot-literals.ts';
import { apart, done, last, targetsFor, whole } from '../../testing/spaces.ts';
import { randomRig } from '../../testing/random-rigs.ts';
import { runEdit } from '../run-edit.ts';

describe.each([1, 2, 3, 4, 5, 6])('seed %i', (seed) => {
  const rig = randomRig(seed);
  const [a, b] = targetsFor(rig);
  const node = last(rig);
  const made = (options: object) =>
    done(rig, 'spaces.add', { targets: [a, b], frame: 5, ...options }, choose({ nodes: [node] }));
  const weighed = (shot: Shot, weight: number) =>
    withCurves(shot, null, new Map([[shot.relations[0]!.weight!, constantCurve(weight, 0)]]));
  const switchedTo = (shot: Shot, target: number) =>
    withCurves(shot, null, new Map([[shot.relations[0]!.switch!, constantCurve(target, 0)]]));

  test.each(
    ['parent', 'position', 'orientation'].flatMap((kind) =>
      [1, 0.35].map((weight) => [kind, weight] as const),
    ),
  )(
    'a target more of %s at weight %d gives what shows on the frame that it is measured on',
    (kind, weight) => {
      const shot = weighed(made({ kind }), weight);
      const { relations } = shot;
      const more = done(shot, 'spaces.set', { relation: relations[0]!.id, add: ['world'], frame: 9 });
      expect(apart(shot, more, node, whole)).toBe(0);
      expect(apart(shot, switchedTo(more, 2), node, [9])).toBeLessThan(1e-9);
      // Seen to matter: elsewhere the world carries it another way.
      expect(apart(shot, switchedTo(more, 2), node, [20])).toBeGreaterThan(0.01);
    },
  );

  test('switching keeps the motion after it as nearly as is asked', () => {
    const shot = made({ motion: 'stay' });
    const keysAt = (space: number, turn: number) => {
      const after = done(shot, 'spaces.switch', {
        relation: shot.relations[0]!.id,
        frame: 11,
        to: 1,
        space,
        turn,
      });
      expect(
        apart(
          shot,
          after,
          node,
          whole.filter((frame) => frame >= 11),
        ),
      ).toBeLessThan(space / 10 + 0.05);
      return after.curves.reduce(
        (sum, own) => sum + Object.values(own ?? {}).reduce((all, { times }) => all + times.length, 0),
        0,
      );
    };
    expect(keysAt(0.5, 0.1)).toBeGreaterThan(keysAt(300, 90));
  });

  test('another axis of an aim that was made where it stood turns nothing on its frame, and says what it turns elsewhere', () => {
    const shot = done(rig, 'spaces.add', { kind: 'aim', targets: [a], frame: 5 }, choose({ nodes: [node] }));
    const relation = shot.relations[0]!.id;
    const other = runEdit('spaces.set', shot, choose({}), {
      relation,
      settings: { axis: '+x', up: '+z' },
      frame: 5,
    });
    expect(apart(shot, other.shot, node, [5])).toBeLessThan(1e-9);
    const loose = done(
      rig,
      'spaces.add',
      { kind: 'aim', targets: [a], frame: 5, keep: false },
      choose({ nodes: [node] }),
    );
    const jumped = runEdit('spaces.set', loose, choose({}), { relation, settings: { axis: '-x' }, frame: 5 });
    const said = jumped.report.findings.find(({ code }) => code === 'settingsMove');
    expect(said?.sentence).toMatch(/change the motion: by up to .* mm and [0-9.]+°, most at n\d+ on frame/);
  });
});

test('a target that is measured under shares that are all nothing lies where the node does', () => {
  const rig = randomRig(3);
  const [a, b] = targetsFor(rig);
  const node = last(rig);
  const shot = done(
    rig,
    'spaces.add',
    { kind: 'position', targets: [a, b], several: 'blend', frame: 5 },
    choose({ nodes: [node] }),
  );
  const none = withCurves(
    shot,
    null,
    new Map(shot.relations[0]!.targets.map(({ share }) => [share!, curve([0, 0])] as const)),
  );
  const more = done(none, 'spaces.set', { relation: shot.relations[0]!.id, add: ['world'], frame: 9 });
  expect(apart(none, more, node, [9])).toBeLessThan(1e-9);
});
