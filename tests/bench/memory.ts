/** Memory of a process that does nothing but derive a job of 1000 operations and edit it ten times, as the page's worker does. */
import { DeriveCache, derive } from '../../src/core/plan';
import { grown } from './grown';

const big = grown(1000);
const cache = new DeriveCache();
derive(big, cache);
for (let i = 1; i <= 10; i++) {
  const next = structuredClone(big);
  (next.operations.n500 as unknown as { cutting: { feed: number } }).cutting.feed += i * 1e-4;
  derive(next, cache);
}
console.log((process.resourceUsage().maxRSS / 1024).toFixed(0));
