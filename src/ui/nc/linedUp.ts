import type { PostedProgram } from '@/core/nc';
import { markName } from '@/core/operations';
import { type Job, operationOf } from '@/core/plan';

/** Empty rows in front of a line (from 1), up to the mark at which the channel waits there. */
export interface Gap {
  readonly line: number;
  readonly rows: number;
  readonly mark: number;
}

interface Knot {
  readonly line: number;
  readonly name: string;
  readonly mark: number;
}

/** Lines that wait, with the name of their mark: the last one of each, behind its comment. */
const knotsOf = (p: PostedProgram, job: Job): Knot[] =>
  p.lines.flatMap((l, i) => {
    const op = l.op === null ? undefined : operationOf(job, l.op);
    if (op?.kind !== 'wait' || p.lines[i + 1]?.op === op.id) return [];
    return [{ line: i + 1, name: markName(op.params), mark: op.params.mark }];
  });

/**
 * Empty rows for each program, so that the lines of one mark stand at one height in all channels that it ties. Marks are
 * taken in the order in which all their channels come to them; what is never met stays where it is.
 */
export const linedUp = (programs: readonly PostedProgram[], job: Job): Gap[][] => {
  const gaps: Gap[][] = programs.map(() => []);
  for (const run of new Set(programs.map((p) => p.run))) {
    const own = programs.flatMap((p, i) => (p.run === run ? [{ i, knots: knotsOf(p, job), next: 0, pushed: 0 }] : []));
    for (;;) {
      const names = new Set(own.flatMap((c) => c.knots[c.next]?.name ?? []));
      const met = [...names].find((name) =>
        own.every((c) => c.knots[c.next]?.name === name || !c.knots.slice(c.next).some((k) => k.name === name)),
      );
      if (met === undefined) break;
      const tied = own.filter((c) => c.knots[c.next]?.name === met);
      const row = Math.max(...tied.map((c) => c.knots[c.next].line + c.pushed));
      for (const c of tied) {
        const { line, mark } = c.knots[c.next];
        const rows = row - line - c.pushed;
        if (rows > 0) gaps[c.i].push({ line, rows, mark });
        c.pushed += Math.max(0, rows);
        c.next++;
      }
    }
  }
  return gaps;
};
