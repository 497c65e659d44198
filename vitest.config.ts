import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  test: {
    include: ['src/**/*.test.ts', 'tests/unit/**/*.test.ts'],
    testTimeout: 300_000,
    hookTimeout: 300_000,
    maxWorkers: 3,
    // one process for many files: the planning code is compiled once, not eighty times
    isolate: false,
    // young memory in larger pieces, cleared by the thread that works: two cores have none to spare for helpers
    execArgv: ['--max-semi-space-size=64', '--single-threaded-gc'],
  },
});
