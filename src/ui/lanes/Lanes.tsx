'use client';
import { useMemo, useRef, useState } from 'react';
import { useSize } from '../centreline/view';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Block, type Drag } from './Block';
import { CycleWords, useCycle } from './CycleWords';
import { Borders, Cursor, LaneNames, Moments, NextPart } from './Ground';
import { layBlocks, layShares, pictureOf } from './layout';
import { Cords, type Knot, Knots } from './Marks';
import { Player } from './Player';
import { Rest, restsOf } from './Rest';
import { ShareBlock } from './ShareBlock';
import { Ties } from './Ties';

/** When: every channel against time, with operations as blocks, spindle speed, and the time cursor that moves tool and stock. */
export const Lanes = () => {
  const [ref, size] = useSize();
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const selected = useSelection((s) => s.operation);
  const time = useSelection((s) => s.time);
  const set = useSelection((s) => s.set);
  const [even, setEven] = useState(false);
  const [drag, setDrag] = useState<Drag | null>(null);
  const scrub = useRef(false);
  const cycle = useCycle();
  const total = Math.max(0.1, derived?.total ?? 0.1);
  const { channels } = job.machine;
  const blocks = useMemo(() => layBlocks(job, derived, total, even), [job, derived, total, even]);
  const picture = pictureOf(size, blocks, total, even);
  const { x, laneTop, rowHeight } = picture;
  const knots = blocks.flatMap((row, lane) =>
    row.flatMap((b): Knot[] => {
      if (job.operations[b.id]?.kind !== 'wait') return [];
      const seconds = b.derived ? b.derived.times.end - b.derived.times.start : 0;
      const at = x(even ? (b.start + b.end) / 2 : b.end);
      return [{ id: b.id, lane, from: even ? at : x(b.start), at, seconds, view: b.derived }];
    }),
  );
  const marked = { job, knots, top: laneTop, height: rowHeight };
  const ground = { job, picture, size };

  return (
    <div className="flex h-full flex-col bg-paper" data-testid="lanes">
      <Player total={total} even={even} onEven={setEven} />
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
              set({ time: picture.timeAt(e.clientX - b.left), playing: false });
            }}
            onPointerMove={(e) => {
              if (!scrub.current) return;
              const b = e.currentTarget.getBoundingClientRect();
              set({ time: picture.timeAt(e.clientX - b.left) });
            }}
            onPointerUp={() => {
              scrub.current = false;
            }}
          >
            {!even && <Moments picture={picture} size={size} />}
            <LaneNames {...ground} />
            <NextPart {...ground} cycle={cycle} />
            <Cords {...marked} />
            <Borders {...ground} blocks={blocks} />
            <Cursor at={picture.cursor(time)} height={size.height} />
          </svg>
        )}
        <Knots {...marked} chosen={selected} onChoose={(id) => set({ operation: id, tool: null, span: null })} />
        {blocks.map((row, lane) =>
          row.map((b) => (
            <Block
              key={b.id}
              job={job}
              blocks={blocks}
              picture={picture}
              lane={lane}
              b={b}
              drag={drag}
              onDrag={setDrag}
            />
          )),
        )}
        {layShares(job, derived, blocks, even).map((share) => (
          <ShareBlock key={share.id} job={job} picture={picture} share={share} />
        ))}
        {!even &&
          derived &&
          restsOf(job, derived.operations).map((r) => (
            <Rest key={`${r.operation} ${r.lane}`} rest={r} picture={picture} />
          ))}
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
