/** The first problem that Zod found, as words with a place. */
import type { z } from 'zod';

export interface Problem {
  /** `nodes[3].rest.rotation`; empty for the whole. */
  readonly path: string;
  readonly words: string;
}

export function problemOf(error: z.ZodError): Problem {
  const issue = error.issues[0];
  if (!issue) return { path: '', words: 'it has another form than expected' };
  return { path: pathOf(issue.path), words: inWords(issue) };
}

export function describeProblem(error: z.ZodError): string {
  const { path, words } = problemOf(error);
  return `${path || 'the top'}: ${words}`;
}

function inWords(issue: z.core.$ZodIssue): string {
  if (issue.code === 'unrecognized_keys') return `there is no such field as ${issue.keys.join(', ')}`;
  return issue.message
    .replace(/^Invalid input: /, '')
    .replace(/^expected (.+), received undefined$/, 'it is missing ($1)')
    .replace(/^expected (.+), received NaN$/, 'it is not a number')
    .replace(/^expected number, received (number|Infinity)$/, 'it is not a finite number')
    .replace(/^Too big: expected string to have <=(\d+) characters$/, 'use at most $1 letters')
    .replace(/^Too small: expected string to have >=1 characters$/, 'it is empty')
    .replace(/^Too (?:small|big): expected \w+ to /, 'it must ')
    .replace(/\bhave >=/, 'have at least ')
    .replace(/\bhave <=/, 'have at most ');
}

/** `nodes[3].rest.rotation` of a list of steps. */
function pathOf(path: readonly PropertyKey[]): string {
  return path
    .map((step, at) => (typeof step === 'number' ? `[${step}]` : `${at > 0 ? '.' : ''}${String(step)}`))
    .join('');
}
