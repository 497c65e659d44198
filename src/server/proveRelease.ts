import { fileStem, postJob, programName, programText, proveJob } from '../core/nc';
import { derive, type Job } from '../core/plan';
import type { ReleasedProgram, ReleaseProof } from '../db/releases';

export type Proved =
  | { readonly ok: true; readonly programs: readonly ReleasedProgram[]; readonly proof: ReleaseProof }
  | { readonly ok: false; readonly reason: string };

const count = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;

/** Plans, posts, reads back and proves a job: the programs to be released, or why they must not go to a machine. */
export const proveRelease = (job: Job): Proved => {
  const derived = derive(job);
  const no = (reason: string): Proved => ({ ok: false, reason });
  const blocking = derived.findings.filter((f) => f.severity === 'blocking').length + derived.part.problems.length;
  if (blocking > 0)
    return no(
      `${count(blocking, 'finding blocks', 'findings block')} it. See them in Prove, mend them, and ask again.`,
    );
  const programs = postJob(job, derived, new Date().toISOString().slice(0, 10));
  if (!programs.some((p) => p.lines.length > 0)) return no('It has no program: its control is not known here.');
  const unwritable = programs.flatMap((p) => p.problems);
  if (unwritable.length > 0) return no(`The control cannot read what would have to be written: ${unwritable[0].what}`);
  const texts = programs.map(programText);
  const proof = proveJob(job, derived, texts);
  if (!proof.ok) {
    const said = proof.channels.flatMap((c) => [
      ...c.problems.map((p) => `line ${p.line}: ${p.message}`),
      ...c.differences.map((d) => `${d.what}: planned ${d.planned}, read ${d.read}`),
    ]);
    return no(`Program and plan differ${said.length > 0 ? `: ${said[0]}` : ''}. Nothing was released.`);
  }
  return {
    ok: true,
    programs: programs.map((p, i) => ({ name: programName(fileStem(job), p), text: texts[i] })),
    proof: { maxDeviation: proof.maxDeviation, moves: proof.moves, thickness: proof.stock.thickness },
  };
};
