/** What suites import from `@jest/globals`, for a process that is not Jest: see warm-tests.ts. */
export { afterAll, afterEach, beforeAll, beforeEach, describe, test } from 'jest-circus';
export { expect } from 'expect';
