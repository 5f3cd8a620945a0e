/**
 * The law of flips: what shows on each whole frame of what was flipped is the mirror image of what showed, through passes, filters and blocks; outside of it
 * nothing moves. Over seeded stacks, in place, over a part, and placed after.
 */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Layer } from '../../layers/layer.ts';
import { worldAt } from '../../evaluation/evaluation.ts';
import { angleBetween, mirrorX } from '../../math/quaternion.ts';
import { placeIn } from '../../evaluation/evaluation.ts';
import { rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { stateOf } from '../../document/variants.ts';
import { choose, curve, filter, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

/** Of which the origin and the turn are compared; the puppet's rest is its own mirror image. */
const SEEN = ['hips', 'arm_l', 'arm_r', 'hand_l', 'hand_r'];

function gap(a: Shot, p: number, b: Shot, q: number): number {
  const rig = rigOf(a);
  const [was, now] = [worldAt(a, p), worldAt(b, q)];
  return Math.max(
    ...SEEN.map((id) => {
      const i = rig.indexOf(id);
      const j = rig.indexOf(rig.nodes[i]!.pair!);
      const [x, y, z] = placeIn(was, i);
      const [u, v, w] = placeIn(now, j);
      const turn = angleBetween(
        now.turns.slice(j * 4, j * 4 + 4),
        mirrorX(was.turns.slice(i * 4, i * 4 + 4)),
      );
      return Math.max(Math.hypot(u + x, v - y, w - z), turn);
    }),
  );
}
function apart(a: Shot, b: Shot, frame: number): number {
  const [was, now] = [worldAt(a, frame).matrices, worldAt(b, frame).matrices];
  return Math.max(...was.map((value, k) => Math.abs(value - now[k]!)));
}

const base = puppet({
  'hips.ty': curve([0, 0, 9, 6, 24, -3]),
  'arm_l.rz': curve([0, 10, 7, 50, 16, -30, 24, 12]),
  'arm_r.rz': curve([0, -35, 13, 4, 24, -20]),
  'hand_l.rx': curve([0, 7, 12, -25, 24, 9]),
  'hand_r.rx': curve([3, 0, 20, 30]),
});
const range = fc.constantFrom(null, { start: 3, end: 11 }, { start: 6, end: 20 }, { start: 0, end: 24 });
const members = fc.constantFrom<string[]>(['arm_l'], ['arm_l', 'hand_l'], ['hand_r'], ['arm_l', 'arm_r']);
const ranged = (one: Layer, at: { start: number; end: number } | null): Layer => ({
  ...one,
  range: at && { ...at, rampIn: 0, rampOut: 0 },
});
/** Filters that look at no other time than the drawing, shift, smooth and spring where all of it is flipped. */
const still = fc
  .tuple(
    members,
    range,
    fc.constantFrom<object>({ pattern: [2] }, { pattern: [3], first: 1 }, { like: 'arm_l' }),
  )
  .map(([of, at, settings]) => ranged(filter('step', [...of], settings, { id: 'step' }), at));
const looking = fc
  .tuple(
    members,
    fc.constantFrom<[string, object]>(['smooth', { width: 5 }], ['shift', { frames: 1.5 }], ['spring', {}]),
  )
  .map(([of, [kind, settings]]) => filter(kind, of, settings, { id: kind }));
const keyed = fc.tuple(fc.constantFrom('offset', 'replace'), range, fc.boolean()).map(([kind, at, weighed]) =>
  ranged(
    pass('over', {
      kind,
      members: ['arm_l', 'hand_r'],
      ...(weighed && { weight: curve([0, 0.2, 24, 0.9]) }),
      rotations: 'channels',
    }),
    at,
  ),
);
const withKeys = (shot: Shot): Shot =>
  shot.layers.some(({ id }) => id === 'over')
    ? withCurves(
        shot,
        'over',
        new Map([
          ['arm_l.rz', curve([2, 0, 10, 30, 21, 0])],
          ['hand_r.rx', curve([5, 0, 9, 12, 20, 0])],
        ]),
      )
    : shot;
const block: Layer = filter(
  'placement',
  ['arm_l'],
  { action: 'wave', first: 8, factor: 1, from: 0, to: 6 },
  { id: 'block', range: { start: 8, end: 14, rampIn: 2, rampOut: 2 } },
);
const wave = {
  id: 'wave',
  name: 'Wave',
  length: 6,
  curves: withCurves({ ...base, curves: [] }, null, new Map([['arm_l.rz', curve([0, 3, 3, 60, 6, 3])]]))
    .curves,
};

test('in place, as a whole: any stack', () => {
  fc.assert(
    fc.property(still, looking, keyed, fc.boolean(), (step, look, over, placed) => {
      const shot = withKeys({
        ...base,
        actions: [wave],
        layers: [over, look, step, ...(placed ? [block] : [])],
      });
      const { shot: after, report } = runEdit('poses.flipRange', shot, choose({}), { plane: 'world' });
      expect(report.findings.map(({ code }) => code)).not.toContain('placementsUnflipped');
      for (let frame = 0; frame <= 24; frame += 1)
        expect([frame, gap(shot, frame, after, frame)]).toEqual([frame, expect.closeTo(0, 5)]);
      const again = runEdit('poses.flipRange', after, choose({}), { plane: 'world' }).shot;
      for (let frame = 0; frame <= 24; frame += 4) expect(apart(shot, again, frame)).toBeLessThan(1e-6);
    }),
    { numRuns: 60 },
  );
});

test('over a part: inside the mirror image, outside what it was', () => {
  fc.assert(
    fc.property(
      still,
      keyed,
      fc.integer({ min: 1, max: 7 }),
      fc.integer({ min: 15, max: 23 }),
      (step, over, start, end) => {
        const shot = withKeys({ ...base, actions: [wave], layers: [over, block, step] });
        const variants = [{ id: 'v', name: 'V', states: stateOf(shot) }];
        const { shot: after } = runEdit(
          'poses.flipRange',
          { ...shot, variants },
          choose({ range: { start, end } }),
          {
            plane: 'world',
          },
        );
        // A drawing that began ahead of the range is seen in it: what it shows was not flipped.
        for (let frame = 0; frame <= 24; frame += 1) {
          const begun = frame >= start && frame < start + 3;
          const crosses = step.settings['like'] !== null && step.settings['like'] !== undefined;
          if (crosses || begun) continue;
          if (frame >= start && frame <= end)
            expect([frame, gap(shot, frame, after, frame)]).toEqual([frame, expect.closeTo(0, 5)]);
          else if (frame < start || frame > end + 3)
            expect([frame, apart(shot, after, frame)]).toEqual([frame, expect.closeTo(0, 6)]);
        }
        for (const { id } of after.layers)
          expect(after.variants![0]!.states.some(({ layer }) => layer === id)).toBe(true);
      },
    ),
    { numRuns: 60 },
  );
});

/** Half a cycle: it ends as the mirror image of how it begins. */
const half = puppet({
  'hips.ty': curve([0, 0, 9, 6, 24, 0]),
  'arm_l.rz': curve([0, 10, 7, 50, 16, -30, 24, 35]),
  'arm_r.rz': curve([0, -35, 13, 4, 24, -10]),
  'hand_l.rx': curve([0, 7, 12, -25, 24, 9]),
  'hand_r.rx': curve([0, 9, 20, 30, 24, 7]),
});

test('placed after: the second half is the mirror image of the first, which stays', () => {
  fc.assert(
    fc.property(still, keyed, fc.boolean(), (step, over, placed) => {
      const shot = withKeys({ ...half, actions: [wave], layers: [over, ...(placed ? [block] : []), step] });
      const { shot: after } = runEdit('poses.flipRange', shot, choose({}), { plane: 'world', append: true });
      for (let frame = 0; frame <= 23; frame += 1)
        expect([frame, apart(shot, after, frame)]).toEqual([frame, expect.closeTo(0, 6)]);
      const like = typeof step.settings['like'] === 'string';
      for (let frame = 3; frame <= 24; frame += 1)
        if (!like)
          expect([frame, gap(shot, frame, after, frame + 24)]).toEqual([frame, expect.closeTo(0, 5)]);
    }),
    { numRuns: 60 },
  );
});

test('what has no mirror image, a block that is cut, and what is locked are named', () => {
  const wobble = filter('wobble', ['arm_l'], {}, { id: 'wobble', name: 'Shake' });
  const locked = filter('smooth', ['hand_l'], {}, { id: 'smooth', name: 'Soft', locked: true });
  const shot = { ...base, actions: [wave], layers: [{ ...block, name: 'Wave' }, wobble, locked] };
  const { report } = runEdit('poses.flipRange', shot, choose({ range: { start: 0, end: 10 } }), {
    plane: 'world',
  });
  const said = (code: string) =>
    report.findings.filter((one) => one.code === code).map(({ sentence }) => sentence);
  expect(said('noMirrorImage')).toEqual([expect.stringContaining('Shake')]);
  expect(said('placementsUnflipped')).toEqual([expect.stringContaining('Wave')]);
  expect(said('lockedPass')).toEqual([expect.stringContaining('Soft')]);
});

test('where all that lies over it is locked, that is said; a block that is placed after too shows in the variants that showed it', () => {
  const soft = filter('smooth', ['hand_l'], {}, { id: 'smooth', name: 'Soft', locked: true });
  const only = runEdit('poses.flipRange', { ...base, layers: [soft] }, choose({}), { plane: 'world' });
  expect(only.report.findings.map(({ code }) => code)).toContain('lockedPass');
  const shot = { ...half, actions: [wave], layers: [block] };
  const variants = [{ id: 'v', name: 'V', states: stateOf(shot) }];
  const { shot: after } = runEdit('poses.flipRange', { ...shot, variants }, choose({}), {
    plane: 'world',
    append: true,
  });
  expect(after.layers).toHaveLength(2);
  expect(after.variants![0]!.states.map(({ layer, muted }) => [layer, muted])).toEqual(
    after.layers.map(({ id }) => [id, false]),
  );
});
