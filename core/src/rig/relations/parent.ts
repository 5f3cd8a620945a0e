/** Parent: the node is carried by other nodes in place of its parent, by one of several at a time (a space switch), or by parts of each. */
import { z } from 'zod';
import { localPlace } from './own-place.ts';
import { defineRelation } from './relation.ts';
import { between, copySeat, newSeat, placeOn, targetFrame, turnSeat } from './seat.ts';
import { conjugate, multiply } from '../../math/quaternion.ts';

/** Where the targets' frame is written while a node is placed. */
const frame = newSeat();

export const parent = defineRelation({
  kind: 'parent',
  title: 'Follows',
  summary: 'The control is carried by another in place and orientation; its own keys lie on top.',
  words: 'parent constraint attach space follow carry hold',
  switches: true,
  settings: z.object({
    moves: z.boolean().default(true).meta({ title: 'Place', description: 'Whether its place is carried.' }),
    turns: z
      .boolean()
      .default(true)
      .meta({ title: 'Orientation', description: 'Whether its orientation is carried.' }),
  }),
  time: 'none',
  holds: ({ moves, turns }) => [
    ...(moves ? (['place'] as const) : []),
    ...(turns ? (['turn'] as const) : []),
  ],
  seat(seat, { compiled, values, pose, weight, rig }) {
    if (!targetFrame(frame, compiled, values, pose)) return;
    const { moves, turns } = compiled.settings;
    if (moves && turns) {
      copySeat(seat, between(seat, frame, weight));
      return;
    }
    const local = localPlace(rig, values, compiled.node);
    if (moves) {
      const [from, to] = [placeOn(seat, local), placeOn(frame, local)];
      for (let axis = 0; axis < 3; axis += 1) seat.matrix[12 + axis]! += weight * (to[axis]! - from[axis]!);
    } else if (turns) {
      const { turn } = between(seat, frame, weight);
      turnSeat(seat, multiply(turn, conjugate(seat.turn)), local);
    }
  },
});
