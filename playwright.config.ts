import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'tests/e2e',
  // far more than any of it takes: a slow machine is no fault
  timeout: 300_000,
  expect: { timeout: 60_000 },
  // pages wait as often as they compute
  workers: 3,
  // what passes only the second time is told at the end of bin/test, with what the page showed
  retries: 1,
  reporter: [['line'], ['json', { outputFile: process.env.E2E_JSON ?? 'test-results/e2e.json' }]],
  outputDir: 'test-results/e2e',
  globalSetup: './tests/e2e/people.setup.ts',
  use: {
    // everybody works as the programmer unless a test says otherwise
    storageState: 'test-results/ottilie.session.json',
    baseURL: process.env.BASE_URL ?? 'http://127.0.0.1:4310',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        // WebGL without a graphics card; the pages themselves are painted faster without it
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--disable-gpu-rasterization',
        '--disable-gpu-compositing',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
