/**
 * Open captured motion (CMU 01_01 and 01_03, and Boxing_Toes; Debian's assimp-testmodels) onto Bram, by his goals and by his joints, and onto Nib: feet
 * stay where they stood, and no joint turns by more from a frame to the next than the one that it stands for.
 */
import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import type { ActionJson } from '../../document/action.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { worldsOver } from '../../evaluation/evaluation.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { mappingOf } from '../../mapping/map-action.ts';
import { angleBetween } from '../../math/quaternion.ts';
import type { Quaternion } from '../../math/euler.ts';
import { choose } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

/** Frames of the file that are taken: in each there is a stand, a step and a turn. */
const FILES = {
  '01_01': { start: 300, end: 520 },
  '01_03': { start: 300, end: 520 },
  Boxing_Toes: { start: 60, end: 280 },
} as const;
/** Degrees a frame: what turns by more than that must have turned so in the capture. */
const MOST = 30;

const captures = Object.fromEntries(
  Object.keys(FILES).map((name) => [
    name,
    readBvh(readFileSync(`/usr/share/assimp/models/BVH/${name}.bvh`, 'utf8'), name).shot,
  ]),
) as Record<keyof typeof FILES, Shot>;

/** A demo's figures at rest, for as many frames; limbs led by goals or by joints. */
function figures(demo: string, led: 0 | 1, { rate }: Shot, last: number): Shot {
  const { nodes, relations, characters } = DEMO_SHOTS.find(({ id }) => id === demo)!.make();
  const limbs = relations.filter(({ kind }) => kind === 'reach');
  const bare = { ...newShot('', nodes, limbs, rate, { start: 0, end: last }), characters };
  const weights = limbs.flatMap(({ weight }) => (weight === null ? [] : [weight]));
  return withCurves(bare, null, new Map(weights.map((id) => [id, constantCurve(led)])));
}

const ONTO = {
  'Bram by goals': ['night-round', 1, 'bram'],
  'Bram by joints': ['night-round', 0, 'bram'],
  Nib: ['oven-door', 0, 'nib'],
} as const;

/** Degrees that nodes turn by in the world from each frame to the next, by node and frame. */
function turning(shot: Shot, ids: readonly string[], frames: Float64Array): number[][] {
  const rows = ids.map(rigOf(shot).indexOf);
  const found: number[][] = ids.map(() => []);
  let before: Quaternion[] | null = null;
  for (const { pose } of worldsOver(shot, frames)) {
    const now = rows.map((row) => [...pose.turns.subarray(row * 4, row * 4 + 4)] as Quaternion);
    now.forEach((turn, k) => before && found[k]!.push(angleBetween(before[k]!, turn)));
    before = now;
  }
  return found;
}

const NAMES = Object.keys(FILES) as (keyof typeof FILES)[];
test.each(
  NAMES.flatMap((file) => Object.keys(ONTO).map((onto) => [file, onto as keyof typeof ONTO] as const)),
)('%s onto %s', (file, onto) => {
  const capture = captures[file];
  const range = FILES[file];
  const last = range.end - range.start;
  const [demo, led, character] = ONTO[onto];
  const action = runEdit(
    'actions.save',
    capture,
    choose({ range, nodes: capture.nodes.map(({ id }) => id) }),
    { name: 'Take' },
  ).made as ActionJson;
  const empty = figures(demo, led, capture, last);
  const { shot, report } = runEdit('actions.apply', empty, choose({}), {
    ...{ action, match: 'both', frame: 0, character, limbs: 'goals' },
  });
  expect(report.status).toBe('changed');
  const { pairs } = mappingOf(empty, { json: action }, { by: 'both', character, scaled: true, byHand: {} })!;
  expect(pairs.length).toBeGreaterThan(14);

  // Feet that stand: what is said of them.
  const held = report.findings.find(({ code }) => code === 'feetHeld')?.sentence;
  expect(report.findings.some(({ code }) => code === 'feetSlide')).toBe(false);
  if (held) expect(Number(/held, by ([\d.]+) mm/.exec(held)![1])).toBeLessThan(2);

  const was = turning(
    capture,
    pairs.map(({ source }) => source),
    Float64Array.from({ length: last + 1 }, (_, k) => range.start + k),
  );
  const is = turning(
    shot,
    pairs.map(({ target }) => target),
    Float64Array.from({ length: last + 1 }, (_, k) => k),
  );
  let most = 0;
  pairs.forEach(({ target }, k) =>
    is[k]!.forEach((degrees, frame) => {
      most = Math.max(most, degrees);
      expect([target, frame, degrees <= Math.max(MOST, was[k]![frame]! + 1)]).toEqual([target, frame, true]);
    }),
  );
  expect(most).toBeGreaterThan(1);
});
