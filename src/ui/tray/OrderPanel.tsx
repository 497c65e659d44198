'use client';
import { isCutting } from '@/core/operations';
import { type Job, stationOf } from '@/core/plan';
import type { BestOrder, Forced } from '@/core/plan/order';
import { useMay } from '../house/person';
import { fitsJob, useBestOrder } from '../job/bestOrder';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Button, cx, Section } from '../kit/controls';
import { longSeconds } from '../kit/state';

const nameOf = (job: Job, id: string): string => job.operations[id]?.name ?? id;

const stationWords = (job: Job, id: string): string => {
  const op = job.operations[id];
  const station = op && isCutting(op) && op.tool ? stationOf(job, op.tool) : null;
  return station === null ? '' : `T${station}`;
};

/** The operations of a channel as they would follow each other. */
const Followed = ({ job, ids, moved }: { job: Job; ids: readonly string[]; moved: readonly string[] }) => {
  const chosen = useSelection((s) => s.operation);
  const set = useSelection((s) => s.set);
  return (
    <ol className="mb-2" data-testid="found-order">
      {ids.map((id, i) => {
        const before = ids[i - 1];
        const changes = stationWords(job, id) !== '' && stationWords(job, id) !== stationWords(job, before ?? '');
        return (
          <li key={id}>
            <button
              type="button"
              className={cx(
                'flex h-6 w-full items-center gap-1.5 rounded px-1 text-left hover:bg-linen',
                chosen === id && 'bg-linen',
              )}
              onClick={() => set({ operation: id, tool: null, span: null })}
            >
              <span className="num w-8 shrink-0 text-soft">{changes ? stationWords(job, id) : ''}</span>
              <span className={cx('min-w-0 flex-1 truncate', !job.operations[id]?.on && 'text-soft')}>
                {nameOf(job, id)}
              </span>
              {moved.includes(id) && <span className="shrink-0 text-woad">earlier</span>}
            </button>
          </li>
        );
      })}
    </ol>
  );
};

const because = (job: Job, f: Forced): string =>
  `“${nameOf(job, f.first)}” stays before “${nameOf(job, f.next)}”: ${f.why}`;

/** Why tools come back, and what was tried and refused. */
const Reasons = ({ job, best }: { job: Job; best: BestOrder }) => {
  const refused = best.refused.filter((r, i, all) => all.findIndex((k) => k.why === r.why) === i).slice(0, 4);
  if (best.comesBack.length === 0 && refused.length === 0) return null;
  return (
    <details className="mb-2" open={best.moved.length === 0}>
      <summary className="cursor-pointer text-woad">Why no fewer</summary>
      <ul className="text-soft">
        {best.comesBack.map((c) => (
          <li key={c.operation} className="mt-1">
            {stationWords(job, c.operation)} comes back for “{nameOf(job, c.operation)}”.{' '}
            {c.because && `${because(job, c.because)}.`}
          </li>
        ))}
        {refused.map((r) => (
          <li key={`${r.first} ${r.next}`} className="mt-1">
            Planned and refused: {because(job, r)}
          </li>
        ))}
      </ul>
    </details>
  );
};

const Found = ({ job, best }: { job: Job; best: BestOrder }) => {
  const { take, drop } = useBestOrder.getState();
  const { before, after, moved } = best;
  if (moved.length === 0)
    return (
      <>
        <p className="mb-1" data-testid="order-words">
          <span className="text-verdigris">●</span> {before.changes} tool changes. No order with fewer keeps what must
          come first.
        </p>
        <Reasons job={job} best={best} />
        <Button onClick={drop}>Close</Button>
      </>
    );
  const several = Object.values(best.order).filter((ids) => ids.length > 0).length > 1;
  return (
    <>
      <p className="num mb-1.5" data-testid="order-words">
        <b className="block">
          {before.changes} → {after.changes} tool changes
        </b>
        {before.time !== null && after.time !== null && (
          <>
            {longSeconds(before.time)} → {longSeconds(after.time)} a part,{' '}
            <span className="whitespace-nowrap">{(before.time - after.time).toFixed(1)} s saved</span>
          </>
        )}
      </p>
      <div className="mb-1.5 flex gap-1.5">
        <Button tone="primary" onClick={take}>
          Use this order
        </Button>
        <Button onClick={drop}>Leave it</Button>
      </div>
      {job.machine.channels
        .filter((c) => (best.order[c.id] ?? []).length > 0)
        .map((c) => (
          <div key={c.id}>
            {several && <p className="text-soft">channel {c.id}</p>}
            <Followed job={job} ids={best.order[c.id] ?? []} moved={moved} />
          </div>
        ))}
      <Reasons job={job} best={best} />
    </>
  );
};

/** Looks for an order of the job with fewer tool changes. */
export const OrderPanel = () => {
  const job = useDocument((s) => s.job);
  const id = useDocument((s) => s.id);
  const now = useBestOrder((s) => s.now);
  const look = useBestOrder((s) => s.look);
  const mayProgram = useMay('program');
  const cutting = Object.values(job.order)
    .flat()
    .filter((k) => isCutting(job.operations[k]) && job.operations[k].on).length;
  if (cutting < 3 || !mayProgram) return null;
  const mine = now.state !== 'idle' && now.job === id;
  const stale = now.state === 'found' && mine && !fitsJob(now.best.order, job);
  return (
    <Section title="Order">
      {now.state === 'looking' && mine && (
        <p data-testid="order-looking">Planning the orders that come into question …</p>
      )}
      {now.state === 'failed' && mine && <p className="mb-1.5 text-madder">✕ {now.reason}</p>}
      {stale && <p className="mb-1.5 text-weld">▲ The operations have changed since. Look again.</p>}
      {now.state === 'found' && mine && !stale ? (
        <Found job={job} best={now.best} />
      ) : (
        (now.state !== 'looking' || !mine) && <Button onClick={() => void look()}>Look for fewer tool changes</Button>
      )}
    </Section>
  );
};
