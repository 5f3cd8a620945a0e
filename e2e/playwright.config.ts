import { execFileSync } from 'node:child_process';
import { defineConfig } from '@playwright/test';

/**
 * Ways that go over the same ground as others: where all checks run, the files of one line are walked, those of the next line with the next commit; ALL_FLOWS=1 walks all. What may
 * lose work, open badly or shut somebody out (`reliability`, `storage`, `bad-input`, `access`, …) has no turn: it is walked each time.
 */
const IN_TURNS = [
  ['gestures', 'actions-by-keyboard', 'timing', 'tasks-by-keyboard', 'compare-and-show'],
  ['placements', 'motion', 'layers-by-keyboard', 'film', 'reference-film'],
  ['layers', 'spaces-by-keyboard', 'dough-toss', 'routines', 'skins', 'recording'],
  ['by-hand', 'spaces', 'motion-by-keyboard', 'curves', 'focus', 'actions', 'captured-motion', 'cast'],
];
function notTheirTurn(): string[] {
  if (!process.env['CI'] || process.env['ALL_FLOWS'] === '1') return [];
  const turn = Number(execFileSync('git', ['rev-list', '--count', 'HEAD'], { encoding: 'utf8' }));
  return IN_TURNS.filter((_, i) => i !== turn % IN_TURNS.length)
    .flat()
    .map((name) => `**/${name}.test.ts`);
}

const port = Number(process.env['E2E_PORT'] ?? 4199);

export default defineConfig({
  testDir: '.',
  workers: process.env['CI'] ? 2 : 1,
  timeout: 240_000,
  // A hundred ways through a whole browser, on a machine with other work: what fails is walked once more, and named as flaky at the end where it then goes through.
  retries: process.env['CI'] ? 1 : 0,
  expect: { timeout: 45_000 },
  reporter: [['list'], ['json', { outputFile: '../.cache/e2e.json' }]],
  outputDir: '../.cache/test-results',
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    deviceScaleFactor: 1,
    acceptDownloads: true,
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  projects: [
    { name: 'flows', testDir: './flows', testIgnore: notTheirTurn() },
    { name: 'shots', testDir: './shots' },
  ],
  webServer: {
    command: 'npx tsx ../server/src/main.ts',
    env: { PORT: String(port) },
    url: `http://127.0.0.1:${port}`,
    reuseExistingServer: false,
    timeout: 30_000,
  },
});
