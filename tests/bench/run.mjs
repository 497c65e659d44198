/** Bundles the bench as the browser's build would and runs it: a loader that keeps names for stack traces costs a fifth. */
import { mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';

const entry = process.argv[2] ?? 'tests/bench/bench.ts';
const dir = mkdtempSync(join(process.cwd(), 'node_modules', '.bench-'));
try {
  const out = join(dir, 'bench.mjs');
  await build({
    entryPoints: [entry],
    outfile: out,
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    logLevel: 'error',
  });
  await import(out);
} finally {
  rmSync(dir, { recursive: true, force: true });
}
