'use client';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { Carrier } from '@/core/machine';
import { numberedOffsets, sameAgain, worksWith } from '@/core/plan';
import { FIRST_POSITION, freeOffset, freePosition, mountList, type Tool, toolKind, usualMount } from '@/core/tooling';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { cx, IconButton, Section } from '../kit/controls';
import { useLibrary } from './Hold';
import { TakeTools } from './TakeTools';

/** Stations of every carrier, one below the other. */
export const ToolTray = () => {
  const carriers = useDocument((s) => s.job.machine.carriers);
  return (
    <>
      {carriers.map((c) => (
        <Stations key={c.id} carrier={c} />
      ))}
      <TakeTools />
    </>
  );
};

/** A place on a carrier that a tool is being taken for. */
interface Place {
  readonly station: number;
  readonly position: string;
}

/** How far a second tool of a block stands beside the first when it is put there, mm along Z. */
const BESIDE = 40;

/** Stations around a turret, as they stand when it turns; a block shows all the tools that it holds. */
const Stations = ({ carrier }: { carrier: Carrier }) => {
  const mounts = useDocument((s) => s.job.mounts);
  const set = useSelection((s) => s.set);
  const edit = useDocument((s) => s.edit);
  const [picking, setPicking] = useState<Place | null>(null);
  const put = (tool: Tool, { station, position }: Place): void => {
    const beside = position !== FIRST_POSITION;
    edit(`put ${tool.name} into station ${station}`, (j) => {
      j.tools[tool.id] = tool;
      const own = j.mounts[carrier.id] ?? {};
      const mount = beside
        ? {
            ...usualMount(tool.id),
            offset: freeOffset(j.mounts, carrier.id, carrier.stations),
            at: { x: 0, z: BESIDE * (Number(position) - 1) },
          }
        : usualMount(tool.id);
      j.mounts[carrier.id] = { ...own, [String(station)]: { ...own[String(station)], [position]: mount } };
      return j;
    });
    set({ tool: tool.id });
    setPicking(null);
  };
  return (
    <>
      <Section title={`${carrier.name}, ${carrier.stations} stations`}>
        <ul data-testid="station-map" aria-label={`Stations of ${carrier.name}`}>
          {Array.from({ length: carrier.stations }, (_, i) => i + 1).map((station) => {
            const positions = Object.keys(mounts[carrier.id]?.[String(station)] ?? {}).sort();
            const shown = positions.length === 0 ? [FIRST_POSITION] : positions;
            return (
              <li
                key={station}
                onDragOver={(e) => e.preventDefault()}
                onDrop={(e) => {
                  const from = Number(e.dataTransfer.getData(dragType(carrier)));
                  if (!from || from === station) return;
                  edit(`move station ${from} to ${station}`, (j) => {
                    const s = { ...j.mounts[carrier.id] };
                    const a = s[String(from)];
                    const b = s[String(station)];
                    delete s[String(from)];
                    delete s[String(station)];
                    if (a) s[String(station)] = a;
                    if (b) s[String(from)] = b;
                    j.mounts[carrier.id] = s;
                    return j;
                  });
                }}
              >
                {shown.map((position) => (
                  <Stand
                    key={position}
                    carrier={carrier}
                    place={{ station, position }}
                    several={positions.length > 1}
                    picking={picking?.station === station && picking.position === position}
                    onPick={setPicking}
                  />
                ))}
              </li>
            );
          })}
        </ul>
        <Offsets carrier={carrier} />
      </Section>
      {picking !== null && (
        <Shelf
          title={
            picking.position === FIRST_POSITION
              ? `From the library into station ${picking.station}`
              : `Beside it in the block of station ${picking.station}`
          }
          onPick={(tool) => put(tool, picking)}
        />
      )}
    </>
  );
};

/** Offset numbers of all tools of a carrier at once. */
const Offsets = ({ carrier }: { carrier: Carrier }) => {
  const mounts = useDocument((s) => s.job.mounts[carrier.id]);
  const edit = useDocument((s) => s.edit);
  const list = mountList({ [carrier.id]: mounts ?? {} });
  if (list.length === 0) return null;
  const asStations = list.every((m) => m.position !== FIRST_POSITION || m.mount.offset === null);
  return (
    <button
      type="button"
      className="mt-1 px-1.5 text-[11px] text-soft underline decoration-dotted underline-offset-2 hover:text-ink"
      title={
        asStations
          ? 'Each tool has the number of its station as offset. Number them 1, 2, 3 … in turn instead.'
          : 'Give each tool the number of its station as offset again.'
      }
      onClick={() =>
        edit(asStations ? 'number offsets in turn' : 'offsets as stations', (j) =>
          numberedOffsets(j, carrier, asStations ? 'sequence' : 'stations'),
        )
      }
    >
      {asStations ? 'offsets have the numbers of stations' : 'offsets have numbers of their own'}
    </button>
  );
};

const dragType = (carrier: Carrier): string => `text/lively-station-${carrier.id}`;

/** One place of a station with its tool, or empty. */
const Stand = ({
  carrier,
  place: { station, position },
  several,
  picking,
  onPick,
}: {
  readonly carrier: Carrier;
  readonly place: Place;
  readonly several: boolean;
  readonly picking: boolean;
  readonly onPick: (place: Place | null) => void;
}) => {
  const job = useDocument((s) => s.job);
  const edit = useDocument((s) => s.edit);
  const chosen = useSelection((s) => s.tool);
  const set = useSelection((s) => s.set);
  const mount = job.mounts[carrier.id]?.[String(station)]?.[position];
  const tool = job.tools[mount?.tool ?? ''];
  const used = tool !== undefined && Object.values(job.operations).some((o) => worksWith(o, tool.id));
  const first = position === FIRST_POSITION;
  const free = freePosition(job.mounts, carrier.id, String(station));
  const clear = (): void =>
    edit(several ? `take ${tool?.name ?? 'the tool'} out of station ${station}` : `empty station ${station}`, (j) => {
      const block = { ...j.mounts[carrier.id]?.[String(station)] };
      delete block[position];
      if (Object.keys(block).length === 0) delete j.mounts[carrier.id]?.[String(station)];
      else j.mounts[carrier.id] = { ...j.mounts[carrier.id], [String(station)]: block };
      if (tool && !used) delete j.tools[tool.id];
      return j;
    });
  return (
    <div className="flex items-center">
      <button
        type="button"
        draggable={Boolean(tool)}
        onDragStart={(e) => e.dataTransfer.setData(dragType(carrier), String(station))}
        className={cx(
          'flex min-h-8 min-w-0 flex-1 items-center gap-2 rounded px-1.5 text-left hover:bg-linen',
          tool && chosen === tool.id && 'bg-woad-pale',
          picking && 'bg-woad-pale',
        )}
        onClick={() => (tool ? set({ tool: tool.id }) : onPick(picking ? null : { station, position }))}
      >
        <span
          className={cx(
            'num inline-flex h-6 w-6 shrink-0 items-center justify-center rounded-full border border-soft bg-white',
            tool && !used && 'border-dashed',
            !first && 'h-5 w-5 ml-0.5 mr-0.5 text-[11px] text-soft',
          )}
          title={tool && !used ? 'not used yet' : several ? `station ${station}, position ${position}` : undefined}
        >
          {first ? station : `·${position}`}
        </span>
        {tool ? (
          <span className="min-w-0 flex-1 leading-tight">
            <span className="line-clamp-2">{tool.name}</span>
            <span className="num block truncate text-[11px] text-soft">{toolKind(tool).describe(tool)}</span>
          </span>
        ) : (
          <span className="text-soft">empty: take a tool</span>
        )}
      </button>
      {tool && first && free !== null && (
        <IconButton
          label={`Another tool in the block of station ${station}`}
          className="!w-6"
          onClick={() => onPick({ station, position: free })}
        >
          <Plus size={13} />
        </IconButton>
      )}
      {tool && !used && (
        <IconButton
          label={several ? `Take ${tool.name} out of the block` : `Empty station ${station}`}
          className="!w-6"
          onClick={clear}
        >
          <X size={13} />
        </IconButton>
      )}
    </div>
  );
};

/** Tools of the shop that stand nowhere on the machine yet, then another one of those that do. */
const Shelf = ({ title, onPick }: { title: string; onPick: (tool: Tool) => void }) => {
  const mounts = useDocument((s) => s.job.mounts);
  const tools = useDocument((s) => s.job.tools);
  const library = useLibrary();
  const [filter, setFilter] = useState('');
  const standing = new Set(mountList(mounts).map((m) => m.mount.tool));
  const matches = (t: Tool): boolean =>
    `${t.name} ${toolKind(t).describe(t)}`.toLowerCase().includes(filter.toLowerCase());
  const shelf = (library?.tools ?? []).filter((t) => !standing.has(t.id) && matches(t));
  const more = Object.values(tools).filter((t) => standing.has(t.id) && matches(t));
  return (
    <Section title={title}>
      <input
        aria-label="Search the library"
        placeholder="search"
        className="field mb-1 w-full !font-text"
        value={filter}
        onChange={(e) => setFilter(e.target.value)}
      />
      <ul data-testid="library-list">
        {shelf.map((t) => (
          <Offer key={t.id} tool={t} onPick={() => onPick(t)} />
        ))}
        {more.length > 0 && <li className="mt-2 text-soft">Another like one that stands here</li>}
        {more.map((t) => (
          <Offer key={t.id} tool={t} onPick={() => onPick(sameAgain(t, tools))} />
        ))}
      </ul>
    </Section>
  );
};

const Offer = ({ tool, onPick }: { tool: Tool; onPick: () => void }) => (
  <li>
    <button
      type="button"
      className="flex min-h-8 w-full items-center gap-2 rounded px-1.5 text-left hover:bg-linen"
      onClick={onPick}
    >
      <Plus size={13} className="shrink-0" />
      <span className="min-w-0 leading-tight">
        <span className="line-clamp-2">{tool.name}</span>
        <span className="num block truncate text-[11px] text-soft">{toolKind(tool).describe(tool)}</span>
      </span>
    </button>
  </li>
);
