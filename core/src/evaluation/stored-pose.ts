/** A pose: channel values of chosen nodes at one frame, with all that a flip needs. */
import { z } from 'zod';
import { selectedChannels } from '../document/selection.ts';
import type { Selection } from '../document/selection.ts';
import { valuesAt } from './evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

export const poseSchema = z.object({
  name: z.string().default('Pose'),
  /** Values by channel address. */
  values: z.record(z.string(), z.number()),
});
export type StoredPose = z.infer<typeof poseSchema>;

/** The pose that shows at a frame, passes included; of the selection, or of the whole shot when it is empty. */
export function capturePose(shot: Shot, selection: Selection, frame: number): StoredPose {
  const rig = rigOf(shot);
  const values = valuesAt(shot, frame);
  const chosen = selectedChannels(shot, selection);
  const ids = chosen.length > 0 ? chosen : rig.channels.map((channel) => channel.id);
  return {
    name: `Pose at ${Math.round(frame)}`,
    values: Object.fromEntries(ids.map((id) => [id, values[rig.channelIndex(id)]!])),
  };
}
