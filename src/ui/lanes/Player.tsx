'use client';
import { ChevronLeft, ChevronRight, Pause, Play, SkipBack, SkipForward } from 'lucide-react';
import { useEffect } from 'react';
import { core } from '../job/core';
import { useDerived } from '../job/derived';
import { useSelection } from '../job/selection';
import { Choice, cx, IconButton } from '../kit/controls';
import { formatSeconds, longSeconds } from '../kit/state';

/** Runs the time cursor, step by step or at a rate, and says how long all takes. */
export const Player = ({ total, even, onEven }: { total: number; even: boolean; onEven: (even: boolean) => void }) => {
  const derived = useDerived((s) => s.view);
  const time = useSelection((s) => s.time);
  const playing = useSelection((s) => s.playing);
  const rate = useSelection((s) => s.rate);
  const set = useSelection((s) => s.set);

  const step = (by: 1 | -1): void => {
    void core()
      .moveEnds()
      .then((times) => {
        const at = useSelection.getState().time;
        const next = by > 0 ? times.find((t) => t > at + 1e-6) : times.findLast((t) => t < at - 1e-6);
        set({ time: next ?? (by > 0 ? total : 0), playing: false });
      })
      .catch(() => undefined);
  };
  const jump = (by: 1 | -1): void => {
    if (!derived) return;
    const starts = derived.operations.filter((o) => o.times.end > o.times.start).map((o) => o.times.start);
    const next = by > 0 ? starts.find((t) => t > time + 1e-6) : [...starts].reverse().find((t) => t < time - 1e-6);
    const at = next ?? (by > 0 ? total : 0);
    const op = derived.operations.find((o) => o.times.start === at && o.times.end > o.times.start);
    set({ time: at, playing: false, ...(op ? { operation: op.operation } : {}) });
  };

  useEffect(() => {
    const onStep = (e: Event): void => step((e as CustomEvent<1 | -1>).detail);
    const onJump = (e: Event): void => jump((e as CustomEvent<1 | -1>).detail);
    window.addEventListener('lively:step', onStep);
    window.addEventListener('lively:jump', onJump);
    return () => {
      window.removeEventListener('lively:step', onStep);
      window.removeEventListener('lively:jump', onJump);
    };
  });

  // the player: real time times the rate
  useEffect(() => {
    if (!playing || !derived) return;
    let last = performance.now();
    let frame = 0;
    const tick = (now: number): void => {
      const s = useSelection.getState();
      const end = s.stopAt ?? derived.total;
      const next = s.time + ((now - last) / 1000) * s.rate;
      last = now;
      if (next >= end) {
        set({ time: end, playing: false, stopAt: null });
        return;
      }
      set({ time: next });
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [playing, derived, set]);

  const play = (): void => {
    if (playing) set({ playing: false });
    else set({ playing: true, stopAt: null, time: time >= total - 1e-6 ? 0 : time });
  };

  return (
    <div className="flex h-8 shrink-0 items-center gap-1 border-b border-hair px-2">
      <IconButton label="Previous operation ([)" onClick={() => jump(-1)}>
        <SkipBack size={14} />
      </IconButton>
      <IconButton label="Back a move (,)" onClick={() => step(-1)}>
        <ChevronLeft size={15} />
      </IconButton>
      <IconButton label={playing ? 'Stop (Space)' : 'Run (Space)'} onClick={play}>
        {playing ? <Pause size={15} /> : <Play size={15} />}
      </IconButton>
      <IconButton label="On a move (.)" onClick={() => step(1)}>
        <ChevronRight size={15} />
      </IconButton>
      <IconButton label="Next operation (])" onClick={() => jump(1)}>
        <SkipForward size={14} />
      </IconButton>
      <Choice
        label="Speed of the run"
        className="ml-1 w-24"
        value={String(rate)}
        onChange={(v) => set({ rate: Number(v) })}
        options={[0.25, 1, 4, 10, 30].map((r) => ({ value: String(r), label: r === 1 ? 'real time' : `${r} ×` }))}
      />
      <span className="num ml-2 whitespace-nowrap" data-testid="clock">
        {formatSeconds(time)} / {formatSeconds(total)}
      </span>
      <span className="flex-1" />
      <fieldset className="mr-2 flex rounded border border-hair" aria-label="Spacing of the lanes">
        {[false, true].map((k) => (
          <button
            key={String(k)}
            type="button"
            aria-pressed={even === k}
            onClick={() => onEven(k)}
            className={cx('px-2 py-0.5', even === k ? 'bg-woad-pale font-semibold' : 'text-soft hover:bg-linen')}
          >
            {k ? 'evenly' : 'by time'}
          </button>
        ))}
      </fieldset>
      <span className="whitespace-nowrap font-semibold">{derived ? longSeconds(derived.total) : ''}</span>
    </div>
  );
};
