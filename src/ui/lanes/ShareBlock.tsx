'use client';
import type { Job } from '@/core/plan';
import { useSelection } from '../job/selection';
import { cx } from '../kit/controls';
import { longSeconds, STATE_WORDS } from '../kit/state';
import { channelColour, channelGround, type Picture, type Share } from './layout';

/** What the second tool does of an operation, in the lane of its channel: it comes and goes with the operation. */
export const ShareBlock = ({ job, picture, share }: { job: Job; picture: Picture; share: Share }) => {
  const chosen = useSelection((s) => s.operation === share.operation);
  const set = useSelection((s) => s.set);
  const op = job.operations[share.operation];
  const { lane, derived } = share;
  const colour = channelColour(lane);
  const width = Math.max(picture.even ? 30 : 15, picture.x(share.end) - picture.x(share.start) - 2);
  return (
    <button
      type="button"
      data-testid={`share-${share.operation}`}
      title={`${op?.name ?? ''}, second tool · ${STATE_WORDS[derived.state].word} · ${longSeconds(derived.times.end - derived.times.start)}. It goes where the operation goes.`}
      className={cx('absolute overflow-hidden rounded border border-dashed px-1.5 text-left')}
      style={{
        left: picture.x(share.start) + 1,
        top: picture.laneTop(lane),
        width,
        height: picture.rowHeight,
        borderColor: derived.state === 'blocked' ? 'var(--color-madder)' : colour,
        background: chosen ? colour : derived.state === 'blocked' ? 'var(--color-madder-pale)' : channelGround(lane),
        color: chosen ? 'var(--color-white)' : 'var(--color-ink)',
      }}
      onClick={() => set({ operation: share.operation, span: null })}
    >
      <span className="num block text-[11px]">
        <b>T{derived.station}</b>
      </span>
      {width > 34 && <span className="block truncate text-[12px] leading-4">with {op?.name}</span>}
    </button>
  );
};
