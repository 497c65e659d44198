import { readFileSync } from 'node:fs';
import { type Job, readJobText } from '../../src/core/plan';

export const load = (name: string): Job => {
  const read = readJobText(readFileSync(`demo/jobs/${name}.spindle.json`, 'utf8'));
  if (!read.ok) throw new Error(name);
  return read.job;
};

/** A job of n operations: the same roughing and finishing over and over, at ever other depths, so that each really plans. */
export const grown = (n: number): Job => {
  const job = load('LM-118');
  const operations: Job['operations'] = {};
  const ids: string[] = [];
  for (let i = 0; i < n; i++) {
    const source = structuredClone(job.operations[i % 2 === 0 ? 'op3' : 'op5']);
    const id = `n${i}`;
    ids.push(id);
    // the limit moves back bit by bit: every operation finds a little metal
    const back = -2 - (34 * (i + 1)) / n;
    operations[id] = {
      ...source,
      id,
      params: { ...(source as { params: object }).params, backLimit: back },
    } as Job['operations'][string];
  }
  return { ...job, operations, order: { '1': ids } };
};
