'use client';
import { markName } from '@/core/operations';
import type { Job, OperationView } from '@/core/plan';
import { cx } from '../kit/controls';

/** A wait in its lane, where it is drawn. */
export interface Knot {
  readonly id: string;
  readonly lane: number;
  /** Left end of the waiting, and the moment at which all go on, px. */
  readonly from: number;
  readonly at: number;
  readonly seconds: number;
  readonly view: OperationView | undefined;
}

interface Mark {
  readonly number: number;
  readonly tied: readonly string[];
  readonly knots: readonly Knot[];
}

const marksOf = (job: Job, knots: readonly Knot[]): Mark[] => {
  const marks = new Map<string, { number: number; tied: readonly string[]; knots: Knot[] }>();
  for (const k of knots) {
    const op = job.operations[k.id];
    if (op?.kind !== 'wait') continue;
    const key = markName(op.params);
    const known = marks.get(key);
    if (known) known.knots.push(k);
    else marks.set(key, { number: op.params.mark, tied: op.params.channels, knots: [k] });
  }
  return [...marks.values()];
};

interface Layout {
  readonly job: Job;
  readonly knots: readonly Knot[];
  /** Top of a lane and its height, px. */
  readonly top: (lane: number) => number;
  readonly height: number;
}

/** Cords through the lanes that a mark ties, waiting as dotted stretches; a mark without its partners ends frayed. */
export const Cords = ({ job, knots, top, height }: Layout) => (
  <g pointerEvents="none">
    {knots.map((k) => {
      const y = top(k.lane) + height / 2;
      return k.at - k.from > 6 ? (
        <g key={k.id}>
          <line
            x1={k.from + 3}
            x2={k.at - 3}
            y1={y}
            y2={y}
            stroke="var(--color-soft)"
            strokeWidth={1.6}
            strokeDasharray="1.5 4"
          />
          {k.at - k.from > 84 && (
            <text
              x={(k.from + k.at) / 2}
              y={y - 6}
              fontSize={11}
              textAnchor="middle"
              className="num"
              fill="var(--color-soft)"
            >
              waits {k.seconds.toFixed(1)} s
            </text>
          )}
        </g>
      ) : null;
    })}
    {marksOf(job, knots).map((m) => {
      const sorted = [...m.knots].sort((a, b) => a.lane - b.lane);
      const first = sorted[0];
      const last = sorted[sorted.length - 1];
      const whole = m.tied.length === sorted.length;
      const [y0, y1] = [top(first.lane) - 7, top(last.lane) + height + 7];
      const middle = (y0 + y1) / 2;
      return (
        <g key={`${m.number} ${m.tied.join()}`} data-testid={`cord-${m.number}`} data-whole={whole}>
          <path
            d={`M${first.at} ${y0} C${first.at + 4} ${middle - 20} ${last.at - 4} ${middle + 20} ${last.at} ${y1}`}
            fill="none"
            stroke={whole ? 'var(--color-ink)' : 'var(--color-madder)'}
            strokeWidth={1.6}
          />
          {!whole &&
            [-5, 0, 5].map((d) => (
              <line
                key={d}
                x1={last.at}
                x2={last.at + d}
                y1={y1}
                y2={y1 + 9}
                stroke="var(--color-madder)"
                strokeWidth={1.2}
              />
            ))}
        </g>
      );
    })}
  </g>
);

/** Knots of all marks: one in each lane that is tied. */
export const Knots = ({
  job,
  knots,
  top,
  height,
  chosen,
  onChoose,
}: Layout & { chosen: string | null; onChoose: (id: string) => void }) =>
  marksOf(job, knots).flatMap((m) => {
    const lanes = m.knots.map((k) => k.lane);
    const lowest = Math.max(...lanes);
    return m.knots.map((k) => (
      <button
        type="button"
        key={k.id}
        data-testid={`block-${k.id}`}
        data-state={k.view?.state ?? 'off'}
        aria-label={`Mark ${m.number} of ${job.machine.channels[k.lane].name}`}
        title={`Mark ${m.number}: ${k.seconds > 0.05 ? `waits ${k.seconds.toFixed(1)} s` : 'nobody waits here'}`}
        onClick={() => onChoose(k.id)}
        className={cx(
          'num absolute z-10 flex h-[15px] min-w-[15px] items-center justify-center rounded-full border px-[3px] text-[10px] leading-none',
          chosen === k.id
            ? 'border-woad bg-woad text-white'
            : lanes.length < m.tied.length
              ? 'border-madder bg-paper text-madder'
              : 'border-ink bg-paper hover:bg-woad-pale',
        )}
        style={{
          left: k.at - 7.5,
          top: k.lane === lowest && lanes.length > 1 ? top(k.lane) + height : top(k.lane) - 15,
        }}
      >
        {m.number}
      </button>
    ));
  });
