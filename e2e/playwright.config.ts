import { defineConfig } from '@playwright/test';

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
    { name: 'flows', testDir: './flows' },
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
