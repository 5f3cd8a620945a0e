/** Position: the node's origin lies where its targets are, or between them; its own position lies on top, its orientation stays its parent's. */
import { z } from 'zod';
import { defineRelation } from './relation.ts';
import { placeOn, targetFrame } from './seat.ts';

const AXES = ['x', 'y', 'z'] as const;

export const position = defineRelation({
  kind: 'position',
  title: 'Stays at',
  summary: 'The control’s place is that of others, or lies between them; it turns as before.',
  words: 'point constraint position attach translate',
  switches: true,
  settings: z.object({
    axes: z
      .array(z.enum(AXES))
      .default([...AXES])
      .meta({
        title: 'Axes of the world',
        description: 'Along the others it lies where its parent puts it.',
      }),
  }),
  holds: () => ['place'],
  seat(seat, { compiled, values, pose, weight, rig }) {
    const frame = targetFrame(compiled, values, pose);
    if (!frame) return;
    const rest = rig.nodes[compiled.node]!.rest.translation;
    const from = placeOn(seat, [...rest]);
    compiled.settings.axes.forEach((name) => {
      const axis = AXES.indexOf(name);
      seat.matrix[12 + axis]! += weight * (frame.matrix[12 + axis]! - from[axis]!);
    });
  },
});
