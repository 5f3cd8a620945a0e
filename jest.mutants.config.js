import config from './jest.config.js';

/** The unit tests of one workspace, without those named: what small changes must be noticed by; see core/scripts/mutants.ts. */
const folder = process.env['MUTANTS_FOLDER'] ?? 'core/src';
const leftOut = (process.env['MUTANTS_LEFT_OUT'] ?? '').split(',').filter((path) => path !== '');
const workspace = folder.startsWith('app/') ? config.projects[1] : config.projects[0];

export default {
  ...workspace,
  rootDir: import.meta.dirname,
  testMatch: [`<rootDir>/${folder.split('/')[0]}/src/**/*.test.ts?(x)`],
  testPathIgnorePatterns: ['/node_modules/', ...leftOut],
};
