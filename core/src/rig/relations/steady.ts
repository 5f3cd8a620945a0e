/**
 * Steady in the camera: between its steps the node keeps the place in the picture that it had on the last step. Where a character is on twos
 * and the camera on ones, both move on different frames, and it strobes; held like this it does not.
 *
 * What the camera saw at the step it sees again: world(t) = C(t) · K · C(s)⁻¹ · world(s), where K widens what is seen by as much as the
 * lens has widened since (tan of half the field of view), since places in a picture are x / (−z tan).
 */
import { mat4 } from 'gl-matrix';
import { z } from 'zod';
import { conjugate, multiply } from '../../math/quaternion.ts';
import { LIMITS } from '../../base/limits.ts';
import { onFrame } from '../../base/frames.ts';
import { factorOf, placeIn, shows } from '../../base/time-pieces.ts';
import { beginsIn, heldFrame } from '../../base/pattern.ts';
import { seatFrom } from './seat.ts';
import { defineRelation } from './relation.ts';
import type { RigRows } from './relation.ts';

/** Degrees of the vertical field of view of a camera without a channel for it. */
export const FIELD_OF_VIEW = 35;
/** The channel that widens or narrows it, degrees. */
export const LENS = 'fov';

export const steady = defineRelation({
  kind: 'steady',
  title: 'Steady in the camera',
  summary: 'Between its steps the control keeps its place in the picture while the camera moves.',
  words: 'strobe camera hold twos judder follow screen',
  ownEdit: true,
  settings: z.object({
    steps: z
      .enum(['filter', 'own'])
      .default('own')
      .meta({
        title: 'Steps',
        labels: { filter: 'of the step filters over it', own: 'of its own' },
        description: 'When its drawings change; as filters say it stays right when they are changed.',
      }),
    pattern: z
      .array(z.number().int().min(1).max(1000))
      .min(1)
      .max(64)
      .default([2])
      .meta({
        title: 'Frames for each drawing',
        when: { steps: 'own' },
        description: 'How long each step is held, in turn.',
      }),
    first: z
      .number()
      .min(-LIMITS.frame)
      .max(LIMITS.frame)
      .default(0)
      .meta({
        title: 'First step',
        unit: 'frame',
        when: { steps: 'own' },
        description: 'A frame with which a drawing begins.',
      }),
  }),
  holds: () => ['place', 'turn'],
  looksElsewhere: true,
  switchedOnly: true,
  jumps: ({ steps, pattern, first }, range, drawings) =>
    steps === 'filter' ? drawings(range) : beginsIn(pattern, first, range),
  // One for the whole shot: its steps go where its first one goes.
  time(given, pieces) {
    if (given.steps === 'filter') return given;
    const piece = pieces.findLast((one) => shows(one, given.first)) ?? pieces[0]!;
    const factor = factorOf(piece);
    const pattern = given.pattern.map((frames) => onFrame(frames * Math.abs(factor)));
    if (factor <= 0 || !pattern.every((frames) => Number.isInteger(frames) && frames >= 1)) return null;
    return { ...given, pattern, first: placeIn(piece, given.first) };
  },
  hold({ rig, values, compiled, pose, weight, times }) {
    const camera = compiled.targets[0] ?? -1;
    if (!times || camera < 0 || weight < 0.5) return;
    const { steps, pattern, first } = compiled.settings;
    const step =
      steps === 'filter'
        ? times.drawn(rig.nodes[compiled.node]!.id, times.frame)
        : heldFrame(pattern, first, times.frame);
    if (step === times.frame) return;
    const then = times.at(step);
    const { node } = compiled;
    const [now, before] = [seatFrom(pose, camera), seatFrom(then, camera)];
    const inverse = mat4.invert(new Float64Array(16), before.matrix);
    if (!inverse) return;
    const wider = lensOf(rig, values, camera) / lensOf(rig, valuesIn(then, values), camera);
    const seen = mat4.multiply(new Float64Array(16), inverse, seatFrom(then, node).matrix);
    for (let column = 0; column < 4; column += 1) {
      seen[column * 4]! *= wider;
      seen[column * 4 + 1]! *= wider;
    }
    const world = mat4.multiply(new Float64Array(16), now.matrix, seen);
    pose.matrices.set(world, node * 16);
    const turned = multiply(multiply(now.turn, conjugate(before.turn)), seatFrom(then, node).turn);
    pose.turns.set(turned, node * 4);
  },
});

/** The tangent of half the field of view. */
function lensOf(rig: RigRows, values: ArrayLike<number>, camera: number): number {
  const c = rig.channelIndex(`${rig.nodes[camera]!.id}.${LENS}`);
  const degrees = FIELD_OF_VIEW + (c < 0 ? 0 : values[c]!);
  return Math.tan((Math.min(Math.max(degrees, 1), 170) * Math.PI) / 360);
}

/** The channels with which a pose was worked out. */
const valuesIn = ({ values }: { readonly values?: ArrayLike<number> }, now: ArrayLike<number>) =>
  values ?? now;
