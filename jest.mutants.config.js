import config from './jest.config.js';

/** The tests of one folder: what changes to that folder must be noticed by; see core/scripts/mutants.ts. */
const folder = process.env['MUTANTS_FOLDER'] ?? 'core/src';
const leftOut = (process.env['MUTANTS_LEFT_OUT'] ?? '').split(',').filter((path) => path !== '');
const workspace = folder.startsWith('app/') ? config.projects[1] : config.projects[0];

export default {
  ...workspace,
  rootDir: import.meta.dirname,
  testMatch: [`<rootDir>/${folder}/**/*.test.ts?(x)`],
  testPathIgnorePatterns: ['/node_modules/', ...leftOut],
};
