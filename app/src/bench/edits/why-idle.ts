import type { Report } from '@kneader/core';

interface Idle {
  /** Whether something is being tried: else what was tried is applied already. */
  readonly trying: boolean;
  /** Whether the edit takes what is selected, and nothing is. */
  readonly nothingSelected: boolean;
  /** Of what was tried. */
  readonly report: Report | null;
}

/** What a press on an Apply that has nothing to apply is answered with. */
export function whyIdle({ trying, nothingSelected, report }: Idle): string {
  if (!trying) return 'It is applied. “Once more” tries it again, on top of that.';
  if (nothingSelected)
    return 'Nothing is selected. Touch a control on the figure or a body part under it, then come back.';
  const [first] = report?.findings ?? [];
  if (report?.status === 'refused' && first) return first.sentence;
  return `Nothing would change with these options${first ? `: ${first.sentence}` : '.'}`;
}
