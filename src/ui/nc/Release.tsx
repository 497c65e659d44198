'use client';
import type { EditorView } from '@codemirror/view';
import { Download } from 'lucide-react';
import { useEffect, useMemo } from 'react';
import { noProgramFor } from '@/core/dialects';
import { heldByHand } from '@/core/holding';
import { fileStem, type PostedProgram, programName } from '@/core/nc';
import { formatLength } from '@/core/units';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Button, Choice, Section } from '../kit/controls';
import { useUnit } from '../kit/units';
import { ControlSetup } from './ControlSetup';
import { linedUp } from './linedUp';
import { MachineCodes } from './MachineCodes';
import { ProgramView } from './ProgramView';
import { ReleaseForShop } from './ReleaseForShop';

const save = (name: string, text: string): void => {
  const url = URL.createObjectURL(new Blob([text], { type: 'text/plain' }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
};

/** A program's name among those of a job. */
const nameOf = (p: PostedProgram): string => (p.runs > 1 ? `${p.run + 1}-${p.channel}` : p.channel);

export const ReleaseTray = () => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const released = useDerived((s) => s.released);
  const releasedFor = useDerived((s) => s.releasedFor);
  const release = useDerived((s) => s.release);
  const set = useSelection((s) => s.set);
  const edit = useDocument((s) => s.edit);
  const unit = useUnit();

  // the program follows the plan
  useEffect(() => {
    if (derived && releasedFor !== job) void release().catch(() => undefined);
  }, [derived, job, releasedFor, release]);

  const byHand = job.holdingOrder.slice(1).some((id) => heldByHand(job.holdings[id]));
  const blocking = derived?.findings.filter((f) => f.severity === 'blocking') ?? [];
  const noProgram = noProgramFor(job.machine.dialect);
  const proof = noProgram === null && releasedFor === job ? released?.proof : null;
  return (
    <>
      <Section title="Proof by reading back">
        {noProgram !== null && <p className="text-madder">✕ {noProgram}</p>}
        {noProgram === null && !proof && (
          <p className="text-soft">Posting, reading the text back and cutting with it …</p>
        )}
        {proof && (
          <div data-testid="proof">
            <p className={proof.ok ? 'text-verdigris' : 'text-madder'}>
              <b>
                {proof.ok
                  ? '● The program does what the plan says.'
                  : proof.agrees
                    ? '✕ The program does what the plan says, and that is no sound plan.'
                    : '✕ Program and plan differ.'}
              </b>
            </p>
            <dl className="num mt-1.5 grid grid-cols-[1fr_auto] gap-x-2 gap-y-0.5">
              <dt className="font-text text-soft">path deviation</dt>
              <dd>
                {Number.isFinite(proof.maxDeviation) ? `${proof.maxDeviation.toFixed(4)} mm` : 'a way is missing'}
              </dd>
              <dt className="font-text text-soft">over</dt>
              <dd>{proof.moves} moves</dd>
              <dt className="font-text text-soft">stock differs by</dt>
              <dd>{proof.stock.thickness.toFixed(4)} mm</dd>
              <dt className="font-text text-soft">stock as read</dt>
              <dd>{(proof.stock.volume / 1000).toFixed(3)} cm³</dd>
              <dt className="font-text text-soft">stock as planned</dt>
              <dd>{(proof.stock.plannedVolume / 1000).toFixed(3)} cm³</dd>
            </dl>
            {proof.channels.flatMap((c) => [
              ...c.problems.slice(0, 5).map((p) => (
                <p key={`${c.run}${c.id}${p.line}${p.message}`} className="mt-1 text-madder">
                  Line {p.line}: {p.message}
                </p>
              )),
              ...c.differences.slice(0, 5).map((d) => (
                <p key={`${c.run}${c.id}${d.event}${d.what}`} className="mt-1 text-madder">
                  {d.what}: planned {d.planned}, read {d.read}
                </p>
              )),
            ])}
          </div>
        )}
      </Section>
      {byHand && (
        <Section title="Between the sides">
          <Choice
            label="Between the sides"
            className="w-full"
            value={job.programs}
            options={[
              { value: 'each', label: 'a program for each side' },
              { value: 'one', label: 'one program with a stop' },
            ]}
            onChange={(v) => edit('programs of the sides', (j) => ({ ...j, programs: v as 'each' | 'one' }))}
          />
        </Section>
      )}
      {released && releasedFor === job && (
        <Section title={`${released.zeros.length} ${released.zeros.length === 1 ? 'zero' : 'zeros'} to set`}>
          <ul data-testid="zeros">
            {released.zeros.map((z) => (
              <li key={z.code} className="flex flex-wrap gap-x-2">
                <b className="num w-9 shrink-0">{z.code}</b>
                <span className="min-w-0 flex-1 truncate" title={job.holdings[z.holding]?.name}>
                  {job.holdings[z.holding]?.name}
                </span>
                <span className="num w-full pl-11 text-soft">
                  {z.shift === 0
                    ? `${formatLength(z.fromFace, unit)} from chuck face`
                    : `Z ${formatLength(z.shift, unit)}`}
                </span>
              </li>
            ))}
          </ul>
        </Section>
      )}
      <Section title="Take it to the machine">
        {blocking.length > 0 && (
          <p className="mb-2 text-madder">
            ✕ {blocking.length} finding{blocking.length > 1 ? 's' : ''} block this program.{' '}
            <button type="button" className="underline" onClick={() => set({ phase: 'prove' })}>
              See them
            </button>
          </p>
        )}
        {released &&
          releasedFor === job &&
          released.programs.map((p, i) => (
            <Button
              key={nameOf(p)}
              tone={blocking.length === 0 && proof?.ok ? 'primary' : 'plain'}
              className="mb-1.5 w-full"
              data-testid={`download-${nameOf(p)}`}
              onClick={() => save(programName(fileStem(job), p), released.texts[i])}
            >
              <Download size={14} />{' '}
              {p.runs > 1
                ? `Program ${p.run + 1}${job.machine.channels.length > 1 ? `, channel ${p.channel}` : ''}`
                : `Channel ${p.channel}`}
              : {p.lines.length} lines
            </Button>
          ))}
        <Button
          className="w-full"
          onClick={() => save(`${fileStem(job)}.spindle.json`, `${JSON.stringify(job, null, 2)}\n`)}
        >
          <Download size={14} /> Job file
        </Button>
      </Section>
      <MachineCodes />
      <ControlSetup />
      <ReleaseForShop sound={blocking.length === 0 && proof?.ok === true} />
    </>
  );
};

export const ReleaseCard = () => {
  const released = useDerived((s) => s.released);
  const job = useDocument((s) => s.job);
  const fresh = useDerived((s) => s.releasedFor === job);
  const programs = released?.programs;
  // columns of one run stand side by side at their waits, and scroll as one
  const gaps = useMemo(() => (programs ? linedUp(programs, job) : []), [programs, job]);
  const columns = useMemo(() => programs?.map(() => new Set<EditorView>()) ?? [], [programs]);
  if (!released) return <p className="p-3 text-soft">The program appears here.</p>;
  if (released.programs.length === 0)
    return <p className="h-full bg-paper p-3 text-soft">There is no program: the reason stands on the left.</p>;
  return (
    <div className={`flex h-full gap-px bg-hair ${fresh ? '' : 'opacity-50'}`}>
      {released.programs.map((p, i) => (
        <div key={nameOf(p)} className="min-w-0 flex-1 bg-paper">
          <ProgramView
            program={p}
            name={nameOf(p)}
            text={released.texts[i]}
            times={released.times[i]}
            gaps={gaps[i]}
            beside={columns[p.run]}
          />
        </div>
      ))}
    </div>
  );
};
