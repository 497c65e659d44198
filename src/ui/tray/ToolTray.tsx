'use client';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { Carrier } from '@/core/machine';
import { FIRST_POSITION, mountList, type Tool, toolKind, usualMount } from '@/core/tooling';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { cx, IconButton, Section } from '../kit/controls';
import { useLibrary } from './Hold';

/** Stations of every carrier, one below the other. */
export const ToolTray = () => {
  const carriers = useDocument((s) => s.job.machine.carriers);
  return carriers.map((c) => <Stations key={c.id} carrier={c} />);
};

/** Stations around a turret, as they stand when it turns. */
const Stations = ({ carrier }: { carrier: Carrier }) => {
  const job = useDocument((s) => s.job);
  const chosen = useSelection((s) => s.tool);
  const set = useSelection((s) => s.set);
  const edit = useDocument((s) => s.edit);
  const mounts = job.mounts[carrier.id] ?? {};
  const at = (n: number): string | undefined => mounts[String(n)]?.[FIRST_POSITION]?.tool;
  const [picking, setPicking] = useState<number | null>(null);
  const used = new Set(Object.values(job.operations).map((o) => o.tool));
  const put = (tool: Tool, station: number): void => {
    edit(`put ${tool.name} into station ${station}`, (j) => {
      j.tools[tool.id] = tool;
      j.mounts[carrier.id] = { ...j.mounts[carrier.id], [String(station)]: { [FIRST_POSITION]: usualMount(tool.id) } };
      return j;
    });
    set({ tool: tool.id });
    setPicking(null);
  };
  const clear = (station: number): void =>
    edit(`empty station ${station}`, (j) => {
      const id = at(station);
      delete j.mounts[carrier.id]?.[String(station)];
      if (id && !Object.values(j.operations).some((o) => o.tool === id)) delete j.tools[id];
      return j;
    });
  return (
    <>
      <Section title={`${carrier.name}, ${carrier.stations} stations`}>
        <ul data-testid="station-map" aria-label={`Stations of ${carrier.name}`}>
          {Array.from({ length: carrier.stations }, (_, i) => i + 1).map((n) => {
            const tool = job.tools[at(n) ?? ''];
            return (
              <li
                key={n}
                className="flex items-center"
                onDragOver={(e) => e.preventDefault()}
                onDrop={(e) => {
                  const from = Number(e.dataTransfer.getData(`text/lively-station-${carrier.id}`));
                  if (!from || from === n) return;
                  edit(`move station ${from} to ${n}`, (j) => {
                    const s = { ...j.mounts[carrier.id] };
                    const a = s[String(from)];
                    const b = s[String(n)];
                    delete s[String(from)];
                    delete s[String(n)];
                    if (a) s[String(n)] = a;
                    if (b) s[String(from)] = b;
                    j.mounts[carrier.id] = s;
                    return j;
                  });
                }}
              >
                <button
                  type="button"
                  draggable={Boolean(tool)}
                  onDragStart={(e) => e.dataTransfer.setData(`text/lively-station-${carrier.id}`, String(n))}
                  className={cx(
                    'flex h-8 min-w-0 flex-1 items-center gap-2 rounded px-1.5 text-left hover:bg-linen',
                    tool && chosen === tool.id && 'bg-woad-pale',
                    picking === n && 'bg-woad-pale',
                  )}
                  onClick={() => (tool ? set({ tool: tool.id }) : setPicking(picking === n ? null : n))}
                >
                  <span
                    className={cx(
                      'num inline-flex h-6 w-6 shrink-0 items-center justify-center rounded-full border border-soft bg-white',
                      tool && !used.has(tool.id) && 'border-dashed',
                    )}
                    title={tool && !used.has(tool.id) ? 'not used yet' : undefined}
                  >
                    {n}
                  </span>
                  {tool ? (
                    <span className="min-w-0 flex-1 leading-tight">
                      <span className="block truncate">{tool.name}</span>
                      <span className="num block truncate text-[11px] text-soft">{toolKind(tool).describe(tool)}</span>
                    </span>
                  ) : (
                    <span className="text-soft">empty: take a tool</span>
                  )}
                </button>
                {tool && !used.has(tool.id) && (
                  <IconButton label={`Empty station ${n}`} className="!w-6" onClick={() => clear(n)}>
                    <X size={13} />
                  </IconButton>
                )}
              </li>
            );
          })}
        </ul>
      </Section>
      {picking !== null && <Shelf station={picking} onPick={(tool) => put(tool, picking)} />}
    </>
  );
};

/** Tools of the shop that stand nowhere on the machine yet. */
const Shelf = ({ station, onPick }: { station: number; onPick: (tool: Tool) => void }) => {
  const mounts = useDocument((s) => s.job.mounts);
  const library = useLibrary();
  const [filter, setFilter] = useState('');
  const standing = new Set(mountList(mounts).map((m) => m.mount.tool));
  const shelf = (library?.tools ?? []).filter(
    (t) => !standing.has(t.id) && `${t.name} ${toolKind(t).describe(t)}`.toLowerCase().includes(filter.toLowerCase()),
  );
  return (
    <Section title={`From the library into station ${station}`}>
      <input
        aria-label="Search the library"
        placeholder="search"
        className="field mb-1 w-full !font-text"
        value={filter}
        onChange={(e) => setFilter(e.target.value)}
      />
      <ul data-testid="library-list">
        {shelf.map((t) => (
          <li key={t.id}>
            <button
              type="button"
              className="flex h-8 w-full items-center gap-2 rounded px-1.5 text-left hover:bg-linen"
              onClick={() => onPick(t)}
            >
              <Plus size={13} className="shrink-0" />
              <span className="min-w-0 leading-tight">
                <span className="block truncate">{t.name}</span>
                <span className="num block truncate text-[11px] text-soft">{toolKind(t).describe(t)}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </Section>
  );
};
