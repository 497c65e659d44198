import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'tests/unit/**/*.test.ts'],
    testTimeout: 300_000,
    hookTimeout: 300_000,
    maxWorkers: 3,
    // one process for many files: the planning code is compiled once, not eighty times
    isolate: false,
    // modules as Node itself links them: through the test runner's own every imported name is a getter, a quarter more work
    experimental: { viteModuleRunner: false, nodeLoader: false },
    execArgv: [
      '--import',
      new URL('./node_modules/tsx/dist/loader.mjs', import.meta.url).pathname,
      // young memory in larger pieces, cleared by the thread that works: two cores have none to spare for helpers
      '--max-semi-space-size=64',
      '--single-threaded-gc',
    ],
  },
});
