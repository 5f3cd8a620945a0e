/** Orientation: the node is turned as its targets are, or between them; its own rotation lies on top, its place stays its parent's. */
import { z } from 'zod';
import { conjugate, multiply, slerp } from '../../math/quaternion.ts';
import { localPlace, restTurnOn } from './own-place.ts';
import { defineRelation } from './relation.ts';
import { newSeat, targetFrame, turnSeat } from './seat.ts';

/** Where the targets' frame is written while a node is placed. */
const frame = newSeat();

export const orientation = defineRelation({
  kind: 'orientation',
  title: 'Turns with',
  summary: 'The control is oriented as others are; its place stays.',
  words: 'orient constraint rotation',
  switches: true,
  settings: z.object({}),
  time: 'none',
  holds: () => ['turn'],
  standsOn: (seat, rest) => ({
    matrix: seat.matrix,
    turn: Float64Array.from(multiply(seat.turn, rest.rotation)),
  }),
  seat(seat, { compiled, values, pose, weight, rig }) {
    if (!targetFrame(frame, compiled, values, pose)) return;
    const own = restTurnOn(rig, seat, compiled.node);
    const goal = slerp(own, frame.turn, weight);
    turnSeat(seat, multiply(goal, conjugate(own)), localPlace(rig, values, compiled.node));
  },
});
