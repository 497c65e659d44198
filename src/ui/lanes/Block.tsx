'use client';
import { toast } from 'sonner';
import { isCutting, namesOf } from '@/core/operations';
import { type Job, stationOf } from '@/core/plan';
import { moveOperation, moveToChannel, whyNotThere } from '../job/edits';
import { useSelection } from '../job/selection';
import { cx } from '../kit/controls';
import { longSeconds, STATE_WORDS } from '../kit/state';
import { channelColour, channelGround, type Laid, type Picture, spanOf } from './layout';
import { measured, type NameSet, setName } from './names';

/** The name of an operation, however short it lasts. */
const BlockName = ({ name, set }: { name: string; set: NameSet }) =>
  set.way === 'line' ? (
    <span className="block truncate leading-4" style={{ fontSize: set.letters }}>
      {name}
    </span>
  ) : (
    <span
      className={cx(
        'whitespace-pre overflow-hidden',
        set.way === 'lines' ? 'block' : 'absolute inset-x-0 inset-y-0.5 flex flex-col justify-center',
      )}
      style={{
        fontSize: set.letters,
        lineHeight: `${set.pitch}px`,
        ...(set.way === 'upright' ? { writingMode: 'vertical-rl', alignItems: 'safe center' } : {}),
      }}
    >
      {set.lines.join('\n')}
    </span>
  );

/** A block on its way to another place in its lane, or to another lane. */
export interface Drag {
  readonly id: string;
  readonly startX: number;
  readonly startY: number;
  readonly dx: number;
  readonly dy: number;
  readonly lane: number;
  readonly to: number;
  readonly why: string | null;
}

interface BlockAt {
  readonly job: Job;
  readonly blocks: readonly (readonly Laid[])[];
  readonly picture: Picture;
  readonly lane: number;
  readonly b: Laid;
  readonly drag: Drag | null;
  readonly onDrag: (drag: Drag | null) => void;
}

/** Whether the time cursor stands outside an operation. */
const outside = (times: { readonly start: number; readonly end: number }): boolean => {
  const { time } = useSelection.getState();
  return time < times.start || time >= times.end;
};

/** Place in a lane's list for a block whose middle lies at `centre` px. */
const dropIndex = (row: readonly Laid[], id: string, centre: number, x: Picture['x']): number => {
  const rest = row.filter((b) => b.id !== id);
  const at = rest.findIndex((b) => (x(b.start) + x(b.end)) / 2 > centre);
  return at < 0 ? rest.length : at;
};

/** One operation: as long as it lasts, with its tool, its name and its state; to be picked, played and dragged. */
export const Block = ({ job, blocks, picture, lane: ci, b, drag, onDrag }: BlockAt) => {
  const selected = useSelection((s) => s.operation);
  const set = useSelection((s) => s.set);
  const { x, laneTop, rowHeight, even } = picture;
  const op = job.operations[b.id];
  if (op?.kind === 'wait') return null;
  const last = spanOf(job, blocks, ci, b);
  const height = Math.abs(laneTop(last) - laneTop(ci)) + rowHeight;
  const top = laneTop(Math.min(ci, last));
  const left = x(b.start) + 1;
  const w = Math.max(even ? 30 : 15, x(b.end) - x(b.start) - 2);
  const state = b.derived?.state ?? 'off';
  const chosen = selected === b.id;
  const colour = channelColour(ci);
  const moving = drag?.id === b.id;
  const station = isCutting(op) && op.tool ? stationOf(job, op.tool) : null;
  const name = op.name || namesOf(op).short;
  const mark = station === null ? (isCutting(op) ? 'T–' : '◆') : `T${station}`;
  const bare = setName(name, w, height, measured);
  // upright the tool stands before the name where there is room for it
  const both = bare.way === 'upright' ? setName(`${mark} ${name}`, w, height, measured) : bare;
  const named = both.whole ? both : bare;
  return (
    <button
      type="button"
      key={b.id}
      data-testid={`block-${b.id}`}
      data-state={state}
      title={`${op.name} · ${STATE_WORDS[state].word}${b.derived ? ` · ${longSeconds(b.derived.times.end - b.derived.times.start)}` : ''}. Drag to reorder, or Alt with arrow keys.`}
      className={cx(
        'absolute overflow-hidden rounded border px-1.5 text-left',
        // one drawn wider than it lasts, a blocked one with no time at all, stands before the one behind it
        !moving && w > x(b.end) - x(b.start) && 'z-10',
        moving && 'z-20 opacity-90',
        state === 'off' && 'border-dashed opacity-60',
      )}
      style={{
        left: left + (moving ? drag.dx : 0),
        top: top + (moving ? drag.dy : 0),
        width: w,
        height,
        borderColor:
          state === 'blocked' ? 'var(--color-madder)' : state === 'attention' ? 'var(--color-weld-mark)' : colour,
        background: chosen
          ? colour
          : state === 'blocked'
            ? 'var(--color-madder-pale)'
            : state === 'attention'
              ? 'var(--color-weld-pale)'
              : channelGround(ci),
        color: chosen ? 'var(--color-white)' : 'var(--color-ink)',
      }}
      onClick={() =>
        set({
          operation: b.id,
          tool: isCutting(op) ? op.tool : null,
          span: null,
          ...(b.derived && b.derived.times.end > b.derived.times.start && outside(b.derived.times)
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
        onDrag({
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
        const lane = picture.laneBeside(ci, dy);
        const to = dropIndex(blocks[lane], b.id, left + w / 2 + dx, x);
        const stays = lane === ci && to === b.index;
        onDrag({ ...drag, dx, dy, lane, to, why: stays || lane !== ci ? null : whyNotThere(job, b.id, to) });
      }}
      onPointerUp={() => {
        if (drag?.id !== b.id) return;
        const { to, why, dx, lane } = drag;
        onDrag(null);
        if (lane !== ci) {
          const moved = moveToChannel(b.id, job.machine.channels[lane].id, to);
          if ('why' in moved) toast.message(moved.why);
          else if (moved.put) {
            const { carrier, station, tool } = moved.put;
            const turret = job.machine.carriers.find((c) => c.id === carrier)?.name ?? carrier;
            toast.message(`“${tool.name}” goes into station ${station} of ${turret} for it.`);
          }
          return;
        }
        if (Math.abs(dx) < 4 || to === b.index) return;
        if (why) toast.message(why);
        else moveOperation(b.id, to);
      }}
    >
      <span className={cx('num flex justify-between text-[11px]', named.way === 'upright' && 'hidden')}>
        <b>{mark}</b>
        {w > 44 && state !== 'ready' && <span aria-hidden>{STATE_WORDS[state].glyph}</span>}
      </span>
      <BlockName name={name} set={named} />
    </button>
  );
};
