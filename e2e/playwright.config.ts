import { execFileSync } from 'node:child_process';
import { defineConfig } from '@playwright/test';

/**
 * The ways over the bench without a pointer: where all checks run, two of these files are walked, the next ones with each commit; ALL_FLOWS=1 walks all. What they do is done by hand in
 * the other flows too.
 */
const BY_KEYBOARD = ['actions', 'layers', 'motion', 'spaces', 'tasks'].map(
  (name) => `**/${name}-by-keyboard.test.ts`,
);
function notTheirTurn(): string[] {
  if (!process.env['CI'] || process.env['ALL_FLOWS'] === '1') return [];
  const turn = Number(execFileSync('git', ['rev-list', '--count', 'HEAD'], { encoding: 'utf8' }));
  const walked = [0, 1].map((i) => (2 * turn + i) % BY_KEYBOARD.length);
  return BY_KEYBOARD.filter((_, i) => !walked.includes(i));
}

const port = Number(process.env['E2E_PORT'] ?? 4199);

export default defineConfig({
  testDir: '.',
  workers: process.env['CI'] ? 2 : 1,
  timeout: 300_000,
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
