const swc = [
  `${import.meta.dirname}/jest-transform.js`,
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx: true },
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'es6' },
  },
];
const workspace = (name, more = {}) => ({
  displayName: name,
  rootDir: `<rootDir>/${name}`,
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '^.+\\.tsx?$': swc },
  testMatch: ['<rootDir>/src/**/*.test.ts?(x)'],
  ...more,
});

export default {
  testTimeout: 60_000,
  // Left to itself Jest takes one core fewer than there are: of two, one.
  maxWorkers: '100%',
  projects: [
    workspace('core', { setupFiles: [`${import.meta.dirname}/core/src/testing/seeded-properties.ts`] }),
    workspace('app', {
      testEnvironment: 'jsdom',
      setupFiles: [`${import.meta.dirname}/app/src/jest-setup.ts`],
    }),
    workspace('server'),
    workspace('cli'),
  ],
};
