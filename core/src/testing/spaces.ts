/** Relations on random rigs: made, and compared by what shows. */
import { expect } from '@jest/globals';
import { runEdit } from '../edits/run-edit.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { randomRig } from './random-rigs.ts';
import { choose } from './shot-literals.ts';

/** The shot after an edit, which must have changed something. */
export const done = (shot: Shot, edit: string, options: object, selection = choose({})): Shot => {
  const { shot: after, report } = runEdit(edit, shot, selection, options);
  expect([edit, report.status, report.findings.filter(() => report.status === 'refused')]).toEqual([
    edit,
    'changed',
    [],
  ]);
  return after;
};
/** The greatest difference of a node's world matrix at these frames. */
export const apart = (before: Shot, after: Shot, node: string, frames: readonly number[]): number =>
  Math.max(
    ...frames.map((frame) => {
      const [a, b] = [before, after].map((shot) =>
        worldAt(shot, frame).matrices.subarray(
          rigOf(shot).indexOf(node) * 16,
          rigOf(shot).indexOf(node) * 16 + 16,
        ),
      );
      return Math.max(...Array.from(a!, (value, i) => Math.abs(value - b![i]!)));
    }),
  );
export const whole = Array.from({ length: 25 }, (_, i) => i);
export const last = (shot: Shot) => `n${shot.nodes.length - 1}`;
/** A node that the last one does not stand above, and another. */
export const targetsFor = (shot: Shot): [string, string] => {
  const rig = rigOf(shot);
  const free = shot.nodes
    .map(({ id }) => id)
    .filter((id) => {
      for (let row = rig.indexOf(id); row >= 0; row = rig.parents[row]!)
        if (rig.nodes[row]!.id === last(shot)) return false;
      return true;
    });
  return [free[0]!, free[1]!];
};
/** A rig whose last node follows two others and the world in turns. @param shear whether some scale unevenly */
export const follower = (seed: number, more: object = {}, shear = false) => {
  const rig = randomRig(seed, 6, shear);
  const [a, b] = targetsFor(rig);
  const node = last(rig);
  const shot = done(
    rig,
    'spaces.add',
    { targets: [a, b, 'world'], frame: 5, ...more },
    choose({ nodes: [node] }),
  );
  return { rig, shot, node, a, b, relation: shot.relations[0]! };
};
