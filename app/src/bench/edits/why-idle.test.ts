import { expect, test } from '@jest/globals';
import type { Report } from '@kneader/core';
import { whyIdle } from './why-idle.ts';

const reportOf = (status: Report['status'], ...sentences: string[]): Report => ({
  ...{ status, measures: [], touched: [] },
  findings: sentences.map((sentence) => ({ code: 'x', severity: 'problem', sentence })) as never,
});
const idle = { trying: true, nothingSelected: false, report: null };

test('a press on an idle Apply is answered by what is missing: a selection, another option, nothing', () => {
  expect(whyIdle({ ...idle, nothingSelected: true, report: reportOf('unchanged') })).toMatch(
    /^Nothing is selected/,
  );
  expect(whyIdle({ ...idle, report: reportOf('refused', 'It stands too near.', 'Other.') })).toBe(
    'It stands too near.',
  );
  expect(whyIdle({ ...idle, report: reportOf('unchanged') })).toBe(
    'Nothing would change with these options.',
  );
  expect(whyIdle({ ...idle, report: reportOf('unchanged', 'All keys are needed.') })).toMatch(
    /options: All keys are needed\.$/,
  );
  // What was applied is no lack of a selection, whatever is selected since.
  expect(whyIdle({ trying: false, nothingSelected: true, report: null })).toMatch(/^It is applied/);
});
