'use client';
import { useEffect, useRef } from 'react';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useHoldingId } from '../job/holding';
import { showHolding } from '../job/holdings';
import { useSelection } from '../job/selection';
import { cx } from '../kit/controls';

/** Shows the side on which work is done whenever the time cursor comes to another one. */
export const FollowTheWork = () => {
  const time = useSelection((s) => s.time);
  const shown = useHoldingId();
  const before = useRef(time);
  useEffect(() => {
    const moved = before.current !== time;
    before.current = time;
    const running = useDerived
      .getState()
      .view?.operations.filter((o) => o.moves && time >= o.times.start && time < o.times.end);
    if (!moved || !running || running.length === 0 || running.some((o) => o.holding === shown)) return;
    useSelection.getState().set({ holding: running[0].holding, operation: running[0].id });
  }, [time, shown]);
  return null;
};

/** Which side is being worked on, the others a click away; nothing where there is but one. */
export const HoldingSwitch = () => {
  const order = useDocument((s) => s.job.holdingOrder);
  const holdings = useDocument((s) => s.job.holdings);
  const phase = useSelection((s) => s.phase);
  const shown = useHoldingId();
  if (order.length < 2 || phase === 'part') return null;
  return (
    <fieldset
      className="absolute bottom-1.5 right-[110px] flex h-[30px] items-stretch rounded border border-hair bg-paper"
      aria-label="Side that is shown"
      data-testid="holding-switch"
    >
      {order.map((id) => (
        <button
          key={id}
          type="button"
          aria-pressed={id === shown}
          onClick={() => showHolding(id)}
          className={cx('px-2 py-0.5', id === shown ? 'bg-woad-pale font-semibold' : 'text-soft hover:bg-linen')}
        >
          {holdings[id].name} <span className="num text-soft">{holdings[id].workOffset}</span>
        </button>
      ))}
    </fieldset>
  );
};
