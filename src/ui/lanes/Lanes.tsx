'use client';
import { ChevronLeft, ChevronRight, Pause, Play, SkipBack, SkipForward } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { heldByHand } from '@/core/holding';
import { carrierOf } from '@/core/machine';
import { isCutting, namesOf } from '@/core/operations';
import { stationOf } from '@/core/plan';
import { useSize } from '../centreline/view';
import { core } from '../job/core';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { moveOperation, moveToChannel, whyNotThere } from '../job/edits';
import { useSelection } from '../job/selection';
import { Choice, cx, IconButton } from '../kit/controls';
import { formatSeconds, longSeconds, STATE_WORDS } from '../kit/state';
import { CycleWords, useCycle } from './CycleWords';
import { Cords, type Knot, Knots } from './Marks';
import { Ties } from './Ties';

const LEFT = 118;
const RIGHT = 20;
/** Place of the first lane, and what stands under each: spindle speed and marks. */
const LANES_TOP = 34;
const LANE_FOOT = 42;
const CHANNEL_COLOURS = ['var(--color-woad)', 'var(--color-walnut)', 'var(--color-verdigris)', 'var(--color-heather)'];

const niceStep = (total: number, width: number): number => {
  const rough = (total / Math.max(1, width)) * 90;
  return [0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600].find((s) => s >= rough) ?? 1200;
};

/** Spindle speeds of the channels over time, asked for at the width of the picture. */
const useSpeeds = (channels: readonly string[], step: number): ReadonlyMap<string, Float64Array> => {
  const view = useDerived((s) => s.view);
  const names = channels.join(' ');
  const [lines, setLines] = useState<ReadonlyMap<string, Float64Array>>(new Map());
  useEffect(() => {
    if (!view) return;
    let current = true;
    Promise.all(names.split(' ').map(async (c) => [c, await core().speeds(c, step)] as const))
      .then((found) => current && setLines(new Map(found)))
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, [view, names, step]);
  return lines;
};

/** [seconds, rev/min] pairs as a polyline in a band of `height` px. */
const speedPoints = (
  line: Float64Array,
  x: (t: number) => number,
  top: number,
  height: number,
  most: number,
): string => {
  let points = '';
  for (let i = 0; i < line.length; i += 2)
    points += `${x(line[i]).toFixed(1)},${(top + height - (line[i + 1] / most) * height).toFixed(1)} `;
  return points;
};

/** A block on its way to another place in its lane, or to another lane. */
interface Drag {
  readonly id: string;
  readonly startX: number;
  readonly startY: number;
  readonly dx: number;
  readonly dy: number;
  readonly lane: number;
  readonly to: number;
  readonly why: string | null;
}

/** When: every channel against time, with operations as blocks, spindle speed, and the time cursor that moves tool and stock. */
export const Lanes = () => {
  const [ref, size] = useSize();
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const selected = useSelection((s) => s.operation);
  const time = useSelection((s) => s.time);
  const playing = useSelection((s) => s.playing);
  const rate = useSelection((s) => s.rate);
  const set = useSelection((s) => s.set);
  const [even, setEven] = useState(false);
  const [drag, setDrag] = useState<Drag | null>(null);
  const scrub = useRef(false);
  const lines = useSpeeds(
    job.machine.channels.map((c) => c.id),
    Math.max(0.01, (derived?.total ?? 0) / Math.max(200, size.width * 1.5)),
  );

  const cycle = useCycle();
  const total = Math.max(0.1, derived?.total ?? 0.1);
  const width = Math.max(50, size.width - LEFT - RIGHT);
  const channels = job.machine.channels;
  const rowHeight = Math.max(44, Math.min(64, (size.height - 58) / channels.length - 40));
  const laneTop = (lane: number): number => LANES_TOP + lane * (rowHeight + LANE_FOOT);
  const blocks = useMemo(() => {
    const byId = new Map(derived?.operations.map((o) => [o.id, o]) ?? []);
    return channels.map((c) => {
      const ids = job.order[c.id] ?? [];
      let pen = 0;
      return ids.map((id, i) => {
        const d = byId.get(id);
        let start: number;
        let end: number;
        if (even || !d || d.times.end <= d.times.start) {
          start = even ? (i / ids.length) * total : pen;
          end = even ? ((i + 0.92) / ids.length) * total : pen;
        } else {
          start = d.times.start;
          end = d.times.end;
        }
        pen = Math.max(pen, end);
        return { id, index: i, start, end, derived: d };
      });
    });
  }, [derived, job.order, channels, even, total]);

  const x = (t: number): number => LEFT + (t / total) * width;
  const timeAtX = (px: number): number => Math.max(0, Math.min(total, ((px - LEFT) / width) * total));
  // with even spacing the cursor keeps its place inside each block
  const cursorX = (): number => {
    if (!even) return x(time);
    for (const row of blocks)
      for (const b of row)
        if (b.derived && time >= b.derived.times.start && time <= b.derived.times.end)
          return x(
            b.start +
              ((time - b.derived.times.start) / Math.max(1e-9, b.derived.times.end - b.derived.times.start)) *
                (b.end - b.start),
          );
    return x(total);
  };
  const timeFromPointer = (px: number): number => {
    const t = timeAtX(px);
    if (!even) return t;
    for (const row of blocks)
      for (const b of row)
        if (b.derived && t >= b.start && t <= b.end)
          return (
            b.derived.times.start +
            ((t - b.start) / Math.max(1e-9, b.end - b.start)) * (b.derived.times.end - b.derived.times.start)
          );
    return t;
  };

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
    set({ time: at, playing: false, ...(op ? { operation: op.id } : {}) });
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

  const dropIndex = (row: (typeof blocks)[number], id: string, centre: number): number => {
    const rest = row.filter((b) => b.id !== id);
    const at = rest.findIndex((b) => (x(b.start) + x(b.end)) / 2 > centre);
    return at < 0 ? rest.length : at;
  };

  const knots = blocks.flatMap((row, lane) =>
    row.flatMap((b): Knot[] => {
      if (job.operations[b.id]?.kind !== 'wait') return [];
      const seconds = b.derived ? b.derived.times.end - b.derived.times.start : 0;
      const at = x(even ? (b.start + b.end) / 2 : b.end);
      return [{ id: b.id, lane, from: even ? at : x(b.start), at, seconds, view: b.derived }];
    }),
  );
  const marked = { job, knots, top: laneTop, height: rowHeight };
  /** Where the work is held anew. */
  const borders = job.holdingOrder.slice(1).flatMap((id) => {
    if (!heldByHand(job.holdings[id])) return [];
    const starts = blocks.flat().filter((b) => job.operations[b.id]?.holding === id && b.end > b.start);
    if (starts.length === 0) return [];
    return [{ id, at: x(Math.min(...starts.map((b) => b.start))) - 1, name: job.holdings[id].name }];
  });

  const laneAt = (lane: number, dy: number): number =>
    Math.max(0, Math.min(channels.length - 1, Math.round(lane + dy / (rowHeight + LANE_FOOT))));

  const tickStep = niceStep(total, width);
  const most = Math.max(...job.machine.spindles.map((s) => s.maxSpeed));

  return (
    <div className="flex h-full flex-col bg-paper" data-testid="lanes">
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
              onClick={() => setEven(k)}
              className={cx('px-2 py-0.5', even === k ? 'bg-woad-pale font-semibold' : 'text-soft hover:bg-linen')}
            >
              {k ? 'evenly' : 'by time'}
            </button>
          ))}
        </fieldset>
        <span className="whitespace-nowrap font-semibold">{derived ? longSeconds(derived.total) : ''}</span>
      </div>
      <div ref={ref} className="relative min-h-0 flex-1 overflow-hidden">
        {size.width > 0 && (
          <svg
            width={size.width}
            height={size.height}
            role="img"
            aria-label="Operations against time"
            onPointerDown={(e) => {
              if (drag) return;
              scrub.current = true;
              e.currentTarget.setPointerCapture(e.pointerId);
              const b = e.currentTarget.getBoundingClientRect();
              set({ time: timeFromPointer(e.clientX - b.left), playing: false });
            }}
            onPointerMove={(e) => {
              if (!scrub.current) return;
              const b = e.currentTarget.getBoundingClientRect();
              set({ time: timeFromPointer(e.clientX - b.left) });
            }}
            onPointerUp={() => {
              scrub.current = false;
            }}
          >
            {!even &&
              Array.from({ length: Math.floor(total / tickStep) + 1 }, (_, i) => i * tickStep).map((t) => (
                <g key={t}>
                  <line x1={x(t)} x2={x(t)} y1={18} y2={size.height} stroke="var(--color-hair-pale)" />
                  <text x={x(t)} y={13} fontSize={11} textAnchor="middle" fill="var(--color-soft)" className="num">
                    {`${Math.floor(t / 60)}:${String(Math.floor(t % 60)).padStart(2, '0')}${tickStep < 1 ? `.${Math.round((t % 1) * 10)}` : ''}`}
                  </text>
                </g>
              ))}
            {channels.map((c, ci) => {
              const top = laneTop(ci);
              const speeds = lines.get(c.id);
              return (
                <g key={c.id}>
                  <text x={10} y={top + 16} fontSize={12} fontWeight={600} fill="var(--color-ink)">
                    {c.name}
                  </text>
                  <text x={10} y={top + 32} fontSize={12} fill="var(--color-soft)">
                    {carrierOf(job.machine, c.id)?.name}
                  </text>
                  <text x={10} y={top + rowHeight + 24} fontSize={12} fill="var(--color-soft)">
                    spindle rev/min
                  </text>
                  {speeds && !even && (
                    <polyline
                      points={speedPoints(speeds, x, top + rowHeight + 6, 26, most)}
                      fill="none"
                      stroke="var(--color-walnut)"
                      strokeWidth={1.4}
                    />
                  )}
                </g>
              );
            })}
            {!even &&
              cycle?.next.map((n) => {
                const lane = channels.findIndex((c) => c.id === n.channel);
                const right = Math.min(x(n.end), size.width - 4);
                return (
                  <g key={`${n.channel} ${n.operation}`} data-testid={`next-${n.operation}`}>
                    <title>The next part: {job.operations[n.operation]?.name}</title>
                    <rect
                      x={x(n.start) + 2}
                      y={laneTop(lane)}
                      width={Math.max(2, right - x(n.start) - 3)}
                      height={rowHeight}
                      rx={3}
                      fill="none"
                      stroke={CHANNEL_COLOURS[lane % 4]}
                      strokeDasharray="4 3"
                    />
                    {right - x(n.start) > 46 && (
                      <text x={x(n.start) + 8} y={laneTop(lane) + 16} fontSize={11} fill="var(--color-soft)">
                        next part
                      </text>
                    )}
                  </g>
                );
              })}
            <Cords {...marked} />
            {borders.map(({ id, at, name }) => (
              <g key={id} pointerEvents="none" data-testid={`border-${id}`}>
                <line x1={at} x2={at} y1={18} y2={size.height} stroke="var(--color-heather)" strokeDasharray="6 3" />
                <text x={at + 5} y={size.height - 6} fontSize={12} fill="var(--color-heather)">
                  {name}
                </text>
              </g>
            ))}
            <g pointerEvents="none">
              <line
                x1={cursorX()}
                x2={cursorX()}
                y1={14}
                y2={size.height}
                stroke="var(--color-madder)"
                strokeWidth={1.5}
              />
              <path d={`M${cursorX() - 6} 12h12l-6 8z`} fill="var(--color-madder)" />
            </g>
          </svg>
        )}
        <Knots {...marked} chosen={selected} onChoose={(id) => set({ operation: id, tool: null, span: null })} />
        {blocks.map((row, ci) =>
          row.map((b) => {
            const op = job.operations[b.id];
            if (op?.kind === 'wait') return null;
            const top = laneTop(ci);
            const left = x(b.start) + 1;
            const w = Math.max(even ? 30 : 15, x(b.end) - x(b.start) - 2);
            const state = b.derived?.state ?? 'off';
            const chosen = selected === b.id;
            const colour = CHANNEL_COLOURS[ci % 4];
            const moving = drag?.id === b.id;
            const station = isCutting(op) && op.tool ? stationOf(job, op.tool) : null;
            return (
              <button
                type="button"
                key={b.id}
                data-testid={`block-${b.id}`}
                data-state={state}
                title={`${op.name} · ${STATE_WORDS[state].word}${b.derived ? ` · ${longSeconds(b.derived.times.end - b.derived.times.start)}` : ''}. Drag to reorder, or Alt with arrow keys.`}
                className={cx(
                  'absolute overflow-hidden rounded border px-1.5 text-left',
                  moving && 'z-20 opacity-90',
                  state === 'off' && 'border-dashed opacity-60',
                )}
                style={{
                  left: left + (moving ? drag.dx : 0),
                  top: top + (moving ? drag.dy : 0),
                  width: w,
                  height: rowHeight,
                  borderColor:
                    state === 'blocked'
                      ? 'var(--color-madder)'
                      : state === 'attention'
                        ? 'var(--color-weld-mark)'
                        : colour,
                  background: chosen
                    ? colour
                    : state === 'blocked'
                      ? 'var(--color-madder-pale)'
                      : state === 'attention'
                        ? 'var(--color-weld-pale)'
                        : ci % 2 === 1
                          ? 'var(--color-walnut-pale)'
                          : 'var(--color-woad-pale)',
                  color: chosen ? 'white' : 'var(--color-ink)',
                }}
                onClick={() =>
                  set({
                    operation: b.id,
                    tool: isCutting(op) ? op.tool : null,
                    span: null,
                    ...(b.derived &&
                    b.derived.times.end > b.derived.times.start &&
                    (time < b.derived.times.start || time >= b.derived.times.end)
                      ? { time: b.derived.times.start, playing: false }
                      : {}),
                  })
                }
                onDoubleClick={() =>
                  b.derived && set({ time: b.derived.times.start, playing: true, stopAt: b.derived.times.end })
                }
                onKeyDown={(e) => {
                  if (e.altKey && (e.key === 'ArrowLeft' || e.key === 'ArrowRight')) {
                    e.preventDefault();
                    const to = b.index + (e.key === 'ArrowLeft' ? -1 : 1);
                    const why = whyNotThere(job, b.id, to);
                    if (why) toast.message(why);
                    else moveOperation(b.id, to);
                  }
                }}
                onPointerDown={(e) => {
                  if (e.button !== 0) return;
                  e.currentTarget.setPointerCapture(e.pointerId);
                  setDrag({
                    id: b.id,
                    startX: e.clientX,
                    startY: e.clientY,
                    dx: 0,
                    dy: 0,
                    lane: ci,
                    to: b.index,
                    why: null,
                  });
                }}
                onPointerMove={(e) => {
                  if (drag?.id !== b.id) return;
                  const dx = e.clientX - drag.startX;
                  const dy = e.clientY - drag.startY;
                  if (Math.abs(dx) < 4 && Math.abs(dy) < 8 && drag.dx === 0) return;
                  const lane = laneAt(ci, dy);
                  const to = dropIndex(blocks[lane], b.id, left + w / 2 + dx);
                  const stays = lane === ci && to === b.index;
                  setDrag({ ...drag, dx, dy, lane, to, why: stays || lane !== ci ? null : whyNotThere(job, b.id, to) });
                }}
                onPointerUp={() => {
                  if (drag?.id !== b.id) return;
                  const { to, why, dx, lane } = drag;
                  setDrag(null);
                  if (lane !== ci) {
                    const missing = moveToChannel(b.id, channels[lane].id, to);
                    if (missing) toast.message(missing);
                    return;
                  }
                  if (Math.abs(dx) < 4 || to === b.index) return;
                  if (why) toast.message(why);
                  else moveOperation(b.id, to);
                }}
              >
                <span className="num flex justify-between text-[11px]">
                  <b>{station === null ? (isCutting(op) ? 'T–' : '◆') : `T${station}`}</b>
                  {w > 44 && state !== 'ready' && <span aria-hidden>{STATE_WORDS[state].glyph}</span>}
                </span>
                {w > 34 && <span className="block truncate text-[12px] leading-4">{op.name || namesOf(op).short}</span>}
              </button>
            );
          }),
        )}
        {channels.length > 1 && (
          <Ties
            blocks={blocks.flatMap((row, lane) =>
              row.flatMap((b) =>
                job.operations[b.id]?.kind === 'wait'
                  ? []
                  : [{ id: b.id, left: x(b.start), right: x(b.end), top: laneTop(lane) }],
              ),
            )}
            height={rowHeight}
          />
        )}
        {drag?.why && (
          <div
            className="absolute z-30 rounded border border-madder bg-white px-2 py-0.5 text-madder"
            style={{ left: Math.min(size.width - 260, Math.max(4, drag.startX - 60 + drag.dx)), top: 2 }}
          >
            {drag.why}
          </div>
        )}
        {derived && (job.order[channels[0].id] ?? []).length === 0 && (
          <div className="pointer-events-none absolute inset-0 flex items-center justify-center text-soft">
            No operations yet. In Plan, pick a piece of the contour and choose what can cut it.
          </div>
        )}
      </div>
      {cycle && <CycleWords cycle={cycle} />}
    </div>
  );
};
