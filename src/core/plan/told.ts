import type { Finding } from '../findings';
import type { DerivedOperation, OperationState } from './derive';
import type { Job } from './document';
import { repeatOf } from './repeats';

/** The state of an operation by the worst that is said of it. */
export const worst = (findings: readonly Finding[]): OperationState =>
  findings.some((f) => f.severity === 'blocking')
    ? 'blocked'
    : findings.some((f) => f.severity === 'attention')
      ? 'attention'
      : 'ready';

/** What was found of the job as a whole and names an operation stands with that operation. */
export const withFindings = (done: readonly DerivedOperation[], general: readonly Finding[]): DerivedOperation[] =>
  done.map((d) => {
    const more = general.filter((f) => f.operation === d.id);
    if (more.length === 0) return d;
    const findings = [...more, ...d.findings];
    return { ...d, findings, state: d.state === 'off' || d.state === 'blocked' ? d.state : worst(findings) };
  });

/** Whether more parts are asked for than the stick-out of a holding holds. */
export const isTooShort = (general: readonly Finding[], done: readonly DerivedOperation[], holding: string): boolean =>
  general.some((f) => f.code === 'repeat-too-long' && done.some((d) => d.id === f.operation && d.holding === holding));

/** Where more parts are asked for than a stick-out holds, what is found of those past it follows from that and is not told too. */
export const withinStickOut = (
  job: Job,
  done: readonly DerivedOperation[],
  general: readonly Finding[],
): DerivedOperation[] => {
  const most = new Map<string, number>();
  for (const f of general)
    if (f.code === 'repeat-too-long' && f.operation)
      for (const id of repeatOf(job, f.operation)?.operations ?? []) most.set(id, Math.max(1, f.numbers.fits));
  return done.map((d) =>
    d.time && d.time.number > (most.get(d.operation) ?? d.time.number) ? { ...d, findings: [] } : d,
  );
};

/**
 * What is found of a later time of a repeat is told with the first, as long as the first does not say the same; it names the
 * time then.
 */
export const folded = (done: readonly DerivedOperation[]): DerivedOperation[] => {
  if (done.every((d) => d.time === null)) return [...done];
  const firsts = new Map(
    done.filter((d) => d.id === d.operation).map((d) => [d.id, new Set(d.findings.map((f) => f.code))]),
  );
  const more = new Map<string, Finding[]>();
  for (const d of done) {
    const known = firsts.get(d.operation);
    if (!d.time || d.id === d.operation || !known) continue;
    for (const f of d.findings) {
      if (known.has(f.code)) continue;
      known.add(f.code);
      more.set(d.operation, [...(more.get(d.operation) ?? []), { ...f, event: null, time: d.time }]);
    }
  }
  return done.map((d) => {
    if (d.time && d.id !== d.operation) return { ...d, findings: [] };
    const own = more.get(d.id);
    if (!own) return d;
    const findings = [...d.findings, ...own];
    return { ...d, findings, state: d.state === 'off' || d.state === 'blocked' ? d.state : worst(findings) };
  });
};
