import type { Job, OperationView } from '@/core/plan';
import { useSelection } from '../job/selection';
import { longSeconds } from '../kit/state';
import { channelColour, type Picture } from './layout';

/** All later times of a repeat, folded to one stretch. */
interface RestOfRepeat {
  readonly operation: string;
  readonly lane: number;
  readonly times: number;
  readonly start: number;
  readonly end: number;
}

/** What follows the first time of each repeat, lane by lane; by tool what follows the first time of each operation. */
export const restsOf = (job: Job, operations: readonly OperationView[]): RestOfRepeat[] =>
  Object.values(job.repeats).flatMap((r) => {
    const later = operations.filter(
      (o) =>
        o.time !== null && o.id !== o.operation && r.operations.includes(o.operation) && o.times.end > o.times.start,
    );
    const groups = r.by === 'tool' ? r.operations.map((id) => later.filter((o) => o.operation === id)) : [later];
    return groups.flatMap((group) =>
      job.machine.channels.flatMap((c, lane) => {
        const own = group.filter((o) => o.channel === c.id);
        if (own.length === 0) return [];
        return [
          {
            operation: own[0].operation,
            lane,
            times: new Set(own.map((o) => o.time?.number)).size,
            start: Math.min(...own.map((o) => o.times.start)),
            end: Math.max(...own.map((o) => o.times.end)),
          },
        ];
      }),
    );
  });

/** A click moves the time cursor to the place; the first of its operations is chosen. */
export const Rest = ({ rest, picture }: { rest: RestOfRepeat; picture: Picture }) => {
  const set = useSelection((s) => s.set);
  const { x, laneTop, rowHeight } = picture;
  const width = Math.max(8, x(rest.end) - x(rest.start) - 2);
  return (
    <button
      type="button"
      data-testid={`rest-${rest.operation}`}
      title={`${rest.times} more times, ${longSeconds(rest.end - rest.start)}`}
      className="absolute overflow-hidden rounded border border-dashed px-1.5 text-left text-soft"
      style={{
        left: x(rest.start) + 1,
        top: laneTop(rest.lane),
        width,
        height: rowHeight,
        borderColor: channelColour(rest.lane),
      }}
      onClick={() => set({ operation: rest.operation, time: rest.start, playing: false })}
    >
      {width > 40 && <span className="num block text-[12px]">{rest.times} more</span>}
      {width > 60 && <span className="num block text-[12px] leading-4">{longSeconds(rest.end - rest.start)}</span>}
    </button>
  );
};
