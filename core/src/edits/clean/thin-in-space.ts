/** Thinning within a tolerance in space: no joint of the chosen controls' limbs, and no far end of them, leaves its place by more than so much. */
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import type { Drift } from '../../advice/drift.ts';
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { thinChannels } from './thin-channels.ts';
import type { FitWishes, Thinned } from './thin-channels.ts';
import { withinSpace } from './within-space.ts';

const LOOKS_PER_FRAME = 4;

export interface SpaceFit {
  readonly thinned: Thinned;
  readonly drift: Drift;
}

/**
 * The thinned shot and its drift; null where no fit but the old keys themselves holds the tolerance.
 * @param limit cm, > 0
 */
export function* thinInSpace(
  shot: Shot,
  selection: Selection,
  wishes: FitWishes,
  limit: number,
  range: FrameRange,
): Work<SpaceFit | null> {
  const channels = selectedChannels(shot, selection);
  function* thinned(toleranceOf: (channel: ChannelId) => number): Work<Thinned | null, Shot> {
    const made = yield* thinChannels(shot, selection, wishes, toleranceOf);
    return made.shot === shot ? null : made;
  }
  const held = yield* withinSpace(shot, { channels, limit, range, looksPerFrame: LOOKS_PER_FRAME }, thinned);
  return held && { thinned: held.fit, drift: held.drift };
}
