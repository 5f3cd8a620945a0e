/** The first problem that Zod found, as words with a place. */
import type { z } from 'zod';

export function describeProblem(error: z.ZodError): string {
  const issue = error.issues[0];
  if (!issue) return 'it has another form than expected';
  return `${pathOf(issue.path) || 'the top'}: ${issue.message.replace(/^Invalid input: /, '')}`;
}

/** `nodes[3].rest.rotation` of a list of steps. */
export function pathOf(path: readonly PropertyKey[]): string {
  return path
    .map((step, at) => (typeof step === 'number' ? `[${step}]` : `${at > 0 ? '.' : ''}${String(step)}`))
    .join('');
}
