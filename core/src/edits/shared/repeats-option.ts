/** The option for keys that fall on repeats, and what is said of them: what all edits that set keys share. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { REPEAT_WAYS } from '../../curve/with-key.ts';
import type { KeyPlace } from '../../curve/with-key.ts';

export const repeatsOption = z
  .enum(REPEAT_WAYS)
  .default('cycle')
  .meta({
    title: 'Keys where it repeats',
    labels: { cycle: 'every round', bake: 'end repeats' },
    description:
      'Every round: what falls on a repeat changes the keys that are repeated, and so every round. End repeats: all of them become keys first.',
  });

/** Collects, channel by channel, what keys on repeats changed. */
export class RepeatNotes {
  private readonly names = { cycle: new Set<string>(), bake: new Set<string>() };

  add(channel: string, way: KeyPlace['way']): void {
    if (way !== 'there') this.names[way].add(channel);
  }

  findings(): Finding[] {
    const { cycle, bake } = this.names;
    return [
      ...(cycle.size > 0 ? [finding('cycleChangedAt', {}, [...cycle])] : []),
      ...(bake.size > 0 ? [finding('repeatsBaked', {}, [...bake])] : []),
    ];
  }
}
