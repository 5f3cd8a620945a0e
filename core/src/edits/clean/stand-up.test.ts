/** A character that lies by its file's axes: found, stood up, and the same motion turned; against the same capture written with y up. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { uprightOf } from '../../bodies/upright.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { nibNodes } from '../../demo/nib-rig.ts';
import { curveOf, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { readFile } from '../../interchange/read-file.ts';
import { AT_REST } from '../../rig/node.ts';
import type { Node, Vector } from '../../rig/node.ts';
import { nodeStoodUp, stoodUp, UPRIGHTS } from '../../rig/upright.ts';
import type { Upright } from '../../rig/upright.ts';
import { anyFigure } from '../../testing/any-figure.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { openData } from '../../testing/open-data.ts';
import { withZUp } from '../../testing/z-up-bvh.ts';
import { bareNode, choose, curve, pass, RATE } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const run = (shot: Shot, edit: string, options: object = {}) => runEdit(edit, shot, choose({}), options);
const codes = ({ report }: ReturnType<typeof run>) => report.findings.map(({ code }) => code);
const bytes = (text: string) => new TextEncoder().encode(text);

/** What is up in a figure whose y is up, once it is turned so that another axis is. */
const OTHER: Readonly<Record<Upright, Upright>> = {
  '+y': '+y',
  ...{ '+z': '-z', '-z': '+z', '+x': '-x', '-x': '+x', '-y': '-y' },
};
const laidDown = (shot: Shot, up: Upright): Shot => ({
  ...shot,
  nodes: shot.nodes.map((node) => (node.parent === null ? nodeStoodUp(OTHER[up], node) : node)),
});

describe('a capture with z up', () => {
  test('is said where it is opened, found, and stood up it has the places of the one with y up, keys and all', async () => {
    const text = new TextDecoder().decode(openData('BVH/01_01.bvh'));
    const plain = await readFile('a.bvh', bytes(text));
    const lying = await readFile('a.bvh', bytes(withZUp(text)));
    expect(plain.findings.map(({ code }) => code)).not.toContain('anotherAxisUp');
    expect(lying.findings.map(({ code }) => code)).toContain('anotherAxisUp');
    expect([uprightOf(plain.shot, 'figure'), uprightOf(lying.shot, 'figure')]).toEqual(['+y', '+z']);
    const done = run(lying.shot, 'clean.standUp');
    const [own, rig] = [rigOf(done.shot), rigOf(plain.shot)];
    for (let frame = 0; frame <= 2750; frame += 137.5) {
      const [a, b] = [worldAt(done.shot, frame), worldAt(plain.shot, frame)];
      for (const { id } of plain.shot.nodes) {
        const [at, wanted] = [placeIn(a, own.indexOf(id)), placeIn(b, rig.indexOf(id))];
        at.forEach((value, axis) => expect(Math.abs(value - wanted[axis]!)).toBeLessThan(1e-9));
      }
    }
    const up = curveOf(plain.shot, null, 'Hips.ty');
    expect([...curveOf(done.shot, null, 'Hips.ty').values]).toEqual([...up.values]);
    expect(uprightOf(done.shot, 'figure')).toBe('+y');
  });
});

describe('which way is up', () => {
  test('y is for every character of the demo', () => {
    for (const { make } of DEMO_SHOTS) {
      const shot = make();
      for (const { id } of shot.characters)
        expect([shot.name, id, uprightOf(shot, id)]).toEqual([shot.name, id, '+y']);
    }
  });

  test('is found for figures of any make that are turned any way', () => {
    fc.assert(
      fc.property(
        fc.record({
          seed: fc.nat(999),
          size: fc.double({ min: 0.01, max: 2, noNaN: true }),
          arms: fc.constantFrom(0, 20, 45, 60),
          spine: fc.integer({ min: 1, max: 5 }),
          above: fc.constantFrom('none', 'ground', 'cog'),
          pelvis: fc.boolean(),
          fingers: fc.constantFrom(0, 3, 5),
          axes: fc.boolean(),
          facing: fc.constantFrom(0, 90, -40, 180),
        }),
        fc.constantFrom(...UPRIGHTS),
        (make, up) => {
          const nodes = anyFigure(make as never).skeleton.bones.map((bone): Node => ({
            ...bone,
            ...{ kind: 'joint', pair: null, part: 'extra', character: 'a', solids: [] },
            rest: { ...AT_REST, ...bone.rest },
          }));
          const shot = newShot('Any', nodes, [], RATE, { start: 0, end: 9 });
          expect(uprightOf(laidDown(shot, up), 'a')).toBe(up);
        },
      ),
      { numRuns: 150 },
    );
  });

  test('is not said of who lies in the shot, nor of what has no limbs: then it must be named', () => {
    const nib = newShot('Nib', nibNodes(), [], RATE, { start: 0, end: 9 });
    const root = nib.nodes.find(({ parent }) => parent === null)!;
    const asleep = withCurves(nib, null, new Map([[`${root.id}.rx`, curve([0, -90])]]));
    expect(uprightOf(asleep, 'nib')).toBe('+y');
    const rises = withCurves(laidDown(nib, '+z'), null, new Map([[`${root.id}.rx`, curve([0, -90])]]));
    expect(uprightOf(rises, 'nib')).toBe(null);
    expect(codes(run(rises, 'clean.standUp', { character: 'nib' }))).toEqual(['upUnknown']);
    expect(codes(run(rises, 'clean.standUp', { character: 'nib', up: '+z' }))).toEqual(['stoodUp']);
    const crate = newShot('Crate', [bareNode('crate', null, { character: 'c' })], [], RATE, {
      start: 0,
      end: 9,
    });
    expect(uprightOf(crate, 'c')).toBe(null);
  });
});

describe('what is stood up', () => {
  const any = (channels: readonly string[]): Shot =>
    newShot(
      'Any',
      [
        bareNode('top', null, {
          ...{ character: 'a', channels, order: 'zxy' },
          rest: { translation: [3, -8, 5], rotation: [0.1, -0.5, 0.3, Math.sqrt(0.65)], scale: [1, 2, 0.5] },
        }),
        bareNode('arm', 'top', { character: 'a', rest: { ...AT_REST, translation: [0, 9, 2] } }),
        bareNode('goal', null, { character: 'a' }),
        bareNode('crate', null, {}),
      ],
      [],
      RATE,
      { start: 0, end: 20 },
    );
  const whole = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sy'];
  /** How far a point of a node lies from where it should: turned from where it was, or there still. */
  const off = (before: Shot, after: Shot, up: Upright, node: string, frame: number): number => {
    const point = (shot: Shot): Vector => {
      const m = worldAt(shot, frame).matrices.slice(rigOf(shot).indexOf(node) * 16);
      const at = (row: number) => 2 * m[row]! - m[4 + row]! + 3 * m[8 + row]! + m[12 + row]!;
      return [at(0), at(1), at(2)];
    };
    const [was, is] = [point(before), point(after)];
    const wanted = node === 'crate' ? was : stoodUp(up, was);
    return Math.hypot(...is.map((value, axis) => value - wanted[axis]!));
  };

  test('turns as a whole, passes, leads, stored actions and sizes with it, and nothing of others', () => {
    fc.assert(
      fc.property(
        fc.array(anyCurve({ weighted: true }), { minLength: 7, maxLength: 7 }),
        fc.constantFrom(...UPRIGHTS),
        fc.constantFrom(whole, ['tz', 'rx'], ['ty', 'ry', 'tx'], ['rx']),
        (curves, up, channels) => {
          const bare = any(channels);
          const own = channels.map((name, i): [string, (typeof curves)[number]] => [
            `top.${name}`,
            curves[i]!,
          ]);
          const based = withCurves(
            bare,
            null,
            new Map([...own, ['arm.rz', curves[5]!], ['goal.ty', curves[6]!], ['crate.tz', curves[0]!]]),
          );
          const over = { ...based, layers: [pass('over', { weight: curve([0, 0.3, 20, 1]) })] };
          const laid = new Map([['goal.tx', curves[3]!]]);
          if (channels.includes('tz')) laid.set('top.tz', curves[2]!);
          const shot = withCurves(over, 'over', laid);
          const after = run(shot, 'clean.standUp', { character: 'a', up }).shot;
          for (const node of ['top', 'arm', 'goal', 'crate'])
            for (const frame of [-3.2, 0, 4, 7.71, 19, 31])
              expect(off(shot, after, up, node, frame)).toBeLessThan(1e-7);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('takes along what names a channel: locks, what is selected, signs set by hand, actions that lie in the shot', () => {
    const bare = any(['tz', 'rx']);
    const shot: Shot = {
      ...withCurves(
        bare,
        null,
        new Map([
          ['top.rx', curve([0, 4])],
          ['top.tz', curve([2, 1])],
        ]),
      ),
      nodes: bare.nodes.map((node) => (node.id === 'top' ? { ...node, flipSigns: { tz: -1, rx: 1 } } : node)),
      locked: ['arm.rz'],
      actions: [{ id: 'action-1', name: 'Hop', length: 9, curves: [{ tz: curve([0, 3, 9, 5]) }] }],
    };
    const chosen = choose({
      channels: ['top.tz', 'arm.rz'],
      keys: { 'top.tz': [...curveOf(shot, null, 'top.tz').ids] },
    });
    const { shot: after, selection } = runEdit('clean.standUp', shot, chosen, { character: 'a', up: '-z' });
    expect(after.nodes[0]!.channels).toEqual(['ty', 'rx']);
    expect(after.nodes[0]!.flipSigns).toEqual({ ty: -1, rx: 1 });
    expect(selection.channels).toEqual(['top.ty', 'arm.rz']);
    expect(selection.keys).toEqual({ 'top.ty': chosen.keys['top.tz'] });
    expect([...after.actions![0]!.curves[0]!['ty']!.values]).toEqual([-3, -5]);
    expect(after.locked).toEqual(['arm.rz']);
  });

  test('is refused, by name, where something would not turn along or is locked', () => {
    const shot = any(whole);
    const tried = (changed: Shot) => {
      const { report, shot: after } = run(changed, 'clean.standUp', { character: 'a', up: '+z' });
      expect(after).toBe(changed);
      return report.findings.map(({ code, sentence }) => [code, /: (.*?)\. /.exec(sentence)?.[1]]);
    };
    const added = (options: object, nodes: readonly string[]) =>
      runEdit('filters.add', shot, choose({ nodes: [...nodes] }), options).shot;
    expect(tried(added({ kind: 'smooth', name: 'Calm' }, ['top']))).toEqual([['axesInTheWay', 'Calm']]);
    expect(
      run(added({ kind: 'smooth' }, ['arm']), 'clean.standUp', { character: 'a', up: '+z' }).report.status,
    ).toBe('changed');
    const world = runEdit('spaces.add', shot, choose({ nodes: ['arm'] }), {
      kind: 'parent',
      targets: ['world'],
      frame: 0,
    });
    expect([world.report.status, tried(world.shot)]).toEqual(['changed', [['axesInTheWay', 'arm']]]);
    const inside = runEdit('spaces.add', shot, choose({ nodes: ['arm'] }), {
      kind: 'parent',
      targets: ['goal'],
      frame: 0,
    });
    expect(inside.report.status).toBe('changed');
    expect(run(inside.shot, 'clean.standUp', { character: 'a', up: '+z' }).report.status).toBe('changed');
    expect(tried({ ...shot, locked: ['top.ty'] })).toEqual([['lockedInTheWay', 'top.ty']]);
  });
});
