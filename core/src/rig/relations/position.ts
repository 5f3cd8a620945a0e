/** Position: the node's origin lies where its targets are, or between them; its own position lies on top, its orientation stays its parent's. */
import { z } from 'zod';
import { defineRelation } from './relation.ts';
import { newSeat, placeOn, targetFrame } from './seat.ts';

const AXES = ['x', 'y', 'z'] as const;
const along = (axis: string) =>
  z
    .boolean()
    .default(true)
    .meta({
      title: `Along ${axis} of the world`,
      description: 'Off, it lies along it where its parent puts it.',
    });

/** Where the targets' frame is written while a node is placed. */
const frame = newSeat();

export const position = defineRelation({
  kind: 'position',
  title: 'Stays at',
  summary: 'The control’s place is that of others, or lies between them; it turns as before.',
  words: 'point constraint position attach translate',
  switches: true,
  settings: z.object({ x: along('x'), y: along('y'), z: along('z') }),
  time: 'none',
  holds: () => ['place'],
  standsOn(seat, rest) {
    const matrix = seat.matrix.slice();
    matrix.set(placeOn(seat, [...rest.translation]), 12);
    return { matrix, turn: seat.turn };
  },
  seat(seat, { compiled, values, pose, weight, rig }) {
    if (!targetFrame(frame, compiled, values, pose)) return;
    const from = placeOn(seat, [...rig.nodes[compiled.node]!.rest.translation]);
    AXES.forEach((name, axis) => {
      if (!compiled.settings[name]) return;
      seat.matrix[12 + axis]! += weight * (frame.matrix[12 + axis]! - from[axis]!);
    });
  },
});
