/** Lock channels: no edit changes their base curves until they are unlocked. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { rigOf } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';

export const lockChannels = defineEdit({
  id: 'keys.lockChannels',
  title: 'Lock channels',
  summary: 'Locks channels, so that no edit changes their curves, or unlocks them.',
  words: 'protect freeze guard unlock curve',
  group: 'keys',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    channels: z.array(z.string()).meta({ title: 'Channels', description: 'Addresses, node.channel.' }),
    locked: z
      .boolean()
      .default(true)
      .meta({ title: 'Locked', description: 'Off, the channels are free again.' }),
  }),
  run(shot, selection, { channels, locked }) {
    const rig = rigOf(shot);
    const unknown = channels.find((id) => rig.channelIndex(id) < 0);
    if (unknown !== undefined) return refused(shot, selection, finding('unknownChannel', {}, unknown));
    const before = new Set(shot.locked);
    const changing = [...new Set(channels)].filter((id) => before.has(id) !== locked);
    if (changing.length === 0) return outcome(shot, shot, selection);
    const gone = new Set(changing);
    const after = locked ? [...shot.locked, ...changing] : shot.locked.filter((id) => !gone.has(id));
    return outcome(shot, { ...shot, locked: after }, selection, {
      measures: [
        { name: locked ? 'channels locked' : 'channels unlocked', value: changing.length, unit: '' },
      ],
    });
  },
});
