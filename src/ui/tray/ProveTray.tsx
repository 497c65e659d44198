'use client';
import { wordPartProblem } from '@/core/checks';
import type { Finding } from '@/core/findings';
import { FindingList } from '../card/Findings';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Section } from '../kit/controls';
import { longSeconds, StateMark } from '../kit/state';

const RANK = { blocking: 0, attention: 1, info: 2 } as const;

export const ProveTray = () => {
  const derived = useDerived((s) => s.view);
  const set = useSelection((s) => s.set);
  const operations = useDocument((s) => s.job.operations);
  if (!derived) return <p className="p-3 text-soft">Computing …</p>;
  const findings = [...derived.findings].sort((a, b) => RANK[a.severity] - RANK[b.severity]);
  const go = (f: Finding): void => {
    const op = derived.operations.find((o) => o.id === f.operation);
    if (!op) return;
    const after = op.moments[op.findings.indexOf(f)] ?? 0;
    set({ operation: op.id, time: op.times.start + after, playing: false });
  };
  const serious = findings.filter((f) => f.severity !== 'info').length + derived.part.problems.length;
  return (
    <>
      <Section title={serious === 0 ? 'Findings' : `Findings: ${serious} to look at`}>
        {serious === 0 && (
          <p className="mb-2 text-verdigris">● No gouge, no collision, no rapid in metal, travel within limits.</p>
        )}
        {derived.part.problems.map((p) => (
          <p key={`${p.code}${p.row}`} className="mb-1.5 rounded border border-hair bg-white px-2 py-1.5">
            <b className="text-madder">✕ {wordPartProblem(p).message}</b> {wordPartProblem(p).remedy}
          </p>
        ))}
        <div data-testid="findings">
          <FindingList
            findings={findings}
            titleOf={(f) => (f.operation ? operations[f.operation]?.name : undefined)}
            onGo={go}
          />
        </div>
      </Section>
      <Section title="After the last operation">
        <p className="num">
          leftover {derived.end.leftoverVolume.toFixed(2)} mm³
          <br />
          part {derived.part.volume.toFixed(1)} mm³
        </p>
      </Section>
    </>
  );
};

/** Times and states of all operations, beside the player. */
export const ProveCard = () => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const set = useSelection((s) => s.set);
  if (!derived) return null;
  return (
    <Section title="Run order and time">
      <table className="w-full" data-testid="time-table">
        <thead>
          <tr className="text-left text-soft">
            <th className="font-normal">operation</th>
            <th className="text-right font-normal">cutting</th>
            <th className="text-right font-normal">idle</th>
          </tr>
        </thead>
        <tbody>
          {derived.operations
            .filter((o) => o.operation in job.operations)
            .map((o) => (
              <tr key={o.id} className="border-t border-hair align-top">
                <td className="py-1">
                  <button
                    type="button"
                    className="text-left hover:underline"
                    onClick={() => set({ operation: o.operation, time: o.times.start, playing: false })}
                  >
                    {job.operations[o.operation].name}
                    {o.time && <span className="num text-soft"> {o.time.number}</span>}
                  </button>
                  <span className="mt-0.5 block">
                    <StateMark state={o.state} />
                  </span>
                </td>
                <td className="num py-1 text-right">{o.times.cutting.toFixed(1)}</td>
                <td className="num py-1 text-right">{(o.times.rapid + o.times.other).toFixed(1)}</td>
              </tr>
            ))}
          <tr className="border-t border-soft font-semibold">
            <td className="py-1">cycle time</td>
            <td className="num py-1 text-right" colSpan={2}>
              {longSeconds(derived.total)}
            </td>
          </tr>
        </tbody>
      </table>
    </Section>
  );
};
