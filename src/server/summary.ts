import { DeriveCache, derive, type Job } from '../core/plan';
import type { JobSummary } from '../db/jobs';
import { sectionOf } from './section';

// the summary is made at every save; unchanged operations come from here
const cache = new DeriveCache();

/** What the list of jobs can show at once, without planning anything. */
export const plainSummary = (
  job: Job,
): Pick<JobSummary, 'number' | 'name' | 'machine' | 'material' | 'operations'> => ({
  number: job.header.number,
  name: job.header.name,
  machine: job.machine.name,
  material: job.material.name,
  operations: Object.keys(job.operations).length,
});

/** The summary of a job that has not been planned yet. */
export const firstSummary = (job: Job): JobSummary => ({
  ...plainSummary(job),
  path: '',
  box: [0, -1, 1, 2],
  attention: 0,
  blocked: 0,
  seconds: 0,
});

/** What the list of jobs shows, computed from the document. */
export const summarise = (job: Job): JobSummary => {
  const derived = derive(job, cache);
  return {
    ...plainSummary(job),
    ...sectionOf(job),
    attention: derived.findings.filter((f) => f.severity === 'attention').length,
    blocked: derived.findings.filter((f) => f.severity === 'blocking').length + derived.part.problems.length,
    seconds: derived.timeline.total,
  };
};
