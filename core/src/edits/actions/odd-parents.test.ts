/** Actions on figures that hang in something turned, mirrored or uneven: goals show what joints would show, and what carries on begins where the figure stands. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import type { FrameRange } from '../../base/frame-range.ts';
import type { ActionJson } from '../../document/action.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { nightRound } from '../../demo/night-round.ts';
import { valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { formatOf } from '../../interchange/formats.ts';
import { readFile } from '../../interchange/read-file.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { unit } from '../../math/quaternion.ts';
import type { Quaternion } from '../../math/euler.ts';
import { facingOf } from '../../mirror/mirror-plane.ts';
import { AT_REST } from '../../rig/node.ts';
import { actionOf, block, codes, placed, run, walkOf } from '../../testing/placed-actions.ts';
import { bareNode, choose, curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const captured = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01').shot;
const FIRST = 300;

const PARENTS: Readonly<Record<string, { turn?: Quaternion; scale?: [number, number, number] }>> = {
  turned: { turn: unit([0, 0.6, 0, 0.8]) },
  aslant: { turn: unit([0.3, 0.5, -0.2, 0.9]) },
  'twice as large': { scale: [2, 2, 2] },
  mirrored: { scale: [-1, 1, 1] },
  'mirrored and aslant': { turn: unit([0.2, -0.4, 0.3, 0.9]), scale: [1, 1, -1] },
  uneven: { scale: [1.4, 0.8, 1] },
};

/** Everything of a shot within a holder. */
function within(shot: Shot, { turn = [0, 0, 0, 1], scale = [1, 1, 1] }: (typeof PARENTS)[string]): Shot {
  const holder = bareNode('holder', null, {
    rest: { translation: [30, 4, -20], rotation: turn, scale },
  });
  const nodes = [
    holder,
    ...shot.nodes.map((node) => (node.parent === null ? { ...node, parent: 'holder' } : node)),
  ];
  return { ...newShot(shot.name, nodes, shot.relations, shot.rate, shot.range), characters: shot.characters };
}

const bramWithin = (parent: (typeof PARENTS)[string], led: 0 | 1): Shot => {
  const { relations, ...shot } = nightRound();
  const bare = within({ ...shot, relations, range: { start: 0, end: 16 } }, parent);
  const weights = relations.flatMap(({ kind, weight }) => (kind === 'reach' && weight ? [weight] : []));
  return withCurves(bare, null, new Map(weights.map((id) => [id, constantCurve(led)])));
};

const takeOf = (shot: Shot, range: FrameRange) =>
  runEdit('actions.save', shot, choose({ range, nodes: shot.nodes.map(({ id }) => id) }), { name: 'Walk' })
    .made as ActionJson;
const action = { ...takeOf(captured, { start: FIRST, end: FIRST + 16 }), rate: nightRound().rate };

/** By how much what two shots show in the channels of one is apart at most. */
function apartOn(ids: readonly string[], one: Shot, other: Shot): number {
  const [a, b] = [rigOf(one), rigOf(other)];
  let worst = 0;
  for (const frame of [0, 5, 11, 16]) {
    const [p, q] = [valuesAt(one, frame).slice(), valuesAt(other, frame)];
    for (const id of ids) worst = Math.max(worst, Math.abs(p[a.channelIndex(id)]! - q[b.channelIndex(id)]!));
  }
  return worst;
}

const allOf = (shot: Shot) => rigOf(shot).channels.map(({ id }) => id);

/** By how much joints of two shots lie apart at most, cm. */
function placesApart(one: Shot, other: Shot): number {
  const [a, b] = [rigOf(one), rigOf(other)];
  let worst = 0;
  for (const frame of [0, 5, 11, 16]) {
    const [p, q] = [worldAt(one, frame).matrices.slice(), worldAt(other, frame).matrices];
    for (const { id, character } of one.nodes) {
      if (character !== 'bram') continue;
      const [i, j] = [16 * a.indexOf(id) + 12, 16 * b.indexOf(id) + 12];
      worst = Math.max(worst, Math.hypot(...[0, 1, 2].map((axis) => p[i + axis]! - q[j + axis]!)));
    }
  }
  return worst;
}

describe.each(Object.entries(PARENTS))('in a holder that is %s', (_, parent) => {
  const lay = (shot: Shot, more: object) =>
    runEdit('actions.apply', shot, choose({}), { action, match: 'both', frame: 0, limbs: 'goals', ...more });

  test.each([{}, { flipped: true }, { feet: false, heights: false }])(
    '01_01.bvh goes onto him as onto one who stands in the world: %j',
    (more) => {
      const [held, free] = [lay(bramWithin(parent, 0), more), lay(bramWithin({}, 0), more)];
      expect(codes(held)).toEqual(codes(free));
      const ids = rigOf(free.shot).channels.map(({ id }) => id);
      expect(apartOn(ids, held.shot, free.shot)).toBeLessThan(1e-6);
      expect(apartOn(ids, held.shot, bramWithin(parent, 0))).toBeGreaterThan(10);
    },
  );

  test('by goals he stands where he stands by joints, hands and feet turned as they are', () => {
    const [goals, joints] = [
      lay(bramWithin(parent, 1), { feet: false }),
      lay(bramWithin(parent, 0), { feet: false }),
    ];
    expect(codes(goals)).toContain('goalsKeyed');
    const rig = rigOf(goals.shot);
    let worst = 0;
    for (const frame of [0, 5, 11, 16]) {
      const [a, b] = [worldAt(goals.shot, frame).matrices.slice(), worldAt(joints.shot, frame).matrices];
      for (const joint of ['forearm_r', 'shin_r', 'index_l', 'fingers_r', 'toe_l', 'toe_r', 'foot_l']) {
        const at = 16 * rig.indexOf(joint) + 12;
        worst = Math.max(worst, Math.hypot(...[0, 1, 2].map((axis) => a[at + axis]! - b[at + axis]!)));
      }
    }
    expect(worst).toBeLessThan(1e-6);
  });

  test('what he did is laid on him again as it was, also from an action of before holders were told apart', () => {
    const shown = lay(bramWithin(parent, 0), { feet: false }).shot;
    const own = takeOf(shown, { start: 0, end: 16 });
    const { skeleton } = own;
    const before = {
      facing: facingOf(shown, 'bram').degrees,
      bones: skeleton!.bones.map(({ carrier: _told, ...bone }) => bone),
    };
    const ids = Object.keys(own.curves);
    expect(ids.length).toBeGreaterThan(60);
    for (const skeletonThen of [skeleton!, before]) {
      const again = lay(bramWithin(parent, 0), { action: { ...own, skeleton: skeletonThen } });
      expect(apartOn(ids, again.shot, shown)).toBeLessThan(1e-9);
    }
  });

  test('a block of it shows on after all that it meets', async () => {
    // Led by goals in every other holder.
    const led = Object.values(PARENTS).indexOf(parent) % 2 === 0 ? 1 : 0;
    const empty = bramWithin(parent, led);
    const laid = placed(empty, action, 0, { match: 'both' });
    expect(apartOn(allOf(laid), laid, empty)).toBeGreaterThan(10);
    const id = { placement: block(laid).id };
    const whole = choose({ range: laid.range, nodes: laid.nodes.map((node) => node.id) });
    const onPass = run(laid, 'actions.toKeys', { ...id, onto: 'pass' });
    expect(codes(onPass)).not.toContain('bakedOver');
    const merged = run(onPass.shot, 'passes.merge', { which: 'all' }).shot;
    const changes: Record<string, Shot> = {
      ...{ keyed: run(laid, 'actions.toKeys', id).shot, merged },
      baked: run(merged, 'spaces.bake', { keys: 'every' }, whole).shot,
      'in a variant': run(run(laid, 'variants.save', {}).shot, 'variants.bakeOut', { variant: 'variant-1' })
        .shot,
    };
    for (const format of ['.kneader.json', '.kneader.zip', '.glb'] as const) {
      const name = `Bram${format}`;
      const bytes = await formatOf(name)!.write(laid);
      const { shot } = await readFile(
        name,
        typeof bytes === 'string' ? new TextEncoder().encode(bytes) : bytes,
      );
      changes[`written to ${format}`] = shot;
    }
    for (const [change, shot] of Object.entries(changes)) {
      expect([change, shot === laid]).toEqual([change, false]);
      expect([change, placesApart(laid, shot) < 0.1]).toEqual([change, true]);
    }
  });

  test('two walks after each other go on from where the figure stands, also when the first is stretched', () => {
    const keys = { 'hips.tx': curve([0, 30, 4, 38]), 'hips.ry': curve([0, 15, 6, 40]) };
    const base = withCurves(within(puppet(), parent), null, new Map(Object.entries(keys)));
    const first = placed(base, walkOf(70, 'First'), 4, { carryOn: true });
    const both = placed(first, walkOf(-20, 'Second'), 14, { carryOn: true });
    const moved = run(both, 'actions.setPlacement', { placement: block(both, 0).id, stretch: 1.35 });
    expect(codes(moved)).toContain('carriedAnew');
    const hips = (shot: Shot, frame: number) => {
      const at = 16 * rigOf(shot).indexOf('hips');
      return worldAt(shot, frame).matrices.slice(at, at + 16);
    };
    for (const shot of [both, moved.shot])
      shot.layers.forEach((_layer, i) => {
        const { start } = block(shot, i).range;
        const [was, is] = [i, i + 1].map((count) =>
          hips({ ...shot, layers: shot.layers.slice(0, count) }, start),
        ) as [Float64Array, Float64Array];
        expect(Math.max(...is.map((value, k) => Math.abs(value - was[k]!)))).toBeLessThan(1e-9);
      });
  });
});

test('where he is said to face is said in the world, also in a holder that is turned', () => {
  const turned = { turn: unit([0, 0.6, 0, 0.8]) };
  const heading = (2 * Math.atan2(0.6, 0.8) * 180) / Math.PI;
  const [free, held] = [
    [{}, 20],
    [turned, 20 + heading],
  ].map(([parent, facing]) => {
    const shot = bramWithin(parent as object, 0);
    const characters = shot.characters.map((one) => ({ ...one, facing: facing as number }));
    return runEdit('actions.apply', { ...shot, characters }, choose({}), {
      ...{ action, match: 'both', frame: 0, flipped: true },
    }).shot;
  }) as [Shot, Shot];
  expect(
    apartOn(
      rigOf(free).channels.map(({ id }) => id),
      held,
      free,
    ),
  ).toBeLessThan(1e-6);
});

test('where nothing travels, or over ground of the figure’s own that leans, whoever asks to carry on is told', () => {
  const nod = actionOf({ 'arm_l.rz': curve([0, 0, 9, 5]) }, 9);
  const leaning = puppet();
  const nodes = leaning.nodes.map((node) => (node.parent === null ? { ...node, parent: 'mover' } : node));
  const mover = bareNode('mover', null, {
    character: 'puppet',
    rest: { ...AT_REST, rotation: unit([0.4, 0, 0, 1]) },
  });
  const walk = actionOf({ 'hips.tz': curve([0, 0, 10, 50]) }, 10);
  for (const edit of ['actions.apply', 'actions.place'])
    for (const [shot, one] of [
      [puppet(), nod],
      [{ ...leaning, nodes: [...nodes, mover] }, walk],
    ] as const) {
      expect(codes(run(shot, edit, { action: one, frame: 2, carryOn: true }))).toContain('nothingTravels');
      expect(codes(run(shot, edit, { action: one, frame: 2 }))).not.toContain('nothingTravels');
    }
});
