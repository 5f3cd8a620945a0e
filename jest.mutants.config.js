import config from './jest.config.js';

/** The core’s own tests of one folder: what mutants of that folder must be killed by. */
const folder = process.env['MUTANTS_FOLDER'] ?? 'core/src';
export default {
  ...config.projects[0],
  rootDir: import.meta.dirname,
  testMatch: [`<rootDir>/${folder}/**/*.test.ts`],
};
