/** Placements that cross: the next comes in over just those frames in which the one before gives way. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { withLayer } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placementsOf } from './placement-option.ts';
import type { Placement } from './placement-option.ts';

/** Frames over which two placements lie at once, where the later one begins within the earlier and goes on beyond it; else 0. */
export function overlapOf(before: Placement, next: Placement): number {
  const [a, b] = [before.range, next.range];
  return b.start >= a.start && b.end >= a.end ? Math.max(a.end - b.start, 0) : 0;
}

/** The shot with every crossing as long as the two overlap; one that they no longer do is undone, and said. */
export function withCrossingsFitted(shot: Shot): { readonly shot: Shot; readonly findings: Finding[] } {
  const findings: Finding[] = [];
  let after = shot;
  for (const before of placementsOf(shot)) {
    const { crosses } = before.settings;
    if (crosses === null) continue;
    const next = placementsOf(after).find(({ id }) => id === crosses);
    const overlap = next ? overlapOf(before, next) : 0;
    if (next && overlap > 0) {
      if (Math.abs(next.range.rampIn - overlap) < 1e-9) continue;
      const rampOut = Math.min(next.range.rampOut, next.range.end - next.range.start - overlap);
      after = withLayer(after, next.id, () => ({
        ...next,
        range: { ...next.range, rampIn: overlap, rampOut },
      }));
      continue;
    }
    after = withLayer(after, before.id, (was) => ({ ...was, settings: { ...was.settings, crosses: null } }));
    findings.push(finding('noLongerCross', {}, before.name, next?.name ?? null));
  }
  return { shot: after, findings };
}
